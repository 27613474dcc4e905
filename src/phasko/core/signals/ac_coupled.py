"""Edges of switching signals whose levels wander: every jump is timed between its own two sides."""

from __future__ import annotations

import math

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Bools, Floats
from phasko.core.signals.levels import Levels
from phasko.core.signals.recording import Samples
from phasko.core.uncertainty import robust_sd

__all__ = ["jump_edges"]


_REACH = 8
"""A jump of an AC coupled signal happens within so many samples. The droop over as many is small beside it."""
_SIDE = 4
"""The level on either side of a jump is the mean of so many samples."""


def jump_edges(samples: Samples) -> tuple[Floats, Bools, Levels] | None:
    """(positions in samples, rising, levels of the jumps) of an AC-coupled or drifting signal; ``None`` without any.

    A jump is a change over eight samples of more than half the usual large change. It is timed where the line between
    the samples passes the middle of the levels just before and just after it. Levels are given about zero, since the
    signal has no steady ones. Not valid for edges that take longer than those eight samples. ``samples`` (n,) in V or
    the channel's unit; positions and kinds are (edges,).
    """
    if samples.size < 16 * _REACH:
        return None
    filled = np.where(np.isfinite(samples), samples, np.float32(0)).astype(np.float64)
    change = filled[_REACH:] - filled[:-_REACH]
    size = float(np.percentile(np.abs(change), 100.0 * (1.0 - 20.0 / change.size)))
    noise = robust_sd(change, about=0.0) / math.sqrt(2.0)
    if size < numbers.LEVEL_MIN_AMPLITUDE_V.value or size < numbers.LEVEL_MIN_OVER_NOISE.value * noise:
        return None
    large = np.abs(change) > 0.5 * size
    bounds = np.flatnonzero(np.diff(np.concatenate([[False], large, [False]]).astype(np.int8)))
    starts, stops = bounds[::2], bounds[1::2]
    keep = (starts > _SIDE) & (stops + _REACH + _SIDE < samples.size) & (stops - starts <= 3 * _REACH)
    starts, stops = starts[keep], stops[keep]
    if starts.size < 4:
        return None
    rising = change[(starts + stops) // 2] > 0
    positions = np.array([_middle(filled, int(a), int(b) + _REACH) for a, b in zip(starts, stops, strict=True)])
    good = np.isfinite(positions)
    return positions[good], rising[good], Levels(-size / 2, size / 2, noise)


def _middle(values: Floats, before: int, after: int) -> float:
    """Where the samples pass the middle of the levels at ``before`` and ``after``; not a number when they do not."""
    low = float(values[before - _SIDE : before].mean())
    high = float(values[after : after + _SIDE].mean())
    inside = values[before - 1 : after + 1] - 0.5 * (low + high)
    crossed = np.flatnonzero(np.sign(inside[1:]) != np.sign(inside[:-1]))
    if not crossed.size:
        return float("nan")
    i = int(crossed[crossed.size // 2])
    return before - 1 + i + float(inside[i] / (inside[i] - inside[i + 1]))
