"""A library of known good captures as one file: given away without anything about the owner, and taken in."""

from __future__ import annotations

import io
import zipfile

from phasko.core.documents import CaptureDescription, parse_document
from phasko.core.errors import DataError, NotFoundError
from phasko.formats import FileBytes
from phasko.formats.bundle import is_bundle, read_bundle, zip_names
from phasko.formats.table import as_file
from phasko.jobs.captures import list_captures
from phasko.jobs.exporting import export_bundle, import_bundle
from phasko.jobs.library.known_good import keep_as_known_good
from phasko.jobs.opening import JobSummary
from phasko.store import Database, captures, jobs

__all__ = ["export_library", "import_library", "is_library"]

_SUFFIX = ".bundle.zip"
_MOST_BUNDLES = 500
_MOST_BUNDLE_BYTES = 1 << 30


def export_library(database: Database, engine_id: int) -> tuple[str, bytes]:
    """(file name, zip) with every known good capture of that kind of engine as a bundle without vehicle, complaint,
    codes and file names; how it is known to be good goes along. Raises NotFoundError."""
    with database.reading() as session:
        version = jobs.engine_version(session, engine_id)
        ids = [capture.id for capture in captures.known_good_captures(session, version.name, None)]
        name = "-".join("".join(c if c.isalnum() or c == "." else " " for c in version.name.lower()).split())
    if not ids:
        raise NotFoundError(
            "There is no known good capture of this engine",
            remedy="Keep one as known good first, at its Phase station.",
        )
    sink = io.BytesIO()
    with zipfile.ZipFile(sink, "w", zipfile.ZIP_STORED) as archive:
        for number, capture_id in enumerate(ids, start=1):
            _, content = export_bundle(database, capture_id, with_vehicle=False)
            archive.writestr(zipfile.ZipInfo(f"{number:03d}{_SUFFIX}", (1980, 1, 1, 0, 0, 0)), content)
    return f"{name or 'engine'}.known-good.zip", sink.getvalue()


def is_library(data: FileBytes) -> bool:
    """Whether it is a zip of bundles."""
    names = zip_names(data)
    return bool(names) and all(name.endswith(_SUFFIX) for name in names)


def import_library(database: Database, name: str, data: FileBytes) -> list[JobSummary]:
    """Every capture of a library in a job of its own, kept as known good with what came along. All that can be read is
    kept; what cannot stops it there and is named. Raises DataError, DocumentError."""
    if not is_library(data):
        raise DataError(
            "is no library of known good captures",
            place=name,
            kept="Nothing was taken in",
            remedy="Choose a file that ends in .known-good.zip.",
        )
    opened: list[JobSummary] = []
    with zipfile.ZipFile(as_file(data)) as archive:
        members = archive.infolist()
        if len(members) > _MOST_BUNDLES or any(member.file_size > _MOST_BUNDLE_BYTES for member in members):
            raise DataError("holds more than a library may", place=name, kept="Nothing was taken in")
        for member in members:
            bundle = archive.read(member)
            place = f"{name}, {member.filename}"
            if not is_bundle(bundle):
                raise DataError(
                    "is no exported capture", place=place, kept=f"{len(opened)} captures before it were taken in"
                )
            inside = read_bundle(bundle, place)
            about = parse_document(inside.description, CaptureDescription, place).known_good
            job = import_bundle(database, place, bundle)
            opened.append(job)
            for capture in list_captures(database, job.id):
                if about is not None and capture.confirmed:
                    keep_as_known_good(database, capture.id, about)
    return opened
