"""A signal that its sensor or its wire spoils: lost, dropping out, or with pulses added."""

from __future__ import annotations

from typing import Literal

import numpy as np

from phasko.bench.arrays import Floats

__all__ = ["SignalFault", "spoilt"]

SignalFault = Literal["lost", "erratic", "extra"]


def spoilt(volts: Floats, at_s: Floats, fault: SignalFault, rng: np.random.Generator) -> Floats:
    """The signal (V, shape (samples,)) as the fault leaves it. ``lost``: it rests high; ``erratic``: it does so for
    some hundredths of a second now and then; ``extra``: short pulses come in by induction."""
    low, high = (float(level) for level in np.percentile(volts, (5, 95)))
    made = volts.copy()
    if fault == "lost":
        made[:] = high + 0.01 * rng.standard_normal(made.size)
        return made
    step_s, length_s = float(at_s[1] - at_s[0]), float(at_s[-1] - at_s[0])
    if fault == "erratic":
        for start_s in rng.uniform(0.15, 0.9, max(2, round(length_s))) * length_s:
            first = int(start_s / step_s)
            made[first : first + int(rng.uniform(0.05, 0.15) / step_s)] = high
        return made
    width = max(2, int(_PULSE_S / step_s))
    for start_s in rng.uniform(0.1, 0.95, max(6, round(3 * length_s))) * length_s:
        first = int(start_s / step_s)
        made[first : first + width] = low if volts[first] > 0.5 * (low + high) else high
    return made


_PULSE_S = 2e-4
