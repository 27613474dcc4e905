"""Which tooth of the crank wheel each edge is: counting teeth, with lost and added edges named."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from phasko.core import numbers
from phasko.core.documents.engine import Wheel

__all__ = ["Irregularity", "ToothCount", "count_teeth", "recognised_wheel", "wheel_name"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

_SLIP_MISFIT = 0.18
"""Natural logarithm of the ratio by which an interval may differ from a gap and still be one out of place."""
_ADDED = -1
_LOST = -2


@dataclass(frozen=True, slots=True)
class Irregularity:
    """Edges that are missing or too many at one moment; ``count`` of them. ``at_gap``: noticed only at the next gap."""

    time_s: float
    kind: Literal["missing", "extra"]
    count: int
    at_gap: bool = False


@dataclass(frozen=True, slots=True, eq=False)
class ToothCount:
    """For each edge its running tooth number (turn * teeth + tooth), or below 0 when it is no tooth.

    ``tooth_number`` grows from 0 within a piece; pieces (``piece``, one number per edge) are separated by rest or by
    a place where the count was lost. ``gaps_seen_share`` is the share of the wheel's long gaps that stood, as long as
    they should be, where the count passed them: near 1 on the right wheel, near 0 on another (1 without long gaps).
    """

    tooth_number: Ints
    piece: Ints
    teeth: int
    irregularities: tuple[Irregularity, ...]
    misfit_share: float
    repeats_deg: float
    gaps_seen_share: float

    @property
    def signature(self) -> bool:
        """Whether a turn looks the same only once."""
        return self.repeats_deg == 360.0


def wheel_name(wheel: Wheel) -> str:
    """Short name as the trade writes it: ``60-2``, ``36-1-1`` for separate gaps, ``24 irregular``."""
    if wheel.slots is None:
        return f"{len(wheel.teeth_deg or ())} irregular"
    return "-".join([str(wheel.slots), *[str(length) for length in _gap_lengths(wheel)]])


def _gap_lengths(wheel: Wheel) -> list[int]:
    absent = set(wheel.missing)
    slots = wheel.slots or 0
    starts = [s for s in sorted(absent) if ((s - 2) % slots) + 1 not in absent]
    lengths = []
    for start in starts:
        length = 1
        while ((start - 1 + length) % slots) + 1 in absent:
            length += 1
        lengths.append(length)
    return lengths


def gaps_deg(wheel: Wheel) -> Floats:
    """Crank degrees from each tooth's timing edge to the next one's."""
    angles = np.array(wheel.angles_deg)
    return np.diff(np.append(angles, angles[0] + 360.0))


def count_teeth(times_s: Floats, wheel: Wheel) -> ToothCount:
    """Numbers the teeth of a whole capture.

    The ratio of neighbouring intervals, which does not depend on speed, is held against the wheel's own ratios in
    blocks of a little over one turn; the block that fits best anchors the count, from there it is carried both ways,
    each interval being read as the number of teeth (and added edges) that fits the speed best.
    """
    gaps = gaps_deg(wheel)
    number = np.full(times_s.size, _LOST, dtype=np.int64)
    piece = np.zeros(times_s.size, dtype=np.int64)
    found: list[Irregularity] = []
    stops = np.flatnonzero(np.diff(times_s) > numbers.REST_GAP_S.value) + 1
    bounds = [0, *stops.tolist(), times_s.size]
    misfits, next_piece = 0, 0
    for start, stop in itertools.pairwise(bounds):
        run = _count_run(times_s[start:stop], gaps)
        number[start:stop] = run.number
        piece[start:stop] = run.piece + next_piece
        next_piece = int(piece[start:stop].max(initial=next_piece)) + 1
        misfits += run.misfits
        found += run.irregularities
    counted = max(1, times_s.size)
    slips = sum(odd.at_gap for odd in found)
    seen = _gaps_seen_share(times_s, number, piece, gaps, slips)
    return ToothCount(number, piece, gaps.size, tuple(found), misfits / counted, _repeats_deg(gaps), seen)


def _repeats_deg(gaps: Floats) -> float:
    """The smallest rotation after which the wheel looks the same: 360 with a signature, the pitch of an even wheel,
    180 with two like gaps opposite each other."""
    for shift in range(1, gaps.size):
        if gaps.size % shift == 0 and np.allclose(np.roll(gaps, shift), gaps, rtol=0.05):
            return float(gaps[:shift].sum())
    return 360.0


def _gaps_seen_share(times_s: Floats, number: Ints, piece: Ints, gaps: Floats, slips: int) -> float:
    """Share of the long gaps passed that one interval of the right ratio to its neighbours fills, without those that
    were made to fit by setting the count right there."""
    teeth = gaps.size
    long = np.flatnonzero(gaps > 1.5 * np.median(gaps))
    tooth = np.flatnonzero(number >= 0)
    if not long.size or tooth.size < 4:
        return 1.0
    first, last = tooth[1:-2], tooth[2:-1]
    passed = 0
    for gap in long.tolist():
        upto = (number[last] - 1 - gap) // teeth - (number[first] - 1 - gap) // teeth
        passed += int(np.clip(upto[piece[first] == piece[last]], 0, None).sum())
    plain = (number[last] - number[first] == 1) & (last - first == 1) & np.isin(number[first] % teeth, long)
    i = first[plain]
    i = i[(i >= 1) & (i + 2 < times_s.size)]
    around = np.sqrt((times_s[i] - times_s[i - 1]) * (times_s[i + 2] - times_s[i + 1]))
    at = number[i] % teeth
    expected = gaps[at] / np.sqrt(gaps[at - 1] * gaps[(at + 1) % teeth])
    fits = np.abs(np.log((times_s[i + 1] - times_s[i]) / around / expected)) < numbers.TOOTH_RATIO_ACCEPT.value
    return max(0.0, float(np.count_nonzero(fits)) - slips) / passed if passed else 1.0


@dataclass(slots=True, eq=False)
class _Run:
    number: Ints
    piece: Ints
    irregularities: list[Irregularity]
    misfits: int


def _count_run(times_s: Floats, gaps: Floats) -> _Run:
    """One stretch without rest. Where the count breaks, the remainder is counted as a new piece."""
    n = times_s.size
    run = _Run(np.full(n, _LOST, dtype=np.int64), np.zeros(n, dtype=np.int64), [], 0)
    start, piece = 0, 0
    while n - start > max(4, min(gaps.size, 12)):
        votes = _block_votes(times_s[start:], gaps)
        if votes is None:
            break
        anchor, tooth = votes
        stop = _carry_both_ways(times_s, gaps, start, start + anchor, tooth, run)
        run.piece[start:stop] = piece
        piece += 1
        start = stop
    run.misfits += int(np.count_nonzero(run.number == _LOST))
    run.piece[start:] = piece
    return run


def _block_votes(times_s: Floats, gaps: Floats) -> tuple[int, int] | None:
    """(edge, its tooth) of the clearest stretch of about one turn, or ``None`` when there is too little."""
    intervals = np.diff(times_s)
    ratios = np.diff(np.log(np.maximum(intervals, 1e-9)))
    teeth = gaps.size
    expected = np.diff(np.log(np.append(gaps, gaps[0])))
    block = min(max(teeth + 2, 8), ratios.size)
    if block < 3:
        return None
    best: tuple[float, int, int] | None = None
    shifts = np.arange(teeth)
    for start in range(0, ratios.size - block + 1, max(1, block // 2)):
        phase = (shifts[:, None] + np.arange(block)) % teeth
        cost = np.minimum(np.abs(ratios[start : start + block] - expected[phase]), 1.0).mean(axis=1)
        shift = int(np.argmin(cost))
        rating = float(cost[shift])
        if best is None or rating < best[0] - 1e-3:
            best = (rating, start, shift)
    return None if best is None else (best[1], best[2])


def _carry_both_ways(times_s: Floats, gaps: Floats, start: int, anchor: int, tooth: int, run: _Run) -> int:
    """Fills ``run`` from the anchor; returns the edge after the last one counted."""
    teeth = gaps.size
    forward, forward_odd, last = _carry(times_s[anchor:], gaps, tooth)
    backward_times = -times_s[start : anchor + 1][::-1]
    backward_gaps = gaps[::-1]
    mirrored = (teeth - tooth) % teeth
    backward, backward_odd, first = _carry(backward_times, backward_gaps, mirrored)
    base = tooth + teeth * (2 + backward.max(initial=0) // teeth)
    run.number[anchor : anchor + last] = np.where(forward[:last] >= 0, forward[:last] - tooth + base, forward[:last])
    counted = backward[:first]
    number = np.where(counted >= 0, base - (counted - mirrored), counted)[::-1]
    run.number[anchor + 1 - first : anchor + 1] = number
    run.irregularities += [replace(odd, time_s=-odd.time_s) for odd in backward_odd]
    run.irregularities += forward_odd
    if first < anchor + 1 - start:
        run.misfits += anchor + 1 - start - first
    return anchor + last


def _carry(times_s: Floats, gaps: Floats, tooth: int) -> tuple[Ints, list[Irregularity], int]:
    """Counts forward from edge 0, which is ``tooth``; returns numbers, irregularities and how many edges were read."""
    teeth = gaps.size
    doubled = np.concatenate([[0.0], np.cumsum(np.tile(gaps, 3))]).tolist()
    t = times_s.tolist()
    number = np.full(len(t), _ADDED, dtype=np.int64)
    odd: list[Irregularity] = []
    current, at = tooth, 0
    number[0] = tooth
    slowness = _first_slowness(t, gaps, tooth)
    landmarks, last_odd = _landmarks(gaps), 0
    while at + 1 < len(t):
        slip = _slip(t, at, slowness, gaps, landmarks, current % teeth) if landmarks else 0
        if slip:
            odd.append(Irregularity(t[at], "missing" if slip > 0 else "extra", abs(slip), True))
            current += slip
            _set_right(number, last_odd if at - last_odd < 2 * teeth else at, at, slip)
            last_odd = at
        step = _step(t, at, doubled, current % teeth, teeth, slowness)
        if step is None:
            return number, odd, at + 1
        added, forward = step
        if added:
            odd.append(Irregularity(t[at + 1], "extra", added))
        if forward > 1:
            odd.append(Irregularity(t[at], "missing", forward - 1))
        last_odd = at if added or forward > 1 else last_odd
        degrees = doubled[current % teeth + forward] - doubled[current % teeth]
        now = (t[at + 1 + added] - t[at]) / degrees
        slowness = now if added == 0 and forward == 1 else 0.5 * (now + slowness)
        at += 1 + added
        current += forward
        number[at] = current
    return number, odd, len(t)


def _landmarks(gaps: Floats) -> list[int]:
    """Teeth before the long gaps of a wheel with one or two of them: where a count that slipped is set right."""
    long = np.flatnonzero(gaps > 1.5 * np.median(gaps))
    return long.tolist() if 0 < long.size <= 2 else []


def _slip(t: list[float], at: int, slowness: float, gaps: Floats, landmarks: list[int], tooth: int) -> int:
    """By how many teeth (one or two) the count is off: one of the next intervals is as long as a gap, and the count
    has the gap before or behind it."""
    near = any((tooth + k) % gaps.size in landmarks for k in (-2, -1, 0, 1, 2, 3))
    if not near:
        return 0
    for ahead in range(min(3, len(t) - 1 - at)):
        waited = t[at + 1 + ahead] - t[at + ahead]
        for off in (0, 1, -1, 2, -2):
            place = (tooth + off + ahead) % gaps.size
            if place in landmarks and abs(math.log(waited / (slowness * gaps[place]))) < _SLIP_MISFIT:
                return off
    return 0


def _set_right(number: Ints, since: int, at: int, slip: int) -> None:
    """Moves the count by ``slip`` from the last irregularity on, where it must have gone wrong; edges that would then
    stand where an earlier tooth stands were added ones."""
    stretch = number[since : at + 1]
    counted = stretch >= 0
    stretch[counted] += slip
    earlier = number[max(0, since - 8) : since]
    highest = int(earlier.max(initial=-1))
    stretch[counted & (stretch <= highest)] = _ADDED


def _first_slowness(t: list[float], gaps: Floats, tooth: int) -> float:
    """Seconds per degree at the start: the median over the first few intervals."""
    count = min(5, len(t) - 1)
    if count < 1:
        return 1.0
    parts = [(t[i + 1] - t[i]) / float(gaps[(tooth + i) % gaps.size]) for i in range(count)]
    return max(float(np.median(parts)), 1e-12)


def _step(
    t: list[float], at: int, angle: list[float], tooth: int, teeth: int, slowness: float
) -> tuple[int, int] | None:
    """(added edges to skip, teeth to advance) that fits the speed best; ``None`` when nothing fits."""
    plain = abs(math.log((t[at + 1] - t[at]) / (slowness * (angle[tooth + 1] - angle[tooth]))))
    if plain < numbers.TOOTH_RATIO_ACCEPT.value:
        return 0, 1
    best, choice = plain, (0, 1)
    for added in range(min(4, len(t) - 1 - at)):
        waited = (t[at + 1 + added] - t[at]) / slowness
        for forward in range(1, teeth + 1):
            degrees = angle[tooth + forward] - angle[tooth]
            misfit = abs(math.log(waited / degrees)) + 0.25 * added + 0.25 * (forward > 1)
            if misfit < best:
                best, choice = misfit, (added, forward)
            if degrees > 3 * waited:
                break
    return choice if best < numbers.TOOTH_RATIO_BREAK.value else None


def recognised_wheel(times_s: Floats) -> str | None:
    """Names a wheel from its intervals alone, ``60-2`` or ``36-1``; ``None`` when there is no regular gap."""
    intervals = np.diff(times_s)
    intervals = intervals[intervals < numbers.REST_GAP_S.value]
    if intervals.size < 12:
        return None
    before, after = intervals[:-2], intervals[2:]
    ratio = intervals[1:-1] / np.sqrt(before * after)
    places = np.flatnonzero(ratio > 1.6)
    if places.size < 2:
        return None
    between = int(np.median(np.diff(places)))
    regular = np.mean(np.diff(places) == between)
    lost = round(float(np.median(ratio[places]))) - 1
    return f"{between + lost}-{lost}" if regular > 0.7 and lost >= 1 else None
