"""Recognising a wheel: whether a count fits the profile's, and what a signal looks like by itself."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from phasko.core import numbers
from phasko.core.arrays import Floats, Ints
from phasko.core.crank.tooth_count import ToothCount
from phasko.core.documents.engine import Wheel
from phasko.core.engine.wheel import wheel_name

__all__ = ["LearntWheel", "is_another_wheel", "learn_wheel", "recognised_wheel"]


_MOST_SLOTS = 360
_LONGEST_GAP = 5
_LEAST_TURNS = 3
"""A pattern is believed only when it came round so often: a few lost teeth can look like a pattern once or twice."""


@dataclass(frozen=True, slots=True)
class LearntWheel:
    """A wheel read from its signal. ``turn_assumed``: that its pattern comes round once per turn was not measured, no
    other signal told how long a cycle is."""

    wheel: Wheel
    signatures_per_turn: int
    turn_assumed: bool

    @property
    def name(self) -> str:
        return wheel_name(self.wheel)


def is_another_wheel(count: ToothCount, wheel: Wheel) -> bool:
    """Whether the counted signal comes from another wheel than the profile's.

    So when many edges misfit, when most gaps are not where the count passes them, or when some are not and the
    intervals by themselves tell of another regular wheel. Single lost teeth are a fault to report, no other wheel.
    """
    if count.odd_share > numbers.WHEEL_MISMATCH_SHARE.value:
        return True
    if count.gaps_seen_share < numbers.WHEEL_GAPS_SEEN_LEAST.value:
        return True
    if count.gaps_seen_share >= numbers.WHEEL_GAPS_SEEN_GOOD.value:
        return False
    seen = recognised_wheel(count.times_s)
    return seen is not None and seen != wheel_name(wheel)


def recognised_wheel(times_s: Floats) -> str | None:
    """Names a wheel from its intervals alone, ``60-2`` or ``36-1``; ``None`` when there is no regular gap. ``times_s``
    of shape (edges,) in s."""
    found = learn_wheel(times_s)
    return found.name if found is not None and found.wheel.missing else None


def learn_wheel(times_s: Floats, cycle_times_s: Floats | None = None) -> LearntWheel | None:
    """Which wheel gives these timing edges; ``None`` when no wheel of like teeth does.

    Every interval is held against the usual one around it, which gives the slots it spans; these numbers come round
    with the wheel. ``cycle_times_s`` are moments one cycle of 720 degrees apart (a cam's edge), from which the slots of
    one turn are counted; without them the pattern is assumed to come round once per turn, and of an even wheel nothing
    is known. ``times_s`` (edges,) and ``cycle_times_s`` (cycles,) in s.
    """
    slots = _slots_spanned(times_s)
    if slots is None:
        return None
    per_turn = None if cycle_times_s is None else _slots_per_turn(times_s, slots, cycle_times_s)
    period = _period(slots)
    if period is None:
        even = np.mean(slots == 1) > 0.99
        return None if per_turn is None or not even else LearntWheel(Wheel(slots=per_turn), per_turn, False)
    pattern = _pattern(slots, period)
    repeat = int(pattern.sum())
    whole = repeat if per_turn is None else per_turn
    if whole % repeat or whole > _MOST_SLOTS or whole < 2:
        return None
    several = np.tile(pattern, whole // repeat)
    ends = np.cumsum(several)
    present = {1, *(1 + ends[:-1]).tolist()}
    missing = sorted(set(range(1, whole + 1)) - present)
    return LearntWheel(Wheel(slots=whole, missing=missing), whole // repeat, per_turn is None)


def _slots_spanned(times_s: Floats) -> Ints | None:
    """For every interval how many slots it spans (0: it fits no whole number); ``None`` when most fit none."""
    intervals = np.diff(times_s)
    if intervals.size < 24:
        return None
    usual = scipy.ndimage.median_filter(intervals, size=5, mode="nearest")
    ratio = intervals / usual
    whole = np.rint(ratio).astype(np.int64)
    fits = (np.abs(np.log(ratio / np.maximum(whole, 1))) < 0.34) & (whole >= 1) & (whole <= _LONGEST_GAP)
    return None if np.mean(fits) < 0.85 else np.where(fits, whole, 0)


def _period(slots: Ints) -> int | None:
    """After how many edges the gaps come round; ``None`` without any."""
    if np.count_nonzero(slots > 1) < 3:
        return None
    most = min(_MOST_SLOTS, slots.size // _LEAST_TURNS)
    for period in range(2, most + 1):
        first, later = slots[:-period], slots[period:]
        odd = (first > 1) | (later > 1)
        if odd.sum() >= 3 and np.mean(first[odd] == later[odd]) > 0.6 and np.mean(first == later) > 0.9:
            return period
    return None


def _pattern(slots: Ints, period: int) -> Ints:
    """The most frequent number at each place of the period, turned so that the longest gap comes last."""
    places = np.arange(slots.size) % period
    usual = np.array([np.bincount(slots[places == k]).argmax() for k in range(period)])
    return np.roll(np.maximum(usual, 1), period - 1 - int(np.argmax(usual)))


def _slots_per_turn(times_s: Floats, slots: Ints, cycle_times_s: Floats) -> int | None:
    """Half the slots that pass in one cycle; ``None`` where cycles disagree."""
    running = np.concatenate([[0.0], np.cumsum(np.maximum(slots, 1))])
    inside = cycle_times_s[(cycle_times_s >= times_s[0]) & (cycle_times_s <= times_s[-1])]
    if inside.size < 2:
        return None
    passed = np.diff(np.interp(inside, times_s, running))
    half = float(np.median(passed)) / 2.0
    return round(half) if abs(half - round(half)) < 0.2 and np.median(np.abs(passed - 2 * half)) < 1.0 else None
