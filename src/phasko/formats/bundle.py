"""One zip with everything of a capture: data, description, engine, result, and what the job said."""

from __future__ import annotations

import io
import mmap
import tempfile
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from phasko.core.errors import DataError
from phasko.formats.table import FileBytes, as_file

__all__ = ["Bundle", "BundleAbout", "is_bundle", "plain_name", "read_bundle", "write_bundle", "zip_names"]

_MANIFEST = "bundle.json"
_MOST_DATA_BYTES = 1 << 30
_MOST_DOCUMENT_BYTES = 8 << 20
_PIECE_BYTES = 1 << 20


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
    """What a bundle holds, as bytes; its data may be mapped from the disk. ``beside``: papers for a reader, by name."""

    about: BundleAbout
    data: FileBytes
    description: bytes
    engine: bytes
    result: bytes | None
    beside: Mapping[str, bytes] = field(default_factory=dict)


def is_bundle(data: FileBytes) -> bool:
    """Whether it is a zip with our manifest."""
    return _MANIFEST in zip_names(data)


def zip_names(data: FileBytes) -> list[str]:
    """The files of a zip by name; none of what is no zip."""
    if data[:4] != b"PK\x03\x04":
        return []
    try:
        with zipfile.ZipFile(as_file(data)) as archive:
            return archive.namelist()
    except zipfile.BadZipFile:
        return []


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
    files |= {name: content for name, content in bundle.beside.items() if name not in files}
    sink = io.BytesIO()
    with zipfile.ZipFile(sink, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in files.items():
            archive.writestr(zipfile.ZipInfo(name, (1980, 1, 1, 0, 0, 0)), content, zipfile.ZIP_DEFLATED)
    return sink.getvalue()


def read_bundle(data: FileBytes, place: str) -> Bundle:
    """Raises DataError for a zip that is broken, lacks a file, uses one for two purposes, names one that is no plain
    file name, or would unpack to more than memory should hold."""
    try:
        with zipfile.ZipFile(as_file(data)) as archive:
            about = BundleAbout.model_validate_json(_member(archive, _MANIFEST, _MOST_DOCUMENT_BYTES, place))
            named = [about.data, about.description, about.engine, *([about.result] if about.result else [])]
            _check_names([_MANIFEST, *named], place)
            result = None
            if about.result in archive.namelist():
                result = _member(archive, about.result, _MOST_DOCUMENT_BYTES, place)
            described = _member(archive, about.description, _MOST_DOCUMENT_BYTES, place)
            engine = _member(archive, about.engine, _MOST_DOCUMENT_BYTES, place)
            return Bundle(about, _unpacked(archive, about.data, place), described, engine, result)
    except KeyError as error:
        raise DataError(f"lacks a file: {error.args[0]}", place=place, remedy="Have it sent again.") from error
    except (zipfile.BadZipFile, ValidationError, EOFError, RuntimeError, OSError) as error:
        text = f"is no exported capture that can be read: {str(error).splitlines()[0][:120]}"
        raise DataError(text, place=place, remedy="Have it sent again.") from error


def plain_name(name: str) -> str:
    """The name of a file that leaves no folder, on any system."""
    bare = "".join("-" if mark in "/\\:" or not mark.isprintable() else mark for mark in name)[:200].strip()
    return bare if bare.strip(".") else "capture"


def _check_names(named: list[str], place: str) -> None:
    """Every purpose has its own file, with a plain name: it may be written beside others one day."""
    if len(set(named)) != len(named):
        raise DataError("uses one file for two purposes", place=place, remedy="Have it sent again.")
    for name in named:
        if name != plain_name(name):
            raise DataError(f"names {name[:60]!r}, which is no plain file name", place=place)


def _member(archive: zipfile.ZipFile, name: str, most_bytes: int, place: str) -> bytes:
    """A file of the zip; its declared size is looked at before anything is unpacked, and no more than that is."""
    size = _size(archive, name, most_bytes, place)
    with archive.open(name) as file:
        return file.read(size)


def _size(archive: zipfile.ZipFile, name: str, most_bytes: int, place: str) -> int:
    size = archive.getinfo(name).file_size
    if size > most_bytes:
        raise DataError(
            f"would unpack to {size / 2**20:.0f} MiB ({name[:60]})",
            place=place,
            kept="Nothing was opened",
            remedy="Have it sent again, or in pieces.",
        )
    return size


def _unpacked(archive: zipfile.ZipFile, name: str, place: str) -> FileBytes:
    """A large file of the zip, unpacked to the disk and mapped from there; it has no name and goes with its last
    use."""
    size = _size(archive, name, _MOST_DATA_BYTES, place)
    with archive.open(name) as packed, tempfile.TemporaryFile() as file:
        left = size
        while left > 0 and (piece := packed.read(min(left, _PIECE_BYTES))):
            file.write(piece)
            left -= len(piece)
        file.flush()
        return mmap.mmap(file.fileno(), 0, access=mmap.ACCESS_READ) if left < size else b""
