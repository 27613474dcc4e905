"""Grids of amounts over which explanations are spread: shifts, elongations, phaser travel, slack, seal."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

from phasko.core import numbers

__all__ = ["Grid", "elongation_grid", "seal_grid", "shift_grid", "slack_grid", "travel_grid"]

Grid = tuple[tuple[float, float, float], ...]
"""(value, share, width): shares sum to 1; between the values the amount is spread normally by the width."""


@lru_cache(maxsize=8)
def shift_grid(least_deg: float | None = None) -> Grid:
    """Shifts in deg of a slipped cam or moved wheel: normal, without the harmless middle below ``least_deg``."""
    step = 3.0
    low = numbers.SHIFT_MIN_DEG.value if least_deg is None else least_deg
    sizes = np.arange(low + step / 2, numbers.SHIFT_MAX_DEG.value, step)
    weight = np.exp(-0.5 * (sizes / numbers.SHIFT_SD_DEG.value) ** 2) + numbers.SHIFT_FAR_WEIGHT.value
    weight = 0.5 * weight / weight.sum()
    both = [(float(s), float(w)) for s, w in zip(sizes, weight, strict=True)]
    return tuple((sign * s, w, step / 2) for sign in (1.0, -1.0) for s, w in both)


@lru_cache(maxsize=32)
def elongation_grid(low_percent: float, high_percent: float) -> Grid:
    """Elongations in percent between two ends: exponential, as chains wear."""
    count = max(2, round((high_percent - low_percent) / 0.08))
    edges = np.linspace(low_percent, high_percent, count + 1)
    values = 0.5 * (edges[1:] + edges[:-1])
    weight = np.exp(-values / numbers.STRETCH_MEAN_PERCENT.value)
    width = float(edges[1] - edges[0]) / 2
    return tuple((float(v), float(w), width) for v, w in zip(values, weight / weight.sum(), strict=True))


def travel_grid(low_deg: float, high_deg: float) -> Grid:
    """Places in deg uniformly over a phaser's travel, without the harmless part next to park."""
    count = max(2, math.ceil((high_deg - low_deg) / 3.0))
    step = (high_deg - low_deg) / count
    places = [low_deg + (i + 0.5) * step for i in range(count)]
    places = [place for place in places if abs(place) >= numbers.SHIFT_MIN_DEG.value]
    return tuple((place, 1.0 / len(places), step / 2) for place in places)


@lru_cache(maxsize=1)
def slack_grid() -> Grid:
    """Lateness in deg that a slack tensioner leaves: small ones are likelier."""
    step = 3.0
    low, high = numbers.SHIFT_MIN_DEG.value, numbers.SLACK_MOST_DEG.value
    sizes = np.arange(low + step / 2, high, step)
    weight = np.exp(-sizes / numbers.SLACK_MEAN_DEG.value)
    return tuple((float(s), float(w), step / 2) for s, w in zip(sizes, weight / weight.sum(), strict=True))


@lru_cache(maxsize=1)
def seal_grid() -> Grid:
    """Shares of its compression that a leaking cylinder has left: often next to nothing, else evenly to nearly all."""
    step = 0.11
    values = [0.03 + step * i for i in range(8)]
    dead = numbers.DEAD_SHARE.value
    rest = (1.0 - dead) / (len(values) - 1)
    return tuple((value, rest if i else dead, step / 2) for i, value in enumerate(values))
