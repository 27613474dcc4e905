"""The low and high level of a switching signal, and its noise."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.signals.recording import Samples
from phasko.core.uncertainty import robust_sd

__all__ = ["Levels", "state_levels"]

_MAX_SAMPLES = 100_000
_BINS = 256


@dataclass(frozen=True, slots=True)
class Levels:
    """Two levels in the channel's unit and the standard deviation about them."""

    low: float
    high: float
    noise: float

    @property
    def amplitude(self) -> float:
        return self.high - self.low

    def at(self, share: float) -> float:
        """The value at ``share`` of the amplitude above the low level."""
        return self.low + share * self.amplitude


def state_levels(samples: Samples) -> Levels | None:
    """Answers at which two levels a switching signal rests; ``None`` when it does not switch.

    Histogram method of IEEE 181-2011, 5.2: the range is halved, the mode of each half is its level, here refined by the
    median of the samples near the mode. The range leaves out 0.05 % at each end, so that spikes do not set it. Not
    valid for sine-like (VR) signals. ``samples`` (n,).
    """
    picked = _thinned(samples)
    if picked.size < 16:
        return None
    lowest, highest = (float(v) for v in np.percentile(picked, (0.05, 99.95)))
    if highest - lowest < numbers.LEVEL_MIN_AMPLITUDE_V.value:
        return None
    counts, bounds = np.histogram(picked, bins=_BINS, range=(lowest, highest))
    half = _BINS // 2
    width = (highest - lowest) / _BINS
    modes = (int(np.argmax(counts[:half])), half + int(np.argmax(counts[half:])))
    levels, noises = [], []
    for mode in modes:
        centre = bounds[mode] + width / 2
        near = picked[np.abs(picked - centre) <= 0.1 * (highest - lowest)]
        level = float(np.median(near))
        levels.append(level)
        noises.append(robust_sd(near))
    found = Levels(levels[0], levels[1], max(noises))
    too_small = found.amplitude < numbers.LEVEL_MIN_AMPLITUDE_V.value
    too_noisy = found.amplitude < numbers.LEVEL_MIN_OVER_NOISE.value * found.noise
    return None if too_small or too_noisy else found


def _thinned(samples: Samples) -> Samples:
    step = max(1, samples.size // _MAX_SAMPLES)
    picked = samples[::step]
    return picked[np.isfinite(picked)]
