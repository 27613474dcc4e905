"""Edges of switching (Hall, optical) signals: when they happen, to a fraction of a sample."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Bools, Floats, Ints
from phasko.core.signals.ac_coupled import jump_edges
from phasko.core.signals.levels import Levels, state_levels
from phasko.core.signals.recording import Channel, Recording, Samples

__all__ = ["EdgeTrain", "hysteresis_edges", "mid_crossings", "shortest_pulse_share", "switching_edges"]


_BLOCK = 1 << 16
"""So many samples are looked at together, a quarter of a mebibyte, which stays in the processor's cache."""


@dataclass(frozen=True, slots=True, eq=False)
class EdgeTrain:
    """Edges of one channel: times in s, ascending; ``rising`` tells their kind. Kinds alternate. ``alike_s`` is the
    standard deviation of what may shift all of them alike, beside sampling: an inductive signal's own middle."""

    channel: str
    times_s: Floats
    rising: Bools
    levels: Levels
    interval_s: float
    alike_s: float = 0.0

    def of_kind(self, kind: str) -> Floats:
        """Times of the ``rising`` or ``falling`` edges, in s. (edges,), ascending."""
        return self.times_s[self.rising if kind == "rising" else ~self.rising]


def switching_edges(channel: Channel, recording: Recording) -> EdgeTrain | None:
    """Edges of a Hall or optical channel at 50 % of its own levels; ``None`` when it never switches.

    Where no two steady levels are found (AC-coupled, drifting), or two so unsteady that edges between them are missed,
    every jump is timed between its own two sides.
    """
    levels = state_levels(channel.samples)
    steady = levels is not None and levels.noise < numbers.LEVEL_STEADY.value * levels.amplitude
    positions, rising = hysteresis_edges(channel.samples, levels) if levels is not None else (np.zeros(0), None)
    # Looking for jumps costs more than all else here and finds nothing new on steady levels.
    jumps = None if steady else jump_edges(channel.samples)
    if jumps is not None and jumps[0].size > numbers.LEVEL_EDGES_MISSED.value * positions.size:
        positions, rising, levels = jumps
    if levels is None or rising is None:
        return None
    if positions.size < 2:
        return None
    times_s = recording.start_s + positions * recording.interval_s
    return EdgeTrain(channel.name, times_s, rising, levels, recording.interval_s)


def hysteresis_edges(samples: Samples, levels: Levels) -> tuple[Floats, Bools]:
    """Positions (in samples, fractional) and kinds of the edges that cross the whole hysteresis band.

    Timed where the signal crosses 50 % of its amplitude (IEEE 181-2011, 5.3.3: linear between two samples). Edges with
    three or more samples inside the band are timed by a straight line through those samples, which averages their
    noise. A missing sample inside an edge puts it half a sample before the first good one. ``samples`` (n,); both
    results are (edges,).
    """
    band = numbers.EDGE_HYSTERESIS.value
    low, mid, high = (np.float32(levels.at(numbers.EDGE_LEVEL.value + part)) for part in (-band, 0.0, band))
    ups, downs = _entries(samples, high, low)
    arrived, rising = _alternating(ups, downs, bool(samples.size and samples[0] < low))
    left = _last_outside(samples, arrived, rising, float(low), float(high))
    return mid_crossings(samples, left, arrived, float(mid)), rising


def _entries(samples: Samples, high: np.float32, low: np.float32) -> tuple[Ints, Ints]:
    """Samples that are the first above ``high``, and the first below ``low``; in blocks that stay in the cache."""
    ups: list[Ints] = []
    downs: list[Ints] = []
    for start in range(0, samples.size, _BLOCK):
        block = samples[max(0, start - 1) : start + _BLOCK]
        offset = max(0, start - 1) + 1
        above = block > high
        ups.append(np.flatnonzero(above[1:] > above[:-1]) + offset)
        below = block < low
        downs.append(np.flatnonzero(below[1:] > below[:-1]) + offset)
    nothing = np.empty(0, dtype=np.int64)
    return np.concatenate([nothing, *ups]), np.concatenate([nothing, *downs])


def _alternating(ups: Ints, downs: Ints, starts_low: bool) -> tuple[Ints, Bools]:
    """Merges entries above and below the band and keeps the first of each run of one kind."""
    arrived = np.concatenate([ups, downs])
    rising = np.concatenate([np.ones(ups.size, bool), np.zeros(downs.size, bool)])
    order = np.argsort(arrived, kind="stable")
    arrived, rising = arrived[order], rising[order]
    if not arrived.size:
        return arrived, rising
    keep = np.concatenate([[rising[0] == starts_low], rising[1:] != rising[:-1]])
    return arrived[keep], rising[keep]


def _last_outside(samples: Samples, arrived: Ints, rising: Bools, low: float, high: float) -> Ints:
    """For each edge the last sample still on the old side of the band."""
    left = arrived - 1
    # An edge slower than this is a drift and is timed where the walk ends.
    for _ in range(512):
        value = samples[left]
        inside = np.where(rising, value >= low, value <= high) & (left > 0)
        if not inside.any():
            break
        left = np.where(inside, left - 1, left)
    return left


def mid_crossings(samples: Samples, left: Ints, arrived: Ints, mid: float) -> Floats:
    """Where the samples between ``left`` and ``arrived`` (one on either side) pass ``mid``, in samples. ``samples``
    (n,) in the channel's own unit like ``mid``; ``left``, ``arrived`` and the result are (edges,)."""
    positions = np.empty(arrived.size)
    span = arrived - left
    for length in np.unique(span):
        rows = np.flatnonzero(span == length)
        grid = left[rows, None] + np.arange(length + 1)
        values = samples[grid].astype(np.float64) - mid
        # The outermost two lie on the levels, where the line no longer holds.
        inner = _straight_line(values[:, 1:-1]) if length >= 4 else None
        crossing = _between_two(values) if inner is None else np.where(np.isfinite(inner), inner + 1, length / 2)
        positions[rows] = left[rows] + np.clip(crossing, 0, length)
    return np.where(np.isfinite(positions), positions, arrived - 0.5)


def _between_two(values: Floats) -> Floats:
    """Linear interpolation across the first pair of samples that straddles zero."""
    old_side = np.sign(values[:, :1])
    crossed = (np.sign(values[:, 1:]) != old_side).argmax(axis=1)
    rows = np.arange(len(values))
    a, b = values[rows, crossed], values[rows, crossed + 1]
    return np.asarray(crossed + a / (a - b))


def _straight_line(values: Floats) -> Floats:
    """Zero of the least-squares line through each row, in columns."""
    n = values.shape[1]
    x = np.arange(n) - (n - 1) / 2
    slope = values @ x / (x @ x)
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.asarray((n - 1) / 2 - values.mean(axis=1) / slope)


def shortest_pulse_share(train: EdgeTrain) -> float:
    """Share of levels held for under 1.5 samples: near 0 for a signal sampled fast enough, large for an aliased one."""
    held = np.diff(train.times_s) / train.interval_s
    return float(np.mean(held < 1.5)) if held.size else 0.0
