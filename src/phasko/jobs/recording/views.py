"""What the recording screen shows of each lane and of the measurement so far."""

from __future__ import annotations

import dataclasses
import math
from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict

from phasko.core import numbers
from phasko.core.live import LiveCam, LiveReading, LiveSpark
from phasko.jobs.recording.leads import Armed
from phasko.jobs.recording.ring import Ring, Stretch

__all__ = ["LaneView", "LiveView", "lane_views", "live_view"]


class LaneView(BaseModel):
    """One lane with its state in words: ``good``, or an open question with what to do. ``should_v``: where a low level
    should lie at most."""

    model_config = ConfigDict(frozen=True)
    column: str
    name: str
    role: str
    cam: str | None
    cylinder: int | None
    shaft: str | None
    unit: str
    low: float | None
    high: float | None
    good: bool
    words: str
    beside: str
    should_v: float | None


class LiveView(BaseModel):
    """The newest reading; ``took_ms``: how long it took to make."""

    model_config = ConfigDict(frozen=True)
    at_s: float
    cams: list[LiveCam]
    sparks: list[LiveSpark]
    rpm: float | None
    rpm_low: float | None
    rpm_high: float | None
    teeth: int | None
    expected_teeth: int | None
    cycles: int
    why: str | None
    stop: str | None
    took_ms: float | None


def live_view(reading: LiveReading, took_ms: float | None) -> LiveView:
    """The reading as the screen shows it."""
    fields = {field.name: getattr(reading, field.name) for field in dataclasses.fields(reading)}
    return LiveView.model_validate({**fields, "took_ms": took_ms})


def lane_views(armed: Armed, ring: Ring, reading: LiveReading | None) -> list[LaneView]:
    """Every lane, in the order of the channels."""
    last = ring.last(_LOOKED_AT_S)
    return [_lane(armed, i, last, bool(ring.clipped[i]), reading) for i in range(len(armed.channels))]


_LOOKED_AT_S = 1.5
_STANDS_RPM = 20.0


def _lane(armed: Armed, row: int, last: Stretch, clipped: bool, reading: LiveReading | None) -> LaneView:
    channel = armed.channels[row]
    lead = armed.leads[row] if row < len(armed.leads) else None
    volts = last.volts[row]
    known = volts[np.isfinite(volts)]
    low = high = None
    if known.size > 10:
        ends = np.percentile(known, [1.0, 99.0]) * channel.scale + channel.offset
        low, high = float(ends.min()), float(ends.max())
    unit = channel.scaled_unit or channel.unit
    switching = lead is not None and lead.switches
    turns = reading is not None and reading.rpm is not None and reading.rpm > _STANDS_RPM
    good, words = _state(low, high, unit, clipped, channel.role, switching)
    if switching and not turns and low is not None and high is not None and high - low < 1.0:
        # Nothing passes a sensor while nothing turns.
        good, words = True, f"{_figure((low + high) / 2)} {unit}, nothing passes it now"
    shaft = "exhaust" if lead is not None and "xhaust" in lead.name else None
    return LaneView(
        column=channel.column,
        name=lead.name if lead is not None else _STAND.get(channel.column, channel.column),
        role=channel.role,
        cam=channel.cam,
        cylinder=channel.cylinder,
        shaft=shaft,
        unit=unit,
        low=low,
        high=high,
        good=good,
        words=words,
        beside=_beside(channel.role, channel.cam, reading),
        should_v=numbers.LEVEL_LOW_V.value if switching and not good else None,
    )


_STAND = {"c2": "Healthy sensor", "c3": "Temperature"}


def _state(
    low: float | None, high: float | None, unit: str, clipped: bool, role: str, switching: bool
) -> tuple[bool, str]:
    """(whether it is good, what is seen)."""
    if low is None or high is None:
        return False, "Nothing received yet"
    span = f"{_figure(low)} to {_figure(high)} {unit}"
    if switching and high - low < 1.0:
        return False, f"Does not switch, {_figure((low + high) / 2)} {unit}: is it fed, is it this wire?"
    if switching and low > numbers.LEVEL_LOW_V.value:
        return False, f"Low level {_figure(low)} {unit}, see its ground"
    if clipped:
        if role == "starter_current":
            return True, f"{span}, past its range in the inrush, no defect"
        return False, f"{span}, clipped: take a larger range"
    return True, f"{span}, whole"


def _figure(value: float) -> str:
    return f"{value:.0f}" if abs(value) >= 20 else f"{value:.1f}"


def _beside(role: str, cam: str | None, reading: LiveReading | None) -> str:
    if reading is None:
        return ""
    if role == "crank" and reading.teeth is not None and reading.expected_teeth is not None:
        return f"{reading.teeth} of {reading.expected_teeth} teeth in the last turn"
    one: Literal[""] | str = ""
    for found in reading.cams:
        if role == "cam" and found.cam == cam and found.edges_per_cycle is not None:
            whole = math.isclose(found.edges_per_cycle, found.expected_edges, abs_tol=0.05)
            counted = str(found.expected_edges) if whole else f"{found.edges_per_cycle:.1f}"
            one = f"{counted} of {found.expected_edges} edges each cycle"
    return one
