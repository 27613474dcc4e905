"""What a column looks like before anybody has said what it is: flat, switching, waves, spikes, humps."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from phasko.core.documents.capture import CaptureDescription, ChannelDescription
from phasko.core.signals.inductive import inductive_edges
from phasko.core.signals.recording import Channel, Recording, Samples
from phasko.core.signals.switching import EdgeTrain, switching_edges
from phasko.core.uncertainty import robust_sd

__all__ = ["Shape", "shape_of"]

Kind = Literal["flat", "switching", "waves", "spikes", "analogue"]

_MOST_SAMPLES = 2_000_000
_FEWEST_SAMPLES = 300_000
_LOOKED_AT_S = 5.0
_NEAR_LEVEL = 0.12
_RESTS = 0.65
_BETWEEN_MOST = 0.25
_SLOW_EDGE_S = 3e-4
_QUIET_BETWEEN = 0.5


@dataclass(frozen=True, slots=True, eq=False)
class Shape:
    """``low``, ``middle`` and ``high`` are robust (0.1, 50 and 99.9 % of the samples), in the file's unit;
    ``waves`` are the crossings of a signal that swings both ways, ``edges`` those between two levels."""

    name: str
    unit: str
    kind: Kind
    low: float
    middle: float
    high: float
    noise: float
    edges: EdgeTrain | None
    waves: EdgeTrain | None
    recording: Recording

    @property
    def amplitude(self) -> float:
        return self.high - self.low

    @property
    def samples(self) -> Samples:
        """The samples that were looked at: (n,), in the column's own unit."""
        return self.recording.channels[0].samples

    @property
    def settled_swing(self) -> float:
        """Swing (5 to 95 %) once the first third is over; never nothing."""
        later = self.samples[self.samples.size // 3 :]
        later = later[np.isfinite(later)]
        low, high = np.percentile(later[:: max(1, later.size // 100_000)], (5, 95))
        return max(float(high - low), 1e-9)

    @property
    def quiet_between(self) -> bool:
        """Whether it stays near its middle most of the time: single lobes, no steady swing."""
        picked = self.samples[:: max(1, self.samples.size // 200_000)]
        near = np.abs(picked - self.middle) < max(0.12 * self.amplitude, 3.0 * self.noise)
        return bool(np.mean(near) > _QUIET_BETWEEN)

    @property
    def volts(self) -> bool:
        """Whether the file does not say that it is anything else than a voltage."""
        return self.unit in ("", "V", "mV")


def shape_of(name: str, unit: str, samples: Samples, start_s: float, interval_s: float) -> Shape:
    """The shape of a column, from its middle: six seconds, or two million samples where these are fewer. ``samples``
    (n,) in ``unit``, ``start_s`` and ``interval_s`` in s."""
    most = min(_MOST_SAMPLES, max(_FEWEST_SAMPLES, round(_LOOKED_AT_S / interval_s)))
    first = max(0, (samples.size - most) // 2)
    part = samples[first : first + most]
    begins = start_s + first * interval_s
    described = ChannelDescription(column=name, role="other", unit=unit or "V")
    description = CaptureDescription(schema_="phasko.capture/1", data="x", channels=[described])
    recording = Recording(name, description, begins, interval_s, (Channel(described, part),))
    finite = part[np.isfinite(part)]
    if finite.size < 64:
        return Shape(
            name=name,
            unit=unit,
            kind="flat",
            low=0.0,
            middle=0.0,
            high=0.0,
            noise=0.0,
            edges=None,
            waves=None,
            recording=recording,
        )
    low, middle, high = (float(v) for v in np.percentile(finite[:: max(1, finite.size // 200_000)], (0.1, 50, 99.9)))
    noise = _noise(finite)
    kind: Kind = "analogue"
    edges = waves = None
    spiky = _spiky(finite, low, high, middle)
    swings_little = high - low <= max(1e-3 * max(abs(low), abs(high)), 1e-9)
    only_noise = high - low <= 8.0 * noise and float(np.std(finite)) < 0.25 * (high - low)
    if (swings_little or only_noise) and not spiky:
        kind = "flat"
    elif spiky:
        kind, edges = "spikes", None
    else:
        edges = switching_edges(recording.channels[0], recording)
        if edges is not None and not _rests_at_levels(finite, edges):
            edges = None
        if edges is not None:
            kind = "switching"
        else:
            found = inductive_edges(recording.channels[0], recording)
            if found is not None and _swings_both_ways(middle, low, high) and found.train.times_s.size >= 16:
                kind, waves = "waves", found.train
    return Shape(
        name=name,
        unit=unit,
        kind=kind,
        low=low,
        middle=middle,
        high=high,
        noise=noise,
        edges=edges,
        waves=waves,
        recording=recording,
    )


def _noise(samples: Samples) -> float:
    """Standard deviation of the noise, from second differences."""
    step = max(1, samples.size // 400_000)
    second = samples[2::step] - 2 * samples[1:-1:step] + samples[: -2 or None : step][: samples[2::step].size]
    return robust_sd(second, about=0.0) / math.sqrt(6.0)


def _spiky(samples: Samples, low: float, high: float, middle: float) -> bool:
    """Whether the extremes lie far beyond where nearly all samples are: an ignition coil's primary."""
    usual = np.percentile(samples[:: max(1, samples.size // 200_000)], (1.0, 99.0))
    reach = max(float(samples.max()) - middle, middle - float(samples.min()))
    return reach > 3.0 * max(float(usual[1] - usual[0]), high - middle, 1e-9) and reach > 0.5 * (high - low)


def _rests_at_levels(samples: Samples, edges: EdgeTrain) -> bool:
    """Whether it rests at either of two levels, rather than swinging up to one of them."""
    levels = edges.levels
    picked = samples[:: max(1, samples.size // 200_000)]
    reach = max(_NEAR_LEVEL * levels.amplitude, 4.0 * levels.noise)
    between = float(np.mean((picked > levels.at(0.2)) & (picked < levels.at(0.8))))
    each_s = between * samples.size * edges.interval_s / max(1, edges.times_s.size)
    if between > _BETWEEN_MOST or (each_s > _SLOW_EDGE_S and each_s > 0.15 * float(np.median(np.diff(edges.times_s)))):
        return False
    above = picked[picked > levels.at(0.5)]
    below = picked[picked <= levels.at(0.5)]
    if above.size < 8 or below.size < 8:
        return False
    near_high, near_low = np.abs(above - levels.high) < reach, np.abs(below - levels.low) < reach
    return bool(np.mean(near_high) > _RESTS and np.mean(near_low) > _RESTS)


def _swings_both_ways(middle: float, low: float, high: float) -> bool:
    up, down = high - middle, middle - low
    return 0.2 < up / max(down, 1e-12) < 5.0 and abs(middle) < high - low
