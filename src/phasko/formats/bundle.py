"""One zip with everything of a capture: data, description, engine, result, and what the job said."""

from __future__ import annotations

import io
import zipfile
from dataclasses import dataclass
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from phasko.core.errors import DataError
from phasko.formats.table import FileBytes

__all__ = ["Bundle", "BundleAbout", "is_bundle", "read_bundle", "write_bundle"]

_MANIFEST = "bundle.json"
_MOST_BYTES = 4 << 30


class BundleAbout(BaseModel):
    """The manifest: which file is which, and what the job said (empty where it was left out)."""

    model_config = ConfigDict(frozen=True, populate_by_name=True)
    schema_: Literal["phasko.bundle/1"] = Field(default="phasko.bundle/1", alias="schema")
    data: str
    description: str
    engine: str = "engine.json"
    result: str | None = "result.json"
    vehicle: str = ""
    make_model: str = ""
    complaint: str = ""
    codes: list[str] = []


@dataclass(frozen=True, slots=True, eq=False)
class Bundle:
    """What a bundle holds, as bytes."""

    about: BundleAbout
    data: bytes
    description: bytes
    engine: bytes
    result: bytes | None


def is_bundle(data: FileBytes) -> bool:
    """Whether it is a zip with our manifest."""
    if data[:4] != b"PK\x03\x04":
        return False
    try:
        with zipfile.ZipFile(io.BytesIO(data[:])) as archive:
            return _MANIFEST in archive.namelist()
    except zipfile.BadZipFile:
        return False


def write_bundle(bundle: Bundle) -> bytes:
    """The zip; the same content gives the same bytes."""
    about = bundle.about
    files = {
        _MANIFEST: about.model_dump_json(by_alias=True, indent=1).encode(),
        about.description: bundle.description,
        about.data: bundle.data,
        about.engine: bundle.engine,
    }
    if bundle.result is not None and about.result is not None:
        files[about.result] = bundle.result
    sink = io.BytesIO()
    with zipfile.ZipFile(sink, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in files.items():
            archive.writestr(zipfile.ZipInfo(name, (1980, 1, 1, 0, 0, 0)), content, zipfile.ZIP_DEFLATED)
    return sink.getvalue()


def read_bundle(data: FileBytes, place: str) -> Bundle:
    """Raises DataError for a zip that is broken, lacks a file, or would unpack to more than memory should hold."""
    try:
        with zipfile.ZipFile(io.BytesIO(data[:])) as archive:
            size = sum(info.file_size for info in archive.infolist())
            if size > _MOST_BYTES:
                raise DataError(f"would unpack to {size} bytes", place=place)
            about = BundleAbout.model_validate_json(archive.read(_MANIFEST))
            result = archive.read(about.result) if about.result in archive.namelist() else None
            return Bundle(
                about, archive.read(about.data), archive.read(about.description), archive.read(about.engine), result
            )
    except KeyError as error:
        raise DataError(f"lacks a file: {error.args[0]}", place=place, remedy="Have it sent again.") from error
    except (zipfile.BadZipFile, ValidationError, EOFError, RuntimeError, OSError) as error:
        text = f"is no bundle that can be read: {str(error).splitlines()[0][:120]}"
        raise DataError(text, place=place, remedy="Have it sent again.") from error
