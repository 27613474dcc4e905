"""The captures of a job as lists show them, and taking one out and back."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from phasko.core.documents import CaptureDescription, parse_document
from phasko.core.documents.capture import ChannelDescription, HowGood
from phasko.core.errors import DocumentError
from phasko.store import Database, captures, jobs
from phasko.store.models import Capture

__all__ = [
    "ImportedCapture",
    "SwitchingChannel",
    "list_captures",
    "remove_capture",
    "restore_capture",
    "summary_of_capture",
]


class SwitchingChannel(BaseModel):
    """A crank, cam or further wheel's channel, with its low-pass (Hz, ``None``: off)."""

    model_config = ConfigDict(frozen=True)
    column: str
    name: str
    filter_hz: float | None


class ImportedCapture(BaseModel):
    """One capture of a job as a list shows it. ``confirmed``: somebody has said what the channels are. ``felt``: the
    cylinders whose pressure was recorded. ``unreadable``: why its description cannot be read, as an older version may
    have left it; it is then measured nowhere. ``cut_off``: where its file ended before it should."""

    model_config = ConfigDict(frozen=True)
    id: int
    name: str
    title: str = ""
    confirmed: bool
    condition: str | None
    temperature: str
    phasers: str
    throttle: str
    symptom: str
    repair: str
    channels: list[str]
    felt: list[int]
    switching: list[SwitchingChannel]
    start_s: float
    duration_s: float
    sample_rate_hz: float
    sample_count: int
    created_at: str
    version: int
    known_good: bool
    known_good_how: HowGood | None = None
    taken_out: int | None
    seal_from_s: float | None
    seal_to_s: float | None
    unreadable: str | None = None
    cut_off: str | None = None


def list_captures(database: Database, job_id: int) -> list[ImportedCapture]:
    """The captures of a job, oldest first. Raises NotFoundError."""
    with database.reading() as session:
        jobs.get_job(session, job_id)
        return [summary_of_capture(capture) for capture in captures.captures_of(session, job_id)]


def remove_capture(database: Database, capture_id: int) -> None:
    """Takes a capture out of its job; ``restore_capture`` brings it back whole."""
    with database.transaction() as session:
        captures.remove_capture(session, capture_id)


def restore_capture(database: Database, capture_id: int) -> ImportedCapture:
    """Undoes ``remove_capture``."""
    with database.transaction() as session:
        captures.restore_capture(session, capture_id)
        return summary_of_capture(captures.get_capture(session, capture_id))


def _name(channel: ChannelDescription) -> str:
    return channel.cam or channel.wheel or channel.role.replace("_", " ")


def summary_of_capture(capture: Capture) -> ImportedCapture:
    """How a list shows it; one whose description cannot be read with its reason, so that it takes no other down."""
    try:
        described, unreadable = parse_document(capture.description, CaptureDescription, capture.name), None
    except DocumentError as error:
        described, unreadable = _UNREAD.model_copy(update={"channels": []}), error.one_line()
    return ImportedCapture(
        id=capture.id,
        name=capture.name.removesuffix(".capture.json"),
        title=described.title,
        confirmed=capture.confirmed_at is not None and unreadable is None,
        condition=described.condition,
        temperature=described.temperature,
        phasers=described.phasers,
        throttle=described.throttle,
        symptom=described.symptom,
        repair=described.repair or "before",
        channels=[_name(channel) for channel in described.channels],
        felt=[c.cylinder for c in described.channels if c.role == "cylinder_pressure" and c.cylinder is not None],
        switching=[
            SwitchingChannel(column=channel.column, name=_name(channel), filter_hz=channel.filter_hz)
            for channel in described.channels
            if channel.role in ("crank", "cam", "aux")
        ],
        start_s=capture.start_s,
        duration_s=capture.sample_count * capture.interval_s,
        sample_rate_hz=1.0 / capture.interval_s,
        sample_count=capture.sample_count,
        created_at=capture.created_at,
        version=capture.version,
        known_good=capture.known_good_at is not None,
        known_good_how=described.known_good.how if described.known_good is not None else None,
        taken_out=described.taken_out,
        seal_from_s=described.seal_from_s,
        seal_to_s=described.seal_to_s,
        unreadable=unreadable,
        cut_off=capture.cut_off,
    )


_UNREAD = CaptureDescription(
    schema_="phasko.capture/1", data="unread", channels=[ChannelDescription(column="unread", role="other")]
)
