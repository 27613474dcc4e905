"""The last seconds of a recording in bounded memory: thinned samples to measure, levels to draw."""

from __future__ import annotations

import math
import threading
from dataclasses import dataclass

import numpy as np

from phasko.core.arrays import Floats, Samples

__all__ = ["Levels", "Ring", "Stretch"]

KEPT_S = 6.0
THINNED_HZ = 50_000.0
SO_FAR_STEP_S = 0.05


@dataclass(frozen=True, slots=True, eq=False)
class Stretch:
    """Thinned samples of the last seconds, V at the instrument: ``volts`` of shape (channels, samples)."""

    start_s: float
    interval_s: float
    volts: Samples


@dataclass(frozen=True, slots=True, eq=False)
class Levels:
    """Minimum and maximum of every channel in steps: ``low`` and ``high`` of shape (channels, steps), V."""

    start_s: float
    step_s: float
    low: Floats
    high: Floats


class Ring:
    """Written by the one that receives, read by those that measure and draw."""

    def __init__(self, channels: int, rate_hz: float, ranges_v: list[float], most_s: float) -> None:
        self._lock = threading.Lock()
        self._rate = rate_hz
        self._thin = max(1, math.ceil(rate_hz / THINNED_HZ))
        size = int(KEPT_S * rate_hz / self._thin) + 1
        self._volts = np.zeros((channels, size), dtype=np.float32)
        self._written = 0
        self._per_step = max(1, round(SO_FAR_STEP_S * rate_hz))
        # Of a long recording the steps grow coarser, so that the whole of it always fits.
        steps = max(64, min(4096, int(most_s / SO_FAR_STEP_S) + 2))
        self._low = np.full((channels, steps), np.inf)
        self._high = np.full((channels, steps), -np.inf)
        self._limits = np.array(ranges_v, dtype=np.float32)[:, None]
        self.clipped = np.zeros(channels, dtype=np.int64)
        self.samples = 0

    @property
    def interval_s(self) -> float:
        """Between two thinned samples (s)."""
        return self._thin / self._rate

    def add(self, volts: Samples) -> None:
        """The next samples of every channel, of shape (channels, samples), V; missing ones are NaN."""
        first = (-self.samples) % self._thin
        thinned = volts[:, first :: self._thin]
        with self._lock:
            self._put(thinned)
            self._levels(volts)
            self.clipped += np.count_nonzero(np.abs(volts) >= 0.999 * self._limits, axis=1)
            self.samples += volts.shape[1]

    def _put(self, thinned: Samples) -> None:
        size = self._volts.shape[1]
        thinned = thinned[:, -size:]
        at = self._written % size
        part = min(size - at, thinned.shape[1])
        self._volts[:, at : at + part] = thinned[:, :part]
        self._volts[:, : thinned.shape[1] - part] = thinned[:, part:]
        self._written += thinned.shape[1]

    def _levels(self, volts: Samples) -> None:
        count, done = volts.shape[1], 0
        while done < count:
            step = (self.samples + done) // self._per_step
            if step >= self._low.shape[1]:
                self._coarser()
                continue
            upto = min(count, (step + 1) * self._per_step - self.samples)
            part = volts[:, done:upto]
            with np.errstate(invalid="ignore"):
                self._low[:, step] = np.fmin(self._low[:, step], np.fmin.reduce(part, axis=1))
                self._high[:, step] = np.fmax(self._high[:, step], np.fmax.reduce(part, axis=1))
            done = upto

    def _coarser(self) -> None:
        steps = self._low.shape[1] // 2
        self._low[:, :steps] = np.minimum(self._low[:, 0 : 2 * steps : 2], self._low[:, 1 : 2 * steps : 2])
        self._high[:, :steps] = np.maximum(self._high[:, 0 : 2 * steps : 2], self._high[:, 1 : 2 * steps : 2])
        self._low[:, steps:], self._high[:, steps:] = np.inf, -np.inf
        self._per_step *= 2

    def last(self, seconds: float) -> Stretch:
        """The last seconds that are held, or all there is."""
        with self._lock:
            size = self._volts.shape[1]
            held = min(self._written, size, max(2, int(seconds / self.interval_s)))
            places = (self._written - held + np.arange(held)) % size
            volts = self._volts[:, places]
            start = (self._written - held) * self.interval_s
        return Stretch(start, self.interval_s, volts)

    def drawn(self, seconds: float, points: int) -> Levels:
        """The last seconds as minimum and maximum of at most ``points`` steps."""
        stretch = self.last(seconds)
        count = stretch.volts.shape[1]
        per = max(1, math.ceil(count / points))
        whole = count // per
        if whole < 1:
            nothing = np.zeros((self._volts.shape[0], 0))
            return Levels(stretch.start_s, stretch.interval_s, nothing, nothing)
        table = stretch.volts[:, count - whole * per :].reshape(self._volts.shape[0], whole, per)
        start = stretch.start_s + (count - whole * per) * stretch.interval_s
        return Levels(
            start,
            per * stretch.interval_s,
            np.asarray(np.fmin.reduce(table, axis=2), dtype=np.float64),
            np.asarray(np.fmax.reduce(table, axis=2), dtype=np.float64),
        )

    def so_far(self) -> Levels:
        """The whole recording so far."""
        with self._lock:
            steps = min(self._low.shape[1], -(-self.samples // self._per_step))
            low, high = self._low[:, :steps].copy(), self._high[:, :steps].copy()
            step_s = self._per_step / self._rate
        return Levels(0.0, step_s, low, high)
