"""When the edges of a turning wheel pass its sensor, forwards and backwards."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from phasko.bench.arrays import Bools, Floats

__all__ = ["EdgePassing", "WheelEdges", "edge_passings", "tooth_edges"]


@dataclass(frozen=True, slots=True, eq=False)
class WheelEdges:
    """Edges of a wheel in degrees of ``period_deg`` (360 on the crank, 720 on a cam), ascending; what lies after each
    when turning forwards: high (``True``) or low."""

    deg: Floats
    high_after: Bools
    period_deg: float


@dataclass(frozen=True, slots=True, eq=False)
class EdgePassing:
    """Times at which the level changes, in s, ascending, and the level after each; ``starts_high`` before the first."""

    times_s: Floats
    high: Bools
    starts_high: bool


def tooth_edges(
    timing_deg: Floats, tooth_deg: float, timing_edge: str, period_deg: float, rng: np.random.Generator, sd_deg: float
) -> WheelEdges:
    """Both edges of every tooth; each timing edge has its own spacing error, the other edge follows it."""
    placed = timing_deg + sd_deg * rng.standard_normal(timing_deg.size)
    both = np.concatenate([placed, placed + tooth_deg]) % period_deg
    falls = np.concatenate(
        [np.full(placed.size, timing_edge == "falling"), np.full(placed.size, timing_edge == "rising")]
    )
    order = np.argsort(both, kind="stable")
    return WheelEdges(both[order], ~falls[order], period_deg)


def edge_passings(times_s: Floats, phase_deg: Floats, wheel: WheelEdges) -> EdgePassing:
    """Passings of every edge. ``phase_deg`` is the wheel's own angle over time; it may rock back and forth."""
    turns = np.arange(np.floor(phase_deg.min() / wheel.period_deg) - 1, np.ceil(phase_deg.max() / wheel.period_deg) + 1)
    marks = (wheel.deg[None, :] + wheel.period_deg * turns[:, None]).ravel()
    after = np.tile(wheel.high_after, turns.size)
    forward = np.diff(phase_deg) >= 0.0
    bounds = np.concatenate([[0], np.flatnonzero(forward[1:] != forward[:-1]) + 1, [phase_deg.size - 1]])
    times: list[Floats] = []
    levels: list[Bools] = []
    for first, last in zip(bounds[:-1].tolist(), bounds[1:].tolist(), strict=True):
        t, phase = times_s[first : last + 1], phase_deg[first : last + 1]
        up = bool(phase[-1] >= phase[0])
        if not up:
            t, phase = t[::-1], phase[::-1]
        low, high = np.searchsorted(marks, [phase[0], phase[-1]])
        passed = np.interp(marks[low:high], phase, t)
        level = after[low:high] if up else ~after[low:high]
        times.append(passed if up else passed[::-1])
        levels.append(level if up else level[::-1])
    place = int(np.searchsorted(marks, phase_deg[0])) - 1
    return EdgePassing(np.concatenate(times), np.concatenate(levels), bool(after[place]))
