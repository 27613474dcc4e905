"""Grids of a parameter that make a smooth, proper prior: places, shares and the width of each."""

from __future__ import annotations

import math

import numpy as np

from phasko.core import numbers

__all__ = ["elongation_grid", "shift_grid", "travel_grid"]


def shift_grid() -> list[tuple[float, float, float]]:
    """(shift deg, share, width deg) of a slipped cam or moved wheel: normal, without the harmless middle."""
    step = 2.0
    low, high = numbers.SHIFT_MIN_DEG.value, numbers.SHIFT_MAX_DEG.value
    sizes = np.arange(low + step / 2, high, step)
    weight = np.exp(-0.5 * (sizes / numbers.SHIFT_SD_DEG.value) ** 2)
    weight = 0.5 * weight / weight.sum()
    both = [(float(s), float(w)) for s, w in zip(sizes, weight, strict=True)]
    return [(sign * s, w, step / 2) for sign in (1.0, -1.0) for s, w in both]


def elongation_grid() -> list[tuple[float, float, float]]:
    """(elongation %, share, width %): exponential between the least that counts and the most that survives."""
    step = 0.05
    low, high = numbers.STRETCH_MIN_PERCENT.value, numbers.STRETCH_MAX_PERCENT.value
    values = np.arange(low + step / 2, high, step)
    weight = np.exp(-values / numbers.STRETCH_MEAN_PERCENT.value)
    return [(float(v), float(w), step / 2) for v, w in zip(values, weight / weight.sum(), strict=True)]


def travel_grid(low_deg: float, high_deg: float) -> list[tuple[float, float, float]]:
    """(place deg, share, width deg) uniformly over a phaser's travel, without the harmless part next to park."""
    count = max(2, math.ceil((high_deg - low_deg) / 2.0))
    step = (high_deg - low_deg) / count
    places = [low_deg + (i + 0.5) * step for i in range(count)]
    places = [place for place in places if abs(place) >= numbers.SHIFT_MIN_DEG.value]
    return [(place, 1.0 / len(places), step / 2) for place in places]
