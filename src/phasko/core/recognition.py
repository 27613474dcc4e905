"""Recognising a wheel: whether a count fits the profile's, and what a signal looks like by itself."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from phasko.core import numbers
from phasko.core.documents.engine import Wheel
from phasko.core.teeth import ToothCount
from phasko.core.wheel import wheel_name

__all__ = ["is_another_wheel", "recognised_wheel"]

Floats = NDArray[np.float64]


def is_another_wheel(times_s: Floats, count: ToothCount, wheel: Wheel) -> bool:
    """Whether the counted signal comes from another wheel than the profile's.

    So when many edges misfit, when most gaps are not where the count passes them, or when some are not and the
    intervals by themselves tell of another regular wheel. Single lost teeth are a fault to report, no other wheel.
    """
    odd_edges = sum(odd.count for odd in count.irregularities)
    misfits = count.misfit_share + odd_edges / max(1, times_s.size)
    if misfits > numbers.WHEEL_MISMATCH_SHARE.value or count.gaps_seen_share < numbers.WHEEL_GAPS_SEEN_LEAST.value:
        return True
    if count.gaps_seen_share >= numbers.WHEEL_GAPS_SEEN_GOOD.value:
        return False
    seen = recognised_wheel(times_s)
    return seen is not None and seen != wheel_name(wheel)


def recognised_wheel(times_s: Floats) -> str | None:
    """Names a wheel from its intervals alone, ``60-2`` or ``36-1``; ``None`` when there is no regular gap."""
    intervals = np.diff(times_s)
    intervals = intervals[intervals < numbers.REST_GAP_S.value]
    if intervals.size < 12:
        return None
    before, after = intervals[:-2], intervals[2:]
    ratio = intervals[1:-1] / np.sqrt(before * after)
    places = np.flatnonzero(ratio > 1.6)
    if places.size < 2:
        return None
    between = int(np.median(np.diff(places)))
    regular = np.mean(np.diff(places) == between)
    lost = round(float(np.median(ratio[places]))) - 1
    return f"{between + lost}-{lost}" if regular > 0.7 and lost >= 1 else None
