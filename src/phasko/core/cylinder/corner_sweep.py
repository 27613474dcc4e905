"""The corners of every single cycle, while a phaser is swept."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from phasko.core import numbers
from phasko.core.cylinder.closed_line import ClosedLine
from phasko.core.cylinder.corners import Corner, exhaust_opens, intake_closes
from phasko.core.cylinder.pressure_trace import PressureTrace
from phasko.core.documents.engine import EngineProfile

__all__ = ["SweptCorners", "swept_corners", "travel_deg"]


_MOST_CYCLES = 14


@dataclass(frozen=True, slots=True)
class SweptCorners:
    """What one cycle shows, whose TDC passes at ``at_s`` (s)."""

    at_s: float
    exhaust_open: Corner | None
    intake_close: Corner | None


def swept_corners(
    trace: PressureTrace, line: ClosedLine, engine: EngineProfile, walls_k: float
) -> tuple[SweptCorners, ...]:
    """One entry a cycle, of a long sweep every second or third, so that a dozen show it; the line of shut valves is
    that of all of them. ``walls_k`` in K."""
    found = []
    chosen = np.unique(np.linspace(0, trace.at_s.size - 1, _MOST_CYCLES).round().astype(np.int64))
    for cycle, at_s in zip(chosen.tolist(), trace.at_s[chosen].tolist(), strict=True):
        own = slice(cycle, cycle + 1)
        one = replace(trace, absolute_bar=trace.absolute_bar[own], cycle_rpm=trace.cycle_rpm[own])
        opens = exhaust_opens(one, line, engine, walls_k)
        found.append(SweptCorners(at_s, opens, intake_closes(one, line, engine, walls_k)))
    return tuple(found)


def travel_deg(corners: Sequence[Corner | None]) -> tuple[float, float] | None:
    """(first, furthest from it) of the places (deg) that a corner takes; ``None`` where it moves by less than
    ``CORNER_TRAVEL_LEAST_DEG``, or is seen in fewer than three cycles."""
    places = [corner.angle_deg for corner in corners if corner is not None]
    if len(places) < 3:
        return None
    furthest = max(places, key=lambda place: abs(place - places[0]))
    return (places[0], furthest) if abs(furthest - places[0]) >= numbers.CORNER_TRAVEL_LEAST_DEG.value else None
