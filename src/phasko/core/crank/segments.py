"""What the engine did when: rest, cranking, run-up, running."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.crank.clock import ClockPiece, CrankClock

__all__ = ["Segment", "SegmentKind", "measured_kinds", "segments_by_speed"]

SegmentKind = Literal["rest", "cranking", "run_up", "running"]

measured_kinds: tuple[SegmentKind, ...] = ("cranking", "running")
"""Offsets are measured in these segments. At rest there is nothing to measure, and a run-up belongs to no state."""


@dataclass(frozen=True, slots=True)
class Segment:
    kind: SegmentKind
    from_s: float
    to_s: float


def segments_by_speed(
    clock: CrankClock, start_s: float, end_s: float, dead: Sequence[tuple[float, float]] = ()
) -> tuple[Segment, ...]:
    """Divides the capture by the speed averaged over one turn; everything without teeth is rest, except the ``dead``
    stretches in which the signal is gone though the engine turns: they belong to no segment."""
    found: list[Segment] = []
    for piece in clock.pieces:
        if found and piece.times_s[0] <= found[-1].to_s + numbers.REST_GAP_S.value:
            opening = found[-1].to_s
        else:
            opening = float(piece.times_s[0])
            _append(found, "rest", found[-1].to_s if found else start_s, opening)
        for kind, from_s, to_s in _divided(piece):
            _append(found, kind, max(from_s, opening), to_s)
    _append(found, "rest", found[-1].to_s if found else start_s, end_s)
    return tuple(s for s in found if s.kind != "rest" or not any(_mostly(s, low, high) for low, high in dead))


def _mostly(segment: Segment, low: float, high: float) -> bool:
    covered = min(segment.to_s, high) - max(segment.from_s, low)
    return covered > 0.8 * (segment.to_s - segment.from_s)


def _append(found: list[Segment], kind: SegmentKind, from_s: float, to_s: float) -> None:
    shortest = 0.05 if kind == "rest" else 0.0
    if to_s - from_s <= shortest:
        return
    if found and found[-1].kind == kind:
        found[-1] = Segment(kind, found[-1].from_s, to_s)
    else:
        found.append(Segment(kind, from_s, to_s))


def _divided(piece: ClockPiece) -> list[tuple[SegmentKind, float, float]]:
    times, speed = _turn_speed(piece)
    running = speed > numbers.CRANKING_MAX_RPM.value
    changes = np.flatnonzero(running[1:] != running[:-1]) + 1
    bounds = [0, *changes.tolist(), times.size]
    parts: list[tuple[SegmentKind, float, float]] = []
    for first, stop in itertools.pairwise(bounds):
        from_s = float(times[first]) if first else float(piece.times_s[0])
        to_s = float(times[stop]) if stop < times.size else float(piece.times_s[-1])
        if not running[first]:
            parts.append(("cranking", from_s, to_s))
            continue
        settled = from_s
        if first:
            reached = numbers.RUN_UP_SHARE.value * float(np.median(speed[first:stop]))
            settled = float(times[first + int(np.argmax(speed[first:stop] >= reached))])
            parts.append(("run_up", from_s, settled))
        parts.append(("running", settled, to_s))
    return parts


def _turn_speed(piece: ClockPiece) -> tuple[Floats, Floats]:
    """Times and rpm averaged over the turn around each of them (over the piece's end where a turn does not fit)."""
    angles = np.arange(piece.angles_deg[0], piece.angles_deg[-1], 30.0)
    centre = np.interp(angles, piece.angles_deg, piece.times_s)
    low = np.clip(angles - 180, piece.angles_deg[0], piece.angles_deg[-1])
    high = np.clip(angles + 180, piece.angles_deg[0], piece.angles_deg[-1])
    took = np.interp(high, piece.angles_deg, piece.times_s) - np.interp(low, piece.angles_deg, piece.times_s)
    return centre, (high - low) / took / 6.0
