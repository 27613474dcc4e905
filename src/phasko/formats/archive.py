"""Jobs as one zip of open files, ``phasko.workshop/1``: profiles, job documents, captures as they came, drives, photos,
results. What is written is what the next reader needs: every file can be opened alone."""

from __future__ import annotations

import json
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from phasko.core.errors import DataError
from phasko.formats.bundle import plain_name, zip_names
from phasko.formats.table import FileBytes, as_file

__all__ = [
    "ArchiveReader",
    "ArchiveWriter",
    "ArchivedCapture",
    "ArchivedFile",
    "ArchivedJob",
    "ArchivedLook",
    "ArchivedPhoto",
    "Manifest",
    "is_archive",
    "opened_archive",
]

_MANIFEST = "workshop.json"
_MOST_DOCUMENT_BYTES = 32 << 20
_MOST_DATA_BYTES = 1 << 30
_MOST_JOBS = 20_000
_THEN = (1980, 1, 1, 0, 0, 0)
"""Every file of an archive has one time, so that the same jobs give the same bytes."""
Moment = Annotated[str, Field(max_length=40)]


class ArchivePart(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class ArchivedFile(ArchivePart):
    """A file of the archive under the ``name`` that it had."""

    path: Annotated[str, Field(max_length=400)]
    name: Annotated[str, Field(max_length=255)]


class ArchivedCapture(ArchivePart):
    """A capture: data as they came, what is said of it now, what came along, and how it stands in its job."""

    name: Annotated[str, Field(max_length=200)]
    data: ArchivedFile
    description: Annotated[str, Field(max_length=400)]
    came_with: ArchivedFile | None = None
    sha256: Annotated[str, Field(max_length=64)]
    data_sha256: Annotated[str, Field(max_length=64)]
    created_at: Moment
    confirmed_at: Moment | None = None
    known_good_at: Moment | None = None
    cut_off: Annotated[str, Field(max_length=300)] | None = None
    proposals: Annotated[str, Field(max_length=2_000_000)] = ""


class ArchivedLook(ArchivePart):
    """When a look of the job document was noted, in its order."""

    created_at: Moment


class ArchivedPhoto(ArchivePart):
    path: Annotated[str, Field(max_length=400)]
    name: Annotated[str, Field(max_length=200)]
    station: Annotated[str, Field(max_length=20)]
    caption: Annotated[str, Field(max_length=300)] = ""
    created_at: Moment


class ArchivedDrive(ArchivePart):
    file: ArchivedFile
    created_at: Moment


class ArchivedJob(ArchivePart):
    """One job: ``document`` is its ``phasko.job/1``, ``engine`` its profile."""

    vehicle: Annotated[str, Field(max_length=200)]
    make_model: Annotated[str, Field(max_length=200)] = ""
    complaint: Annotated[str, Field(max_length=4000)] = ""
    codes: Annotated[str, Field(max_length=4000)] = ""
    engine: Annotated[str, Field(max_length=400)]
    document: Annotated[str, Field(max_length=400)]
    result: Annotated[str, Field(max_length=400)] | None = None
    created_at: Moment
    sample: bool = False
    simulated_car: Annotated[str, Field(max_length=100_000)] = ""
    looks: Annotated[list[ArchivedLook], Field(max_length=5000)] = []
    captures: Annotated[list[ArchivedCapture], Field(max_length=2000)] = []
    drives: Annotated[list[ArchivedDrive], Field(max_length=500)] = []
    photos: Annotated[list[ArchivedPhoto], Field(max_length=2000)] = []


class ArchivedEngine(ArchivePart):
    """A version of a profile; versions of one name stand in their order."""

    name: Annotated[str, Field(max_length=200)]
    path: Annotated[str, Field(max_length=400)]
    created_at: Moment


class Manifest(BaseModel):
    """What stands where."""

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)
    schema_: Literal["phasko.workshop/1"] = Field(default="phasko.workshop/1", alias="schema")
    workshop: Annotated[dict[str, str], Field(max_length=20)] = {}
    engines: Annotated[list[ArchivedEngine], Field(max_length=5000)] = []
    jobs: Annotated[list[ArchivedJob], Field(max_length=_MOST_JOBS)] = []


