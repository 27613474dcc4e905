"""The cycles of a capture, numbered, with those left out and why."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.cycle.cycle_half import PieceTurn

__all__ = ["Cycle", "Exclusion", "cycle_origin_deg", "exclusions", "whole_cycles"]


@dataclass(frozen=True, slots=True)
class Cycle:
    """One whole cycle of 720 degrees, beginning ``cycle_origin_deg`` before cylinder 1's firing TDC."""

    number: int
    from_s: float
    to_s: float
    mean_rpm: float


@dataclass(frozen=True, slots=True)
class Exclusion:
    """A stretch of time from which nothing was measured."""

    from_s: float
    to_s: float
    reason: str


def cycle_origin_deg(cylinders: int) -> float:
    """Where a cycle begins on screen: half a firing interval before TDC 1, so that no hump is cut."""
    return -360.0 / cylinders


def whole_cycles(pieces: Sequence[PieceTurn], cylinders: int) -> tuple[Cycle, ...]:
    """All cycles that lie whole inside the usable part of a piece, numbered from 1 over the capture."""
    origin = cycle_origin_deg(cylinders)
    found: list[Cycle] = []
    for turn in pieces:
        low, high = (float(a) for a in turn.piece.angle_deg(np.array(turn.piece.usable_s)) + turn.turn_deg)
        first = math.ceil((low - origin - 1e-6) / 720.0)
        last = math.floor((high - origin + 1e-6) / 720.0)
        bounds = turn.piece.time_s(
            np.asarray(origin + 720.0 * np.arange(first, last + 1) - turn.turn_deg, dtype=np.float64)
        )
        for from_s, to_s in zip(bounds[:-1].tolist(), bounds[1:].tolist(), strict=True):
            if any(hole[0] < to_s and hole[1] > from_s for hole in turn.piece.holes_s):
                continue
            found.append(Cycle(len(found) + 1, from_s, to_s, 120.0 / (to_s - from_s)))
    return tuple(found)


def exclusions(pieces: Sequence[PieceTurn], start_s: float, end_s: float) -> tuple[Exclusion, ...]:
    """Everything outside the usable parts, with the reason in words."""
    found: list[Exclusion] = []
    at = start_s
    for turn in pieces:
        low, high = turn.piece.usable_s
        begins = float(turn.piece.times_s[0])
        if begins - at > 0.05:
            found.append(_no_teeth(at, begins))
        if low - begins > 0.02:
            found.append(Exclusion(begins, low, "start from rest"))
        found += [
            Exclusion(*hole, "no teeth: signal interrupted") for hole in turn.piece.holes_s if low < hole[0] < high
        ]
        ends = float(turn.piece.times_s[-1])
        if ends - high > 0.02:
            found.append(Exclusion(high, ends, "running out or rolling back"))
        at = ends
    if end_s - at > 0.05:
        found.append(_no_teeth(at, end_s))
    return tuple(found)


def _no_teeth(from_s: float, to_s: float) -> Exclusion:
    return Exclusion(from_s, to_s, "at rest" if to_s - from_s >= numbers.REST_GAP_S.value else "no teeth counted")
