"""A Hall or optical sensor: levels, rise time, and how it fails."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from phasko.bench.arrays import Floats
from phasko.bench.sensors.wheels import EdgePassing

__all__ = ["HallFault", "HallPickup", "hall_voltage"]


@dataclass(frozen=True, slots=True)
class HallFault:
    """``open_ground`` lifts the low level until it hardly differs; between ``dead_from_s`` and ``dead_to_s`` (heat
    failure and recovery, a loose connection) the output rests high; ``dropped_share`` of the pulses are lost;
    ``added_per_s`` short pulses are induced."""

    open_ground: bool = False
    dead_from_s: float = 1e9
    dead_to_s: float = 1e9
    dropped_share: float = 0.0
    added_per_s: float = 0.0


@dataclass(frozen=True, slots=True)
class HallPickup:
    """Levels in V, time of one edge in s, delay of the sensor in s."""

    low_v: float = 0.3
    high_v: float = 4.9
    edge_s: float = 20e-6
    lag_s: float = 0.0
    fault: HallFault = field(default_factory=HallFault)


def hall_voltage(at_s: Floats, passing: EdgePassing, pickup: HallPickup, rng: np.random.Generator) -> Floats:
    """Voltage at the times ``at_s``: straight edges whose middle is the passing plus the lag."""
    fault = pickup.fault
    times, high = passing.times_s + pickup.lag_s, passing.high
    if fault.dropped_share > 0.0 and times.size > 2:
        lost = np.flatnonzero(rng.random(times.size // 2) < fault.dropped_share) * 2 + (1 if passing.starts_high else 0)
        keep = np.ones(times.size, dtype=bool)
        keep[np.clip(np.concatenate([lost, lost + 1]), 0, times.size - 1)] = False
        times, high = times[keep], high[keep]
    half = pickup.edge_s / 2
    knots = np.column_stack([times - half, times + half]).ravel()
    before = np.concatenate([[passing.starts_high], high[:-1]]) if high.size else high
    states = np.column_stack([before, high]).ravel().astype(float)
    level = np.interp(at_s, knots, states) if knots.size else np.full(at_s.size, float(passing.starts_high))
    if fault.added_per_s > 0.0:
        for start in np.cumsum(rng.exponential(1.0 / fault.added_per_s, 10_000)):
            if start > at_s[-1]:
                break
            inside = (at_s >= start) & (at_s < start + 1.5e-4)
            level[inside] = 1.0 - level[inside]
    level[(at_s >= fault.dead_from_s) & (at_s < fault.dead_to_s)] = 1.0
    low = 0.82 * pickup.high_v if fault.open_ground else pickup.low_v
    return low + (pickup.high_v - low) * level
