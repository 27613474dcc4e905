"""The raw signals of a capture, thinned to what a screen can show."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from phasko.core.documents import CaptureDescription, parse_document
from phasko.store import Database, captures

__all__ = ["RawChannel", "RawTrace", "raw_trace"]


class RawChannel(BaseModel):
    """One channel as a band between minimum and maximum."""

    model_config = ConfigDict(frozen=True)
    column: str
    role: str
    cam: str | None
    unit: str
    times_s: list[float]
    low: list[float]
    high: list[float]


class RawTrace(BaseModel):
    model_config = ConfigDict(frozen=True)
    from_s: float
    to_s: float
    channels: list[RawChannel]


def raw_trace(database: Database, capture_id: int, from_s: float | None, to_s: float | None, points: int) -> RawTrace:
    """All channels between two times (the whole capture when not given), at most about ``points`` each."""
    with database.transaction() as session:
        capture = captures.get_capture(session, capture_id)
        described = parse_document(capture.description, CaptureDescription, capture.name)
        end_s = capture.start_s + capture.sample_count * capture.interval_s
        low_s = capture.start_s if from_s is None else max(from_s, capture.start_s)
        high_s = end_s if to_s is None else min(to_s, end_s)
        found = []
        for channel in described.channels:
            rows = captures.load_envelope(session, capture, channel.column, low_s, high_s, points)
            found.append(
                RawChannel(
                    column=channel.column,
                    role=channel.role,
                    cam=channel.cam,
                    unit=channel.scaled_unit or channel.unit,
                    times_s=rows[:, 0].round(6).tolist(),
                    low=rows[:, 1].round(4).tolist(),
                    high=rows[:, 2].round(4).tolist(),
                )
            )
    return RawTrace(from_s=low_s, to_s=high_s, channels=found)
