"""The raw signals of a capture, thinned to what a screen can show."""

from __future__ import annotations

import json
import struct

import numpy as np
from pydantic import BaseModel, ConfigDict

from phasko.core.documents import CaptureDescription, parse_document
from phasko.core.signals.recording import Samples
from phasko.store import Database, captures

__all__ = ["RawChannel", "RawTrace", "packed", "raw_trace"]

_ALIGNED = 4


class RawChannel(BaseModel):
    """One channel as a band between minimum and maximum: step k begins at ``start_s + k * step_s``."""

    model_config = ConfigDict(frozen=True)
    column: str
    role: str
    cam: str | None
    unit: str
    start_s: float
    step_s: float
    steps: int


class RawTrace(BaseModel):
    """Head of a trace, without its numbers."""

    model_config = ConfigDict(frozen=True)
    from_s: float
    to_s: float
    channels: list[RawChannel]


def raw_trace(
    database: Database, capture_id: int, from_s: float | None, to_s: float | None, points: int
) -> tuple[RawTrace, list[Samples]]:
    """All channels between two times (the whole capture when not given), at most about ``points`` steps each; the
    (steps, 2) minima and maxima beside, in the same order. Raises NotFoundError."""
    levels: list[Samples] = []
    found = []
    with database.reading() as session:
        capture = captures.get_capture(session, capture_id)
        described = parse_document(capture.description, CaptureDescription, capture.name)
        end_s = capture.start_s + capture.sample_count * capture.interval_s
        low_s = capture.start_s if from_s is None else max(from_s, capture.start_s)
        high_s = end_s if to_s is None else min(to_s, end_s)
        for channel in described.channels:
            envelope = captures.load_envelope(session, capture, channel, low_s, high_s, points)
            levels.append(envelope.levels)
            found.append(
                RawChannel(
                    column=channel.column,
                    role=channel.role,
                    cam=channel.cam or channel.wheel,
                    unit=channel.scaled_unit or channel.unit,
                    start_s=envelope.start_s,
                    step_s=envelope.step_s,
                    steps=len(envelope.levels),
                )
            )
    return RawTrace(from_s=low_s, to_s=high_s, channels=found), levels


def packed(trace: RawTrace, levels: list[Samples]) -> bytes:
    """One answer: length of the head (uint32, little endian), the head as JSON filled up with blanks to a multiple of
    four, then for each channel its minima and its maxima as float32."""
    head = json.dumps(trace.model_dump(), allow_nan=False).encode()
    head += b" " * (-len(head) % _ALIGNED)
    parts = [np.ascontiguousarray(table.T, dtype="<f4").tobytes() for table in levels]
    return struct.pack("<I", len(head)) + head + b"".join(parts)
