"""Edges of inductive (VR) signals: where the voltage crosses its own middle, armed by lobes that follow speed."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
import scipy

from phasko.core import numbers
from phasko.core.arrays import Bools, Floats, Ints
from phasko.core.signals.levels import Levels
from phasko.core.signals.recording import Channel, Recording, Samples
from phasko.core.signals.switching import EdgeTrain, mid_crossings
from phasko.core.uncertainty import robust_sd

__all__ = ["InductiveEdges", "inductive_edges", "of_one_kind"]

EdgeKind = Literal["rising", "falling"]

_MIDDLE_PARTS = 8
_NEIGHBOURS = 9
"""The largest of so many neighbouring lobes sets the arming height. They span about four teeth: few enough to follow
the speed, many enough to bridge a gap."""


@dataclass(frozen=True, slots=True, eq=False)
class InductiveEdges:
    """Crossings, and how long each takes from one lobe's flank to the next one's (s)."""

    train: EdgeTrain
    widths_s: Floats

    @property
    def steep_kind(self) -> EdgeKind:
        """The direction of the crossings over the teeth themselves: the two lobes of one tooth stand close together,
        those of different teeth far apart."""
        rising = self.train.rising
        if not rising.any() or rising.all():
            return "rising" if rising.any() else "falling"
        return "rising" if np.median(self.widths_s[rising]) < np.median(self.widths_s[~rising]) else "falling"


def inductive_edges(channel: Channel, recording: Recording) -> InductiveEdges | None:
    """Crossings of the signal's own middle between a lobe of either sign and the next; ``None`` without any.

    A lobe arms when it reaches ``VR_ARMING`` of the largest of its neighbours, so that the threshold follows the tooth
    height, which grows with speed, and small waves in a gap arm nothing. The crossing is the zero of a straight line
    through the samples between the lobes, which averages their noise. ``rising`` tells the direction.

    The middle is first the median, then the mean between two like crossings: the voltage is the change of a flux that
    is there what it was before, so that over whole waves nothing but the bias remains.
    """
    good = channel.samples[np.isfinite(channel.samples)]
    if good.size < 16:
        return None
    noise = _noise(good)
    first = _crossings(channel, recording, float(np.median(good)), noise)
    if first is None:
        return None
    whole = (first.train.of_kind("rising") - recording.start_s) / recording.interval_s
    if whole.size < 2:
        return first
    middle, doubt = _middle(channel.samples, whole)
    return _crossings(channel, recording, middle, noise, doubt)


def _middle(samples: Samples, whole: Floats) -> tuple[float, float]:
    """(mean over whole waves, its standard deviation in V): from the means of a few parts, weighed by their length.
    ``whole``: crossings of one direction, in samples."""
    parts = np.linspace(0, whole.size - 1, min(whole.size, _MIDDLE_PARTS + 1)).astype(int)
    borders = np.round(whole[parts]).astype(int)
    stretches = [samples[a:b] for a, b in itertools.pairwise(borders.tolist())]
    good = [stretch[np.isfinite(stretch)] for stretch in stretches]
    means = np.array([part.mean(dtype=np.float64) for part in good if part.size])
    lengths = np.array([part.size for part in good if part.size])
    share = lengths / lengths.sum()
    middle = float(share @ means)
    if means.size < 2:
        return middle, math.inf
    return middle, float(np.sqrt(share**2 @ (means - middle) ** 2 * means.size / (means.size - 1)))


def _crossings(
    channel: Channel, recording: Recording, middle: float, noise: float, doubt_v: float = math.inf
) -> InductiveEdges | None:
    wave = channel.samples - np.float32(middle)
    starts, peaks = _lobes(wave)
    armed = _armed(np.abs(peaks), noise)
    if armed.size < 4:
        return None
    starts, peaks = starts[armed], peaks[armed]
    turns = np.flatnonzero(np.sign(peaks[1:]) != np.sign(peaks[:-1]))
    rising = peaks[turns + 1] > 0
    height = numbers.VR_FLANK.value * np.minimum(np.abs(peaks[turns]), np.abs(peaks[turns + 1]))
    left, right = _flanks(wave, starts, turns, rising, height)
    positions = mid_crossings(channel.samples, left, right, middle)
    usual = float(np.median(np.abs(peaks)))
    levels = Levels(middle - usual, middle + usual, noise)
    times_s = recording.start_s + positions * recording.interval_s
    order = np.argsort(times_s, kind="stable")
    widths_s = np.asarray((right - left)[order] * recording.interval_s, dtype=np.float64)
    # A wrong middle shifts all crossings of one direction alike: by its error over the slope of the flank.
    doubt_v = min(math.hypot(doubt_v, numbers.VR_MIDDLE.value * usual), numbers.VR_MIDDLE_MOST.value * usual)
    alike_s = doubt_v * float(np.median(widths_s / (2.0 * height[order]))) if order.size else 0.0
    train = EdgeTrain(channel.name, times_s[order], rising[order], levels, recording.interval_s, alike_s)
    return InductiveEdges(train, widths_s)


def of_one_kind(train: EdgeTrain, kind: EdgeKind, called: EdgeKind) -> EdgeTrain:
    """Only the crossings of one direction, under the name that the profile gives them."""
    times = train.of_kind(kind)
    rising = np.full(times.size, called == "rising")
    return EdgeTrain(train.channel, times, rising, train.levels, train.interval_s, train.alike_s)


def _noise(samples: Samples) -> float:
    """Standard deviation of the noise from second differences, which a smooth wave hardly has."""
    # Noise is the same everywhere: a sample of it is enough in a recording of an hour.
    step = max(1, samples.size // 400_000)
    picked = samples[: (samples.size // step) * step]
    second = picked[2:] - 2 * picked[1:-1] + picked[:-2]
    return robust_sd(second[::step], about=0.0) / math.sqrt(6.0)


def _lobes(wave: Samples) -> tuple[Ints, Floats]:
    """(start index, signed peak) of every stretch of one sign; a missing sample belongs to the stretch before it."""
    positive = wave > 0
    starts = np.concatenate([[0], np.flatnonzero(positive[1:] != positive[:-1]) + 1])
    finite = np.where(np.isfinite(wave), wave, np.float32(0))
    high = np.maximum.reduceat(finite, starts)
    low = np.minimum.reduceat(finite, starts)
    return starts, np.where(high >= -low, high, low).astype(np.float64)


def _armed(heights: Floats, noise: float) -> Ints:
    """Lobes over the noise and their share of the largest neighbour, twice, so that noise does not crowd it out."""
    kept = np.flatnonzero(heights > max(numbers.VR_OVER_NOISE.value * noise, numbers.VR_LEAST_V.value))
    # The second round no longer sees the noise that the first removed from between the lobes.
    for _ in range(2):
        if not kept.size:
            return kept
        envelope = scipy.ndimage.maximum_filter1d(heights[kept], _NEIGHBOURS, mode="nearest")
        kept = kept[heights[kept] > numbers.VR_ARMING.value * envelope]
    return kept


def _flanks(wave: Samples, starts: Ints, turns: Ints, rising: Bools, height: Floats) -> tuple[Ints, Ints]:
    """Last sample beyond ``height`` on the old side and first one beyond it on the new side, for every crossing."""
    left = starts[turns + 1] - 1
    right = starts[turns + 1].copy()
    sign = np.where(rising, 1.0, -1.0)
    begin = starts[turns]
    for _ in range(4096):
        inside = (-sign * wave[left] < height) & (left > begin)
        if not inside.any():
            break
        left = np.where(inside, left - 1, left)
    last = wave.size - 1
    for _ in range(4096):
        inside = (sign * wave[right] < height) & (right < last)
        if not inside.any():
            break
        right = np.where(inside, right + 1, right)
    return left, right
