"""For rulers over the signals: edges to snap to, and what lies between two moments."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from pydantic import BaseModel, ConfigDict
from sqlalchemy.orm import Session

from phasko.core.crank.clock import ClockPiece
from phasko.core.documents import CaptureDescription, parse_document
from phasko.core.documents.capture import ChannelDescription
from phasko.jobs.measured import measured_capture
from phasko.store import Database, captures
from phasko.store.models import Capture

__all__ = ["Between", "ChannelEdges", "EdgesInSpan", "between", "edges_in_span"]

_MOST = 400
"""More edges than a ruler could tell apart on a screen."""


class ChannelEdges(BaseModel):
    """Edges of one signal within the span: how many, and when (s), or none when they stand too dense to snap to."""

    model_config = ConfigDict(frozen=True)
    column: str
    count: int
    times_s: list[float]
    rising: list[bool]


class EdgesInSpan(BaseModel):
    model_config = ConfigDict(frozen=True)
    from_s: float
    to_s: float
    channels: list[ChannelEdges]


class ChannelBetween(BaseModel):
    """One channel at both rulers, and how many edges (rising ones, of switching signals) lie between."""

    model_config = ConfigDict(frozen=True)
    column: str
    role: str
    cam: str | None
    unit: str
    at_a: float | None
    at_b: float | None
    rising: int | None


class Between(BaseModel):
    """What lies from ruler A to ruler B. ``crank_deg`` is ``None`` where the crank's angle is not known at both."""

    model_config = ConfigDict(frozen=True)
    a_s: float
    b_s: float
    crank_deg: float | None
    wheel_teeth: float | None
    rpm: float | None
    channels: list[ChannelBetween]


def edges_in_span(database: Database, capture_id: int, from_s: float, to_s: float) -> EdgesInSpan:
    """Edges of every crank, cam and further wheel's channel between two times. Raises NotFoundError."""
    channels = []
    for column, train in measured_capture(database, capture_id)[0].edges.items():
        low, high = np.searchsorted(train.times_s, [from_s, to_s])
        shown = slice(low, high if high - low <= _MOST else low)
        channels.append(
            ChannelEdges(
                column=column,
                count=int(high - low),
                times_s=train.times_s[shown].round(7).tolist(),
                rising=train.rising[shown].tolist(),
            )
        )
    return EdgesInSpan(from_s=from_s, to_s=to_s, channels=channels)


def between(database: Database, capture_id: int, a_s: float, b_s: float) -> Between:
    """Time, crank angle, wheel teeth, edges and values between two rulers. Raises NotFoundError."""
    measured, _ = measured_capture(database, capture_id)
    wheel = measured.engine.crank.wheel
    pitch_deg = wheel.pitch_deg if wheel is not None else None
    crank_deg = _angle_between(measured.clock.pieces if measured.clock is not None else (), a_s, b_s)
    teeth = crank_deg / pitch_deg if crank_deg is not None and pitch_deg else None
    rpm = crank_deg / 6.0 / (b_s - a_s) if crank_deg is not None and b_s != a_s else None
    channels = []
    with database.reading() as session:
        capture = captures.get_capture(session, capture_id)
        described = parse_document(capture.description, CaptureDescription, capture.name)
        for channel in described.channels:
            train = measured.edges.get(channel.column)
            rising = None
            if train is not None:
                low, high = np.searchsorted(train.of_kind("rising"), sorted([a_s, b_s]))
                rising = int(high - low)
            values = [_value(session, capture, channel, at) for at in (a_s, b_s)]
            unit = channel.scaled_unit or channel.unit
            channels.append(
                ChannelBetween(
                    column=channel.column,
                    role=channel.role,
                    cam=channel.cam or channel.wheel,
                    unit=unit,
                    at_a=values[0],
                    at_b=values[1],
                    rising=rising,
                )
            )
    return Between(a_s=a_s, b_s=b_s, crank_deg=crank_deg, wheel_teeth=teeth, rpm=rpm, channels=channels)


def _value(session: Session, capture: Capture, channel: ChannelDescription, at_s: float) -> float | None:
    """The sample nearest to a moment."""
    near = captures.load_envelope(session, capture, channel, at_s, at_s, 16)
    row = round((at_s - near.start_s) / near.step_s) if len(near.levels) else 0
    value = float(near.levels[min(max(row, 0), len(near.levels) - 1), 0]) if len(near.levels) else math.nan
    return value if math.isfinite(value) else None


def _angle_between(pieces: Sequence[ClockPiece], a_s: float, b_s: float) -> float | None:
    for piece in pieces:
        if piece.times_s[0] <= min(a_s, b_s) and max(a_s, b_s) <= piece.times_s[-1]:
            a, b = piece.angle_deg(np.array([a_s, b_s])).tolist()
            return float(b - a)
    return None
