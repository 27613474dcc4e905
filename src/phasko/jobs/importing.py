"""Taking captures into a job, and out of it again."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from phasko.core.documents import CaptureDescription, parse_document
from phasko.core.errors import DataError, PhaskoError
from phasko.formats import CaptureFiles, read_capture
from phasko.store import Database, captures, jobs
from phasko.store.models import Capture

__all__ = ["ImportedCapture", "import_capture", "list_captures", "original_file", "remove_capture", "restore_capture"]


class ImportedCapture(BaseModel):
    """One capture of a job as a list shows it."""

    model_config = ConfigDict(frozen=True)
    id: int
    name: str
    condition: str | None
    temperature: str
    phasers: str
    throttle: str
    symptom: str
    channels: list[str]
    duration_s: float
    sample_rate_hz: float
    sample_count: int
    created_at: str


def import_capture(database: Database, job_id: int, files: CaptureFiles) -> ImportedCapture:
    """Reads both files and stores the capture in one transaction: all of it, or, after any error, nothing.

    Raises DocumentError, DataError, NotFoundError, ConflictError; each says that the job is as it was.
    """
    try:
        with database.transaction() as session:
            jobs.get_job(session, job_id)
        described = parse_document(files.description, CaptureDescription, files.description_name)
        if described.data != files.data_name:
            raise DataError(
                f"describes the data file {described.data!r}, but {files.data_name!r} came with it",
                place=files.description_name,
            )
        recording = read_capture(files)
        original = {
            "description": (files.description_name, files.description),
            "data": (files.data_name, files.data),
        }
        with database.transaction() as session:
            return _summary(captures.add_capture(session, job_id, recording, files.sha256, original))
    except PhaskoError as error:
        if not error.kept:
            error.kept = "The job is as it was"
        raise


def list_captures(database: Database, job_id: int) -> list[ImportedCapture]:
    """The captures of a job, oldest first. Raises NotFoundError."""
    with database.transaction() as session:
        jobs.get_job(session, job_id)
        return [_summary(capture) for capture in captures.captures_of(session, job_id)]


def original_file(database: Database, capture_id: int, role: str) -> tuple[str, bytes]:
    """Name and bytes of a capture's ``description`` or ``data`` file as they came. Raises NotFoundError."""
    with database.transaction() as session:
        captures.get_capture(session, capture_id)
        return captures.original_files(session, capture_id)[role]


def remove_capture(database: Database, capture_id: int) -> None:
    """Takes a capture out of its job; ``restore_capture`` brings it back whole."""
    with database.transaction() as session:
        captures.remove_capture(session, capture_id)


def restore_capture(database: Database, capture_id: int) -> ImportedCapture:
    """Undoes ``remove_capture``."""
    with database.transaction() as session:
        captures.restore_capture(session, capture_id)
        return _summary(captures.get_capture(session, capture_id))


def _summary(capture: Capture) -> ImportedCapture:
    described = parse_document(capture.description, CaptureDescription, capture.name)
    return ImportedCapture(
        id=capture.id,
        name=capture.name.removesuffix(".capture.json"),
        condition=described.condition,
        temperature=described.temperature,
        phasers=described.phasers,
        throttle=described.throttle,
        symptom=described.symptom,
        channels=[channel.cam or channel.wheel or channel.role.replace("_", " ") for channel in described.channels],
        duration_s=capture.sample_count * capture.interval_s,
        sample_rate_hz=1.0 / capture.interval_s,
        sample_count=capture.sample_count,
        created_at=capture.created_at,
    )
