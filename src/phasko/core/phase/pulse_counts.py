"""Ratio checks: how many pulses each signal gives per cycle, window by window, and which of three is the odd one."""

from __future__ import annotations

import bisect
import math
import statistics
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from phasko.core.arrays import Floats
from phasko.core.cycle.cycles import Cycle
from phasko.core.phase.irregularities import SignalEvent
from phasko.core.signals.gaps import Span

__all__ = ["SignalCount", "odd_one_out", "pulse_counts"]


@dataclass(frozen=True, slots=True)
class SignalCount:
    """Pulses per cycle of one signal over ``windows`` whole cycles; ``bad_windows`` hold too many or too few."""

    signal: str
    per_cycle: float
    expected: int
    bad_windows: int
    windows: int


def pulse_counts(
    expected: Mapping[str, int], events: Sequence[SignalEvent], cycles: Sequence[Cycle]
) -> tuple[SignalCount, ...]:
    """Counts every signal over the whole cycles of the clock. A pulse too many or too few makes its window bad.

    What is counted is the expected number with what is known to be lost and added, so that a pulse at the border of
    two windows is not one window's gain and the other's loss.
    """
    if not cycles:
        return ()
    found = []
    for signal, whole in expected.items():
        change = np.zeros(len(cycles))
        bad = np.zeros(len(cycles), dtype=bool)
        for event in (e for e in events if e.signal == signal):
            for i, cycle in enumerate(cycles):
                if event.time_s < cycle.to_s and max(event.to_s, event.time_s + 1e-9) > cycle.from_s:
                    bad[i] = True
                    change[i] += {"missing": -event.count, "extra": event.count, "silent": 0}[event.kind]
        silent = [e for e in events if e.signal == signal and e.kind == "silent"]
        lost = sum(_overlap(e, cycle) for e in silent for cycle in cycles) * whole
        per_cycle = whole + (float(change.sum()) - lost) / len(cycles)
        found.append(SignalCount(signal, round(max(0.0, per_cycle), 2), whole, int(bad.sum()), len(cycles)))
    return tuple(found)


def _overlap(event: SignalEvent, cycle: Cycle) -> float:
    """Share of the cycle that the silent stretch covers."""
    covered = min(event.to_s, cycle.to_s) - max(event.time_s, cycle.from_s)
    return max(0.0, covered) / (cycle.to_s - cycle.from_s)


def odd_one_out(
    trains: Mapping[str, tuple[Floats, int]], unrecorded: Sequence[Span] = ()
) -> dict[str, tuple[int, int]]:
    """For each of three or more signals in how many windows it disagrees with the rest: (odd, all windows).

    ``trains`` has edge times and edges per cycle. Every signal has its own idea of how long one cycle takes: the time
    in which its edges advance by one cycle's number of them. Their median is taken for true; a signal whose own time
    differs from it by more than half a pulse is the odd one in that window. No crank clock is needed for it. Windows
    in which samples are missing (``unrecorded``) do not count. Times are (edges,) in s.
    """
    usable = {name: (times.tolist(), count) for name, (times, count) in trains.items() if times.size > 3 * count}
    if len(usable) < 3:
        return {}
    start = max(times[0] for times, _ in usable.values())
    end = max(times[-1] for times, _ in usable.values())
    odd = dict.fromkeys(usable, 0)
    windows, at = 0, start
    while True:
        takes = {name: _cycle_time(times, count, at) for name, (times, count) in usable.items()}
        median = statistics.median(takes.values())
        if not math.isfinite(median) or at + median > end:
            break
        if any(low < at + median and at < high for low, high in unrecorded):
            at += median
            continue
        windows += 1
        for name, (_, count) in usable.items():
            if not abs(takes[name] / median - 1.0) <= max(0.01, 0.5 / count):
                odd[name] += 1
        at += median
    return {name: (count, windows) for name, count in odd.items()}


def _cycle_time(times: list[float], count: int, at: float) -> float:
    """Time after ``at`` in which the signal's edges advance by ``count``; infinite at its end."""
    after = bisect.bisect_right(times, at)
    if after < 1 or after + count > len(times) - 1:
        return math.inf
    share = (at - times[after - 1]) / (times[after] - times[after - 1])
    low, high = times[after - 1 + count], times[after + count]
    return low + share * (high - low) - at
