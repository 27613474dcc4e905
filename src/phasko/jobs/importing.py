"""Taking captures into a job, and out of it again."""

from __future__ import annotations

import json

from pydantic import BaseModel, ConfigDict

from phasko.core.documents import CaptureDescription, parse_document
from phasko.core.documents.capture import ChannelDescription
from phasko.core.errors import DataError, NotFoundError, PhaskoError
from phasko.formats import CaptureFiles, read_capture
from phasko.store import Database, captures, jobs
from phasko.store.models import Capture

__all__ = [
    "ImportedCapture",
    "SwitchingChannel",
    "import_capture",
    "list_captures",
    "original_file",
    "remove_capture",
    "restore_capture",
    "set_filter",
]


class SwitchingChannel(BaseModel):
    """A crank, cam or further wheel's channel, with its low-pass (Hz, ``None``: off)."""

    model_config = ConfigDict(frozen=True)
    column: str
    name: str
    filter_hz: float | None


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
    switching: list[SwitchingChannel]
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


def set_filter(database: Database, capture_id: int, column: str, filter_hz: float | None) -> ImportedCapture:
    """Switches a channel's low-pass on or off (``None``); the capture is then measured anew. Raises NotFoundError, and
    DocumentError for a corner that is not above zero."""
    with database.transaction() as session:
        capture = captures.get_capture(session, capture_id)
        described = parse_document(capture.description, CaptureDescription, capture.name)
        if column not in {channel.column for channel in described.channels}:
            raise NotFoundError(f"The capture has no column {column}")
        document = described.model_dump(mode="json", by_alias=True, exclude_none=True)
        for channel in document["channels"]:
            if channel["column"] == column:
                channel["filter_hz"] = filter_hz
        changed = parse_document(json.dumps(document), CaptureDescription, capture.name)
        return _summary(captures.set_description(session, capture_id, changed))


def _name(channel: ChannelDescription) -> str:
    return channel.cam or channel.wheel or channel.role.replace("_", " ")


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
        channels=[_name(channel) for channel in described.channels],
        switching=[
            SwitchingChannel(column=channel.column, name=_name(channel), filter_hz=channel.filter_hz)
            for channel in described.channels
            if channel.role in ("crank", "cam", "aux")
        ],
        duration_s=capture.sample_count * capture.interval_s,
        sample_rate_hz=1.0 / capture.interval_s,
        sample_count=capture.sample_count,
        created_at=capture.created_at,
    )
