"""Files that wait in the inbox folder beside the workshop's file: too large to send through a browser, or put there by
the scope itself."""

from __future__ import annotations

from datetime import UTC, datetime
from pathlib import Path

from pydantic import BaseModel, ConfigDict

from phasko.core.documents import CaptureDescription, parse_document
from phasko.core.errors import DataError, NotFoundError
from phasko.formats import FORMATS, read_capture_files
from phasko.jobs.captures import ImportedCapture, import_capture, import_from_disk
from phasko.jobs.progress import Progress
from phasko.store import Database

__all__ = ["WaitingFile", "import_waiting", "inbox_folder", "waiting_files"]


class WaitingFile(BaseModel):
    """A data file in the inbox; ``described``: its description lies beside it."""

    model_config = ConfigDict(frozen=True)
    name: str
    size_bytes: int
    changed_at: str
    described: bool


def inbox_folder(database: Database) -> Path:
    """Where it is; made when it is asked for."""
    folder = database.path.parent / "inbox"
    folder.mkdir(exist_ok=True)
    return folder


def waiting_files(database: Database) -> list[WaitingFile]:
    """What lies there in a format that can be read, the newest first."""
    suffixes = {suffix for known in FORMATS for suffix in known.suffixes}
    found = [p for p in inbox_folder(database).iterdir() if _lies_here(p) and p.suffix.lower() in suffixes]
    found.sort(key=lambda path: (-path.stat().st_mtime, path.name))
    return [
        WaitingFile(
            name=path.name,
            size_bytes=path.stat().st_size,
            changed_at=datetime.fromtimestamp(path.stat().st_mtime, UTC).isoformat(timespec="seconds"),
            described=_lies_here(_description_of(path)),
        )
        for path in found
    ]


def import_waiting(
    database: Database, job_id: int, name: str, interval_s: float | None = None, progress: Progress | None = None
) -> ImportedCapture:
    """Takes a file of the inbox into a job; the file stays where it is. Raises NotFoundError, and whatever an import
    raises."""
    path = inbox_folder(database) / name
    if Path(name).name != name or not _lies_here(path):
        raise NotFoundError(f"The inbox has no file {name}", remedy="It may have been moved since the list was made.")
    beside = _description_of(path)
    if _lies_here(beside):
        _check_named(beside)
        return import_capture(database, job_id, read_capture_files(beside), progress)
    return import_from_disk(database, job_id, path, interval_s, progress)


def _check_named(beside: Path) -> None:
    """Raises DataError where the description names a data file that is none of the inbox."""
    named = parse_document(beside.read_bytes(), CaptureDescription, beside.name).data
    if Path(named).name != named or not _lies_here(beside.with_name(named)):
        raise DataError(f"names {named[:60]!r}, which is no file of the inbox", place=beside.name)


def _lies_here(path: Path) -> bool:
    """Whether it is a file of the inbox itself: a link would show what lies elsewhere on the disk."""
    try:
        return path.is_file() and not path.is_symlink()
    except (OSError, ValueError):
        return False


def _description_of(path: Path) -> Path:
    return path.with_name(f"{path.stem}.capture.json")
