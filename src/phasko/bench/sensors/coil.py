"""Ignition coils: the control unit's drive, and the primary with its spike and ringing."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from phasko.bench.arrays import Floats

__all__ = ["CoilWiring", "coil_drive_voltage", "coil_primary_voltage"]


@dataclass(frozen=True, slots=True)
class CoilWiring:
    """``dwell_s`` before each spark; ``ring_hz`` and its decay after it; ``spike_v`` over the battery.

    ``doubles_until_s``: until then the control unit does not know the cycle yet and fires every turn.
    """

    dwell_s: float = 3.5e-3
    spike_v: float = 340.0
    ring_hz: float = 9000.0
    ring_decay_s: float = 2.5e-4
    burn_s: float = 1.2e-3
    doubles_until_s: float = 0.0


def coil_drive_voltage(at_s: Floats, sparks_s: Floats, wiring: CoilWiring) -> Floats:
    """Logic level: high while the coil charges, the spark at its falling edge."""
    charging = np.zeros(at_s.size, dtype=bool)
    for spark in sparks_s.tolist():
        low, high = np.searchsorted(at_s, [spark - wiring.dwell_s, spark])
        charging[low:high] = True
    return np.where(charging, 4.7, 0.1)


def coil_primary_voltage(at_s: Floats, sparks_s: Floats, battery_v: Floats, wiring: CoilWiring) -> Floats:
    """Battery at rest, near ground while charging, a spike at the spark, burn line, ringing down to the battery."""
    volts = battery_v.copy()
    for spark in sparks_s.tolist():
        start, fires, ends = np.searchsorted(at_s, [spark - wiring.dwell_s, spark, spark + 6e-3])
        volts[start:fires] = 0.6 + 0.8 * (at_s[start:fires] - at_s[start]) / wiring.dwell_s
        since = at_s[fires:ends] - spark
        ring = np.exp(-since / wiring.ring_decay_s) * np.cos(2 * np.pi * wiring.ring_hz * since)
        burning = np.where(since < wiring.burn_s, 26.0, 0.0)
        after = np.where(since >= wiring.burn_s, since - wiring.burn_s, np.inf)
        last = (
            12.0
            * np.exp(-after / 4e-4)
            * np.cos(2 * np.pi * 0.4 * wiring.ring_hz * np.where(np.isfinite(after), after, 0.0))
        )
        volts[fires:ends] += wiring.spike_v * ring + burning + np.where(np.isfinite(after), last, 0.0)
    return volts
