"""Which tooth of the crank wheel each edge is: counting teeth, with lost and added edges named."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from typing import Literal

import numpy as np
import scipy

from phasko.core import numbers
from phasko.core.arrays import Bools, Floats, Ints
from phasko.core.crank.alignment import align
from phasko.core.crank.unlike_teeth import clearest_turn, turns_read_wrongly
from phasko.core.documents.analysis import Problem
from phasko.core.documents.engine import EngineProfile, Wheel
from phasko.core.engine.wheel import LONG_GAP, gaps_deg, repeats_deg
from phasko.core.found import Found
from phasko.core.signals.switching import EdgeTrain

__all__ = ["Irregularity", "ToothCount", "count_teeth", "counted_teeth"]


_ADDED = -1
_UNREAD = -2
_DOUBTFUL = -3
_FAR = -(1 << 40)
_CHUNK = 8192
_STANDS = 1.8
"""Teeth that come so many times slower than usual are those of a crank that stops, or rocks at a compression."""


@dataclass(frozen=True, slots=True)
class Irregularity:
    """Edges that are missing or too many at one moment; ``count`` of them."""

    time_s: float
    kind: Literal["missing", "extra"]
    count: int


@dataclass(frozen=True, slots=True, eq=False)
class ToothCount:
    """For each edge (at ``times_s``) its running tooth number (turn * teeth + tooth), below 0 when it is no tooth to
    rely on.

    ``tooth_number`` grows from 0 within a piece; pieces (``piece``, one number per edge) are separated by rest, or
    by a pause of over a turn. ``gaps_seen_share`` is the share of the wheel's long gaps that stood, as long as
    they should be, where the count passed them: near 1 on the right wheel, near 0 on another (1 without long gaps).
    """

    times_s: Floats
    tooth_number: Ints
    piece: Ints
    teeth: int
    irregularities: tuple[Irregularity, ...]
    unread_share: float
    repeats_deg: float
    gaps_seen_share: float

    @property
    def odd_share(self) -> float:
        """Edges that are in no run long enough to be counted, and those lost and added, over all edges."""
        odd = sum(one.count for one in self.irregularities)
        return self.unread_share + odd / max(1, self.times_s.size)

    @property
    def signature(self) -> bool:
        """Whether a turn looks the same only once."""
        return self.repeats_deg == 360.0


def count_teeth(times_s: Floats, wheel: Wheel) -> ToothCount:
    """Numbers the teeth of a whole capture.

    Where every interval is the next one of the wheel the count just runs on; where one is not, the next turns are read
    by the likeliest alignment of edges and teeth (``alignment``), which sees the gap before it decides. ``times_s``
    of shape (edges,) in s.
    """
    gaps = gaps_deg(wheel)
    number = np.full(times_s.size, _UNREAD, dtype=np.int64)
    doubtful = np.zeros(times_s.size, dtype=np.bool_)
    piece = np.zeros(times_s.size, dtype=np.int64)
    found: list[Irregularity] = []
    bounds = itertools.pairwise([0, *_stops(times_s, gaps.size), times_s.size])
    for place, (start, stop) in enumerate(bounds):
        part = slice(start, stop)
        piece[part] = place
        # Fewer edges than that cannot show a gap and would be counted from anywhere.
        if stop - start > max(4, min(gaps.size, 12)):
            run = _Run(times_s[part], gaps)
            run.count()
            number[part] = run.number
            odd, doubtful[part] = _irregularities(times_s[part], number[part])
            found += odd
            number[part][turns_read_wrongly(times_s[part], number[part], gaps)] = _UNREAD
    unread = float(np.count_nonzero(number == _UNREAD)) / max(1, times_s.size)
    seen = _gaps_seen_share(times_s, number, piece, gaps)
    number[doubtful] = _DOUBTFUL
    return ToothCount(
        times_s=times_s,
        tooth_number=number,
        piece=piece,
        teeth=gaps.size,
        irregularities=tuple(found),
        unread_share=unread,
        repeats_deg=repeats_deg(gaps),
        gaps_seen_share=seen,
    )


def _stops(times_s: Floats, teeth: int) -> list[int]:
    """Edges before which nothing came for so long that the count cannot be carried over: rest, or over a turn."""
    intervals = np.diff(times_s)
    if not intervals.size:
        return []
    stops = []
    for at in np.flatnonzero(intervals > min(numbers.REST_GAP_S.value, 4 * float(np.median(intervals)))).tolist():
        around = np.concatenate([intervals[max(0, at - 8) : at], intervals[at + 1 : at + 9]])
        turn = float(np.median(around)) * teeth if around.size >= 8 else numbers.REST_GAP_S.value
        if intervals[at] > min(numbers.REST_GAP_S.value, 1.3 * max(turn, 4 * float(np.median(intervals)))):
            stops.append(at + 1)
    return stops


class _Run:
    """One stretch without rest, counted from its first edge."""

    def __init__(self, times_s: Floats, gaps: Floats) -> None:
        self.t = times_s
        self.gaps = gaps
        self.teeth = gaps.size
        self.number = np.full(times_s.size, _UNREAD, dtype=np.int64)

    def count(self) -> None:
        """Fills ``number``, counting from tooth 1 of the first turn; on a wheel of unlike teeth from its clearest turn
        on, forwards and backwards."""
        anchor = clearest_turn(self.t, self.gaps)
        if anchor is None:
            self._count_on(self._aligned(0, min(self.t.size, self._window), None, None))
            return
        edge, tooth = anchor
        forwards, backwards = _Run(self.t[edge:], self.gaps), _Run(-self.t[edge::-1], self.gaps[::-1])
        forwards._count_from(tooth)
        backwards._count_from(-tooth % self.teeth)
        behind = np.where(backwards.number >= 0, tooth + -tooth % self.teeth - backwards.number, _FAR)
        ahead = np.where(forwards.number >= 0, forwards.number, _FAR)
        both = np.concatenate([behind[:0:-1], ahead])
        lowest = int(both[both != _FAR].min())
        both[both != _FAR] += -(lowest // self.teeth) * self.teeth
        self.number = np.where(both == _FAR, _ADDED, both)

    @property
    def _window(self) -> int:
        return 3 * self.teeth + 16

    def _count_from(self, tooth: int) -> None:
        """Counts on from edge 0, which is that tooth."""
        self.number[0] = tooth
        self._count_on(0)

    def _count_on(self, at: int) -> None:
        n, window = self.t.size, self._window
        while at < n - 1:
            clean = self._clean(at)
            if at + clean >= n - 1:
                break
            # Two edges back: the interval that looks odd may have begun with a wrong edge before it.
            at = max(at, at + clean - 2)
            slowness = None
            if at > 0 and self.number[at - 1] == self.number[at] - 1:
                gap = float(self.gaps[self.number[at - 1] % self.teeth])
                slowness = float(np.log(max(self.t[at] - self.t[at - 1], 1e-12) / gap))
            at = self._aligned(at, min(n, at + window), int(self.number[at]), slowness)

    def _aligned(self, start: int, stop: int, running: int | None, log_slowness: float | None) -> int:
        """Reads one window; the last turn of it is left for the next. Returns the edge from which to go on."""
        tooth = None if running is None else running % self.teeth
        found = align(self.t[start:stop], self.gaps, tooth, log_slowness)
        base = found.tooth if running is None else running
        kept = np.where(found.steps >= 0, found.steps + base, _ADDED)
        # The gap that decides may lie beyond the window's end, so the last turn is read again with the next window.
        last = found.steps.size if stop == self.t.size else max(8, found.steps.size - self.teeth - 8)
        teeth = np.flatnonzero(kept[:last] >= 0)
        last = int(teeth[-1]) + 1 if stop != self.t.size and teeth.size > 1 else last
        self.number[start : start + last] = kept[:last]
        return start + last - 1 if stop != self.t.size else stop

    def _clean(self, at: int) -> int:
        """How many edges after ``at`` are, one after the other, the next teeth; counts them."""
        total = 0
        while True:
            chunk = self.t[at + total : at + total + _CHUNK]
            if chunk.size < 3:
                break
            tooth = (int(self.number[at]) + total + np.arange(chunk.size - 1)) % self.teeth
            change = np.diff(np.log(np.maximum(np.diff(chunk), 1e-12) / self.gaps[tooth]))
            odd = np.flatnonzero(np.abs(change) > numbers.TOOTH_RATIO_ACCEPT.value)
            total += int(odd[0]) + 1 if odd.size else chunk.size - 1
            if odd.size or chunk.size < _CHUNK:
                break
        last = at + total
        if last == self.t.size - 2:
            total, last = total + 1, last + 1
        self.number[at : last + 1] = self.number[at] + np.arange(total + 1)
        return total


def _irregularities(times_s: Floats, number: Ints) -> tuple[list[Irregularity], Bools]:
    """Lost and added edges, dated; and which teeth stand so near to an added edge that neither is relied on."""
    counted = np.flatnonzero(number >= 0)
    doubtful = np.zeros(number.size, dtype=np.bool_)
    found: list[Irregularity] = []
    odd = np.flatnonzero((np.diff(counted) > 1) | (np.diff(number[counted]) > 1))
    for a, b in zip(counted[odd].tolist(), counted[odd + 1].tolist(), strict=True):
        teeth = int(number[b] - number[a])
        if teeth > 1:
            found.append(Irregularity(float(times_s[a]), "missing", teeth - 1))
        if b - a > 1:
            found.append(Irregularity(float(times_s[a + 1]), "extra", b - a - 1))
            span = (times_s[b] - times_s[a]) / teeth
            doubtful[a] |= _beside(times_s[a + 1 : b] - times_s[a], span)
            doubtful[b] |= _beside(times_s[b] - times_s[a + 1 : b], span)
    return found, doubtful


def _beside(distance_s: Floats, tooth_s: float) -> bool:
    """Whether any added edge is so near that it could be the tooth itself, yet not the tooth's own bounce."""
    return bool(np.any((distance_s > 0.02 * tooth_s) & (distance_s < 0.45 * tooth_s)))