class ArchiveWriter:
    """Writes files into the zip one by one, so that no more than one lies in memory."""

    def __init__(self, archive: zipfile.ZipFile) -> None:
        self._archive = archive

    def put(self, path: str, content: bytes) -> str:
        """Returns the path."""
        packed = zipfile.ZIP_STORED if path.endswith((".jpg", ".parquet")) else zipfile.ZIP_DEFLATED
        self._archive.writestr(zipfile.ZipInfo(path, _THEN), content, packed, compresslevel=4)
        return path

    def put_named(self, folder: str, name: str, content: bytes) -> ArchivedFile:
        """A file under its own name, in a folder of the archive."""
        return ArchivedFile(path=self.put(f"{folder}/{plain_name(name)}", content), name=name)

    def finish(self, manifest: Manifest) -> None:
        """The manifest comes last: an archive without one was cut off."""
        document = manifest.model_dump(mode="json", by_alias=True, exclude_defaults=True)
        document = {"schema": "phasko.workshop/1", **document}
        self.put(_MANIFEST, json.dumps(document, indent=1, ensure_ascii=False).encode())

    @classmethod
    @contextmanager
    def at(cls, target: Path) -> Iterator[ArchiveWriter]:
        """A new archive; a broken one is removed."""
        try:
            with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED, allowZip64=True) as archive:
                yield cls(archive)
        except BaseException:
            target.unlink(missing_ok=True)
            raise


class ArchiveReader:
    """Reads an archive; every size is looked at before anything is unpacked."""

    def __init__(self, archive: zipfile.ZipFile, place: str) -> None:
        self._archive = archive
        self._place = place
        self.manifest = self._manifest()

    def document(self, path: str) -> bytes:
        """A document, profile or description. Raises DataError."""
        return self._read(path, _MOST_DOCUMENT_BYTES)

    def data(self, path: str) -> bytes:
        """A data file, drive or photo. Raises DataError."""
        return self._read(path, _MOST_DATA_BYTES)

    def _manifest(self) -> Manifest:
        try:
            return Manifest.model_validate_json(self._read(_MANIFEST, _MOST_DOCUMENT_BYTES))
        except ValidationError as error:
            first = error.errors()[0]
            where = ".".join(str(part) for part in first["loc"])
            raise DataError(
                f"has a manifest that cannot be read: {where}: {first['msg']}",
                place=self._place,
                kept="Nothing was taken in",
                remedy="Have it written again.",
            ) from error

    def _read(self, path: str, most_bytes: int) -> bytes:
        try:
            size = self._archive.getinfo(path).file_size
            if size > most_bytes:
                raise DataError(f"would unpack to {size / 2**20:.0f} MiB ({path[:60]})", place=self._place)
            with self._archive.open(path) as file:
                return file.read(size)
        except KeyError as error:
            raise DataError(
                f"lacks a file: {path[:120]}", place=self._place, remedy="It may have been cut off: have it sent again."
            ) from error
        except (zipfile.BadZipFile, EOFError, RuntimeError, OSError) as error:
            text = f"cannot be read at {path[:60]}: {str(error).splitlines()[0][:100]}"
            raise DataError(text, place=self._place, remedy="Have it sent again.") from error


def is_archive(data: FileBytes) -> bool:
    """Whether it is a zip of jobs."""
    return _MANIFEST in zip_names(data)


@contextmanager
def opened_archive(data: FileBytes, place: str) -> Iterator[ArchiveReader]:
    """Raises DataError for what is no whole archive."""
    try:
        with zipfile.ZipFile(as_file(data)) as archive:
            yield ArchiveReader(archive, place)
    except zipfile.BadZipFile as error:
        raise DataError(
            "is no archive of jobs, or was cut off",
            place=place,
            kept="Nothing was taken in",
            remedy="Have it sent again.",
        ) from error
