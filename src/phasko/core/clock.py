"""The crank clock: crank angle at any moment, carried smoothly between the teeth of the wheel."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import CubicSpline

from phasko.core import numbers
from phasko.core.documents.engine import Wheel
from phasko.core.teeth import ToothCount

__all__ = ["ClockPiece", "CrankClock", "crank_clock"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

_STENCIL_FINE = 4
_STENCIL_COARSE = 2
_FINE_TEETH = 20


@dataclass(frozen=True, slots=True, eq=False)
class ClockPiece:
    """One uninterrupted stretch of counted teeth.

    ``angles_deg`` is the running angle of each tooth's timing edge in the wheel frame (0 where the profile puts
    cylinder 1's TDC; which of the two turns is not decided here). ``usable_s`` leaves out start, stop and roll-back.
    ``tooth_sd_deg`` is the standard deviation of one tooth's place (spacing errors that repeat every turn);
    ``gap_sd_deg`` that of an angle carried across the widest gap.
    """

    times_s: Floats
    angles_deg: Floats
    usable_s: tuple[float, float]
    tooth_sd_deg: float
    gap_sd_deg: float
    wide_deg: float
    spline: CubicSpline

    def angle_deg(self, times_s: Floats) -> Floats:
        """Running crank angle at ``times_s``. Not valid outside the first and last tooth."""
        return np.asarray(self.spline(times_s), dtype=np.float64)

    def speed_rpm(self, times_s: Floats) -> Floats:
        """Momentary speed at ``times_s``."""
        return np.asarray(self.spline(times_s, 1), dtype=np.float64) / 6.0

    def time_s(self, angles_deg: Floats) -> Floats:
        """Moment at which the crank stands at each running angle, by the inverse of the spline (three Newton steps)."""
        guess = np.interp(angles_deg, self.angles_deg, self.times_s)
        low, high = self.times_s[0], self.times_s[-1]
        for _ in range(3):
            speed = np.maximum(np.asarray(self.spline(guess, 1)), 1e-3)
            guess = np.clip(guess - (np.asarray(self.spline(guess)) - angles_deg) / speed, low, high)
        return np.asarray(guess, dtype=np.float64)

    def place_sd_deg(self, angles_deg: Floats) -> Floats:
        """Repeating (not averaging out) error of the clock at each running angle, one standard deviation.

        Cubic interpolation between teeth with independent errors keeps 0.78 of their variance on the average over
        an interval (squared cardinal spline weights); at a tooth all of it.
        """
        index = np.clip(np.searchsorted(self.angles_deg, angles_deg) - 1, 0, self.angles_deg.size - 2)
        width = self.angles_deg[index + 1] - self.angles_deg[index]
        share = np.clip((angles_deg - self.angles_deg[index]) / width, 0, 1)
        kept = 1.0 - 1.6 * share * (1 - share) + 0.6 * (share * (1 - share)) ** 2
        near = self.tooth_sd_deg * np.sqrt(np.maximum(kept, 0.5))
        return np.where(width > self.wide_deg, np.maximum(self.gap_sd_deg, near), near)


@dataclass(frozen=True, slots=True, eq=False)
class CrankClock:
    """All pieces of one capture in time order. ``index_known`` is false when the profile has no place for the wheel."""

    pieces: tuple[ClockPiece, ...]
    teeth: ToothCount
    index_known: bool
    turned_deg: float
    turning_s: float

    def usable_at(self, time_s: float) -> bool:
        """Whether anything is measured then: starting, stopping and rolling back are left out."""
        return any(piece.usable_s[0] <= time_s <= piece.usable_s[1] for piece in self.pieces)

    @property
    def mean_rpm(self) -> float | None:
        """Mean speed over the time in which the crank turns."""
        return self.turned_deg / self.turning_s / 6.0 if self.turning_s > 0 else None


def crank_clock(times_s: Floats, count: ToothCount, wheel: Wheel, index_deg: float | None) -> CrankClock:
    """Builds the clock from counted teeth; pieces under one turn are left out, their time still counts as turning."""
    angles = np.array(wheel.angles_deg)
    pieces: list[ClockPiece] = []
    turned = turning = 0.0
    for number in np.unique(count.piece):
        rows = np.flatnonzero((count.piece == number) & (count.tooth_number >= 0))
        if rows.size < 2:
            continue
        tooth = count.tooth_number[rows]
        running = (index_deg or 0.0) + 360.0 * (tooth // count.teeth) + angles[tooth % count.teeth]
        turned += float(running[-1] - running[0])
        turning += float(times_s[rows[-1]] - times_s[rows[0]])
        if running[-1] - running[0] < 400.0 or rows.size < 4:
            continue
        after_rest = number > 0 or _starts_from_rest(times_s[rows], running)
        pieces.append(_piece(times_s[rows], running, tooth % count.teeth, after_rest))
    return CrankClock(tuple(pieces), count, index_deg is not None, turned, turning)


def _starts_from_rest(times_s: Floats, running: Floats) -> bool:
    first_turn = np.interp(running[0] + 360.0, running, times_s) - times_s[0]
    typical = (times_s[-1] - times_s[0]) * 360.0 / (running[-1] - running[0])
    opening = np.interp(running[0] + 30.0, running, times_s) - times_s[0]
    return bool(first_turn > 1.6 * typical or opening > 3.0 * typical / 12 or times_s[0] > 5.0 * typical / 12)


def _piece(times_s: Floats, running: Floats, tooth: Ints, after_rest: bool) -> ClockPiece:
    spline = CubicSpline(times_s, running)
    intervals = np.diff(running)
    wide = 1.5 * float(np.median(intervals))
    usable = _usable_span(times_s, running, after_rest)
    inside = (times_s >= usable[0]) & (times_s <= usable[1])
    tooth_sd = _tooth_sd(times_s[inside], running[inside], tooth[inside])
    gap_sd = tooth_sd
    if intervals.max() > wide and inside.sum() > 40:
        gap_sd = _gap_sd(times_s[inside], running[inside], tooth[inside])
    return ClockPiece(times_s, running, usable, tooth_sd, gap_sd, wide, spline)


def _usable_span(times_s: Floats, running: Floats, after_rest: bool) -> tuple[float, float]:
    """Leaves out the first turn from rest, and slow ends in which the crank starts, stops or rolls back."""
    speed = np.diff(running) / np.diff(times_s)
    fast = np.flatnonzero(speed > numbers.SPEED_FLOOR_SHARE.value * np.median(speed))
    first, last = times_s[fast[0]], times_s[fast[-1] + 1]
    if after_rest:
        first = max(first, float(np.interp(running[0] + 360.0, running, times_s)))
    return float(first), float(last)


def _tooth_sd(times_s: Floats, running: Floats, tooth: Ints) -> float:
    """Standard deviation of the spacing error that a tooth repeats every turn.

    Each tooth is predicted from its neighbours by Lagrange's formula (eight neighbours, four on coarse wheels); what
    repeats at one tooth over the turns is its spacing error, seen through the weights of that formula.
    """
    teeth = int(tooth.max()) + 1 if tooth.size else 0
    half = _STENCIL_FINE if teeth >= _FINE_TEETH else _STENCIL_COARSE
    residual, gain, centre = _prediction_residuals(times_s, running, half)
    if residual.size < 4:
        return 0.0
    place = tooth[centre]
    seen = np.bincount(place, minlength=teeth)
    mean = np.bincount(place, residual, teeth) / np.maximum(seen, 1)
    scatter = np.bincount(place, (residual - mean[place]) ** 2, teeth)
    gains = np.bincount(place, gain, teeth) / np.maximum(seen, 1)
    often = seen >= 2
    if not often.any():
        return float(np.sqrt(np.mean(residual**2 / gain)))
    within = scatter[often].sum() / np.maximum(seen[often] - 1, 1).sum()
    fixed = (mean[often] ** 2 - within / seen[often]) / gains[often]
    return float(np.sqrt(max(0.0, float(fixed.mean()))))


def _prediction_residuals(times_s: Floats, running: Floats, half: int) -> tuple[Floats, Floats, Ints]:
    """(residual in deg, variance gain, index) of every tooth predicted from ``half`` neighbours on each side."""
    n = times_s.size
    centre = np.arange(half, n - half)
    if centre.size < 1:
        return np.empty(0), np.empty(0), centre
    offsets = np.array([k for k in range(-half, half + 1) if k != 0])
    around = centre[:, None] + offsets
    span = running[centre + half] - running[centre - half]
    usual = np.median(np.diff(running)) * 2 * half
    coarse = half == _STENCIL_COARSE
    calm = (span < 1.05 * usual) | coarse
    centre, around = centre[calm], around[calm]
    t = times_s[around] - times_s[centre][:, None]
    scale = np.abs(t).max(axis=1, keepdims=True) if t.size else 1.0
    t = t / scale
    weights = np.ones_like(t)
    for j in range(offsets.size):
        for m in range(offsets.size):
            if m != j:
                weights[:, j] *= t[:, m] / (t[:, m] - t[:, j])
    predicted = np.sum(weights * running[around], axis=1)
    return predicted - running[centre], 1.0 + np.sum(weights**2, axis=1), centre


def _gap_sd(times_s: Floats, running: Floats, tooth: Ints) -> float:
    """Error of the spline inside the gap, tried out where teeth exist.

    Teeth are taken out at other places of the turn so that windows as wide as the gap arise; what the spline is off
    at the hidden teeth, turn after turn, is the error to expect in the real gap. It contains the teeth's own errors.
    """
    intervals = np.diff(running)
    pitch = float(np.median(intervals))
    hidden_count = max(1, round(float(intervals.max()) / pitch) - 1)
    teeth = int(tooth.max()) + 1
    errors: list[float] = []
    for start in np.linspace(hidden_count + 2, teeth - 2 * hidden_count - 3, 6).astype(int):
        hidden = (tooth >= start) & (tooth < start + hidden_count)
        hidden[:3] = hidden[-3:] = False
        if hidden.sum() < 1 or (~hidden).sum() < 8:
            continue
        trial = CubicSpline(times_s[~hidden], running[~hidden])
        off = np.asarray(trial(times_s[hidden])) - running[hidden]
        place = tooth[hidden]
        errors += [float(off[place == k].mean()) for k in np.unique(place)]
    return float(np.sqrt(np.mean(np.square(errors)))) if errors else 0.0