def _gaps_seen_share(times_s: Floats, number: Ints, piece: Ints, gaps: Floats) -> float:
    """Share of the long gaps passed that one interval of the right ratio to its neighbours fills. Where the crank
    nearly stands its teeth tell of nothing but that."""
    teeth = gaps.size
    long = np.flatnonzero(gaps > LONG_GAP * np.median(gaps))
    tooth = np.flatnonzero(number >= 0)
    if not long.size or tooth.size < 4:
        # Nothing to see is no sign of a wrong wheel.
        return 1.0
    first, last = tooth[1:-2], tooth[2:-1]
    pace = (times_s[last] - times_s[first]) / np.maximum(number[last] - number[first], 1)
    brisk = scipy.ndimage.median_filter(pace, size=9, mode="nearest") < _STANDS * np.median(pace)
    first, last = first[brisk], last[brisk]
    passed = 0
    for gap in long.tolist():
        upto = (number[last] - 1 - gap) // teeth - (number[first] - 1 - gap) // teeth
        passed += int(np.clip(upto[piece[first] == piece[last]], 0, None).sum())
    plain = (number[last] - number[first] == 1) & (last - first == 1)
    slowness = np.log((times_s[last] - times_s[first]) / gaps[number[first] % teeth])
    ordinary = plain & ~np.isin(number[first] % teeth, long)
    usual = (
        scipy.ndimage.median_filter(slowness[ordinary], size=5, mode="nearest")
        if ordinary.sum() >= 5
        else slowness[ordinary]
    )
    here = np.flatnonzero(plain & np.isin(number[first] % teeth, long))
    if not usual.size:
        return 0.0
    around = np.interp(times_s[first[here]], times_s[first[ordinary]], usual)
    fits = np.abs(slowness[here] - around) < numbers.TOOTH_RATIO_ACCEPT.value
    return float(np.count_nonzero(fits)) / passed if passed else 1.0


def counted_teeth(train: EdgeTrain, profile: EngineProfile) -> Found[tuple[Floats, ToothCount]]:
    """Timing edges (n,) in s and their count. An inductive sensor probed on its other wire is mirrored: the crossings
    over the teeth then run the other way, and only they have the whole gap in one interval."""
    crank = profile.crank
    times = train.of_kind(crank.timing_edge)
    count = count_teeth(times, crank.known_wheel)
    if crank.sensor != "vr" or not count.signature:
        return Found((times, count))
    other = train.of_kind("rising" if crank.timing_edge == "falling" else "falling")
    mirrored = count_teeth(other, crank.known_wheel)
    # A real mirror image reads far better; a small difference is noise and leaves the signal as it was described.
    if _misfit(mirrored) + 0.2 < _misfit(count):
        text = "The crank signal is mirrored: the sensor is probed on its other wire. It was turned round and measured."
        return Found((other, mirrored), (Problem(code="mirrored_signal", channel=train.channel, text=text),))
    return Found((times, count))


def _misfit(count: ToothCount) -> float:
    return count.odd_share + 1.0 - count.gaps_seen_share
