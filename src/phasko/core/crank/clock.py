"""The crank clock: crank angle at any moment, carried smoothly between the teeth of the wheel."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
import scipy

from phasko.core import numbers
from phasko.core.arrays import Bools, Floats, Ints
from phasko.core.crank.interpolation_error import ThinTeeth, between_error_sd, gap_error_sd, thin_teeth
from phasko.core.crank.tooth_count import ToothCount
from phasko.core.crank.tooth_errors import ToothErrors, misread_teeth, tooth_errors
from phasko.core.documents.engine import Wheel
from phasko.core.engine.firing_ripple import FiringRipple
from phasko.core.engine.wheel import LONG_GAP, gaps_deg

__all__ = ["ClockPiece", "ClockSetting", "CrankClock", "ToothSensor", "crank_clock"]


_END_DEG = 1080.0
"""A slow start or stop is told by comparing its speed with that of so many degrees at either end."""
_LEANING_TEETH = 3
"""So many teeth beside a gap an inductive sensor's field leans towards it; it halves from tooth to tooth."""
_HOLE_PITCHES = 6.0
"""Where no edge comes for this many pitches beyond the wheel's own widest gap, nothing is measured."""


@dataclass(frozen=True, slots=True, eq=False)
class ClockPiece:
    """One uninterrupted stretch of counted teeth.

    ``angles_deg`` is the running angle of each tooth's timing edge in the wheel frame (0 where the profile puts
    cylinder 1's TDC; which of the two turns is not decided here), the teeth's own errors removed as far as known.
    ``usable_s`` leaves out start, stop and roll-back, ``holes_s`` are stretches without teeth inside it.
    ``errors`` are those of the teeth (``tooth``: which one each is); ``gap_sd_deg`` is the standard deviation of an
    angle carried across the widest gap, ``between_sd_deg`` that of one between two teeth; ``thin`` is what a wheel
    misses that samples the firing ripple thinly, in the place of both; ``common_sd_deg`` is that of what all teeth
    share, the middle of an inductive signal.
    """

    times_s: Floats
    angles_deg: Floats
    tooth: Ints
    usable_s: tuple[float, float]
    holes_s: tuple[tuple[float, float], ...]
    errors: ToothErrors
    gap_sd_deg: float
    between_sd_deg: float
    thin: ThinTeeth | None
    common_sd_deg: float
    wide_deg: float
    spline: scipy.interpolate.CubicSpline

    @property
    def tooth_sd_deg(self) -> float:
        """Standard deviation of one tooth's place, before anything was removed."""
        return self.errors.sd_deg

    def usable(self, times_s: Floats) -> Bools:
        """Which of the moments lie in the usable part, outside holes. ``times_s`` and the result: (n,), in s."""
        good = (times_s >= self.usable_s[0]) & (times_s <= self.usable_s[1])
        for from_s, to_s in self.holes_s:
            good &= (times_s < from_s) | (times_s > to_s)
        return good

    def angle_deg(self, times_s: Floats) -> Floats:
        """Running crank angle at ``times_s``. Not valid outside the first and last tooth. ``times_s`` (n,) in s, the
        result (n,) in deg."""
        return np.asarray(self.spline(times_s), dtype=np.float64)

    def speed_rpm(self, times_s: Floats) -> Floats:
        """Momentary speed at ``times_s``. ``times_s`` (n,) in s, the result (n,) in rpm."""
        return np.asarray(self.spline(times_s, 1), dtype=np.float64) / 6.0

    def time_s(self, angles_deg: Floats) -> Floats:
        """Moment at which the crank stands at each running angle, by the inverse of the spline (three Newton steps).
        ``angles_deg`` (n,) in deg, the result (n,) in s."""
        guess = np.interp(angles_deg, self.angles_deg, self.times_s)
        low, high = self.times_s[0], self.times_s[-1]
        for _ in range(3):
            speed = np.maximum(np.asarray(self.spline(guess, 1)), 1e-3)
            guess = np.clip(guess - (np.asarray(self.spline(guess)) - angles_deg) / speed, low, high)
        return np.asarray(guess, dtype=np.float64)

    def place_sd_deg(self, angles_deg: Floats) -> Floats:
        """Repeating (not averaging out) error of the clock at each running angle, one standard deviation: of the teeth
        and of what a coarse wheel misses between them. ``angles_deg`` and the result: (n,), in deg."""
        missed = np.sum(self.missed_deg(angles_deg) ** 2, axis=1)
        return np.asarray(np.sqrt(self.teeth_sd_deg(angles_deg) ** 2 + missed))

    def missed_deg(self, angles_deg: Floats) -> Floats:
        """What a coarse wheel may miss between its teeth, at each running angle: (angles x independent parts), deg. No
        parts on a fine wheel. ``angles_deg`` (n,), the result (n, parts), in deg."""
        return self.thin.missed_deg(angles_deg) if self.thin is not None else np.zeros((angles_deg.size, 0))

    def teeth_sd_deg(self, angles_deg: Floats) -> Floats:
        """What is unknown about the four teeth around, through the weights of cubic interpolation; on fine wheels with
        what the ripple may do between two teeth, and in a gap at least what carrying across it costs. ``angles_deg``
        and the result: (n,), in deg."""
        index = np.clip(np.searchsorted(self.angles_deg, angles_deg) - 1, 1, self.angles_deg.size - 3)
        around = index[:, None] + np.arange(-1, 3)
        weights = _cubic_weights(self.angles_deg[around], angles_deg)
        places = self.tooth[around]
        shared = self.errors.covariance_deg2[places[:, :, None], places[:, None, :]]
        near = np.sqrt(np.maximum(np.einsum("ni,nij,nj->n", weights, shared, weights), 0.0))
        width = self.angles_deg[index + 1] - self.angles_deg[index]
        share = np.clip((angles_deg - self.angles_deg[index]) / width, 0, 1)
        # A parabola: nothing at the teeth themselves, most halfway between them.
        near = np.hypot(near, self.between_sd_deg * 4 * share * (1 - share))
        return np.asarray(np.where(width > self.wide_deg, np.maximum(self.gap_sd_deg, near), near))


def _cubic_weights(knots_deg: Floats, at_deg: Floats) -> Floats:
    """Lagrange weights of four knots, one row per angle; clipped, since beyond the knots nothing is extrapolated."""
    weights = np.ones_like(knots_deg)
    for j in range(4):
        for m in range(4):
            if m != j:
                weights[:, j] *= (at_deg - knots_deg[:, m]) / (knots_deg[:, j] - knots_deg[:, m])
    return np.clip(weights, -1.0, 1.0)


@dataclass(frozen=True, slots=True)
class ToothSensor:
    """What the pick-up of the teeth adds: the field of an ``inductive`` one leans towards a gap, so that the crossings
    of the teeth beside it are less sure; ``alike_s`` is what shifts all edges alike (s, standard deviation)."""

    inductive: bool = False
    alike_s: float = 0.0


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
        return any(bool(piece.usable(np.array([time_s]))[0]) for piece in self.pieces)

    @property
    def mean_rpm(self) -> float | None:
        """Mean speed over the time in which the crank turns."""
        return self.turned_deg / self.turning_s / 6.0 if self.turning_s > 0 else None


@dataclass(frozen=True, slots=True)
class ClockSetting:
    """What the clock must know besides its teeth: the crank angle at tooth 1 (deg, ``None``: not known), how the engine
    may turn unevenly between its firings, how its sensor reads, and where the capture begins and ends (s): an engine
    that stands there starts from rest, or has run out."""

    index_deg: float | None
    ripple: FiringRipple
    sensor: ToothSensor = ToothSensor()
    span_s: tuple[float, float] = (0.0, math.inf)

    def with_index(self, index_deg: float) -> ClockSetting:
        """The same with another angle at tooth 1, in deg."""
        return replace(self, index_deg=index_deg)


def crank_clock(times_s: Floats, count: ToothCount, wheel: Wheel, setting: ClockSetting) -> CrankClock:
    """Builds the clock from counted teeth at ``times_s`` (n,) in s; pieces under one turn are left out, their time
    still counts as turning."""
    angles = np.array(wheel.angles_deg)
    index_deg, ripple, sensor, span_s = setting.index_deg, setting.ripple, setting.sensor, setting.span_s
    built = _Built(_sensor_covariance(wheel, sensor.inductive), float(np.median(gaps_deg(wheel))))
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
        # A little over one turn is the least that can repeat a tooth; what is shorter cannot be checked against itself.
        if running[-1] - running[0] < 400.0 or rows.size < 4:
            continue
        # Only where something was odd: looking at every tooth costs time, and a clean count has no misread ones.
        if count.irregularities:
            sound = ~misread_teeth(times_s[rows], running, tooth % count.teeth, count.teeth)
            rows, tooth, running = rows[sound], tooth[sound], running[sound]
        last = number == count.piece.max()
        rests = (
            number > 0 or _starts_from_rest(times_s[rows], running, span_s[0]),
            not last or _runs_out(times_s[rows], running, span_s[1]),
        )
        common = sensor.alike_s * float((running[-1] - running[0]) / (times_s[rows[-1]] - times_s[rows[0]]))
        made = _piece(
            times_s=times_s[rows],
            running=running,
            tooth=tooth % count.teeth,
            built=built,
            rests=rests,
            ripple=ripple,
            common_sd_deg=common,
        )
        if made is not None:
            pieces.append(made)
    return CrankClock(tuple(pieces), count, index_deg is not None, turned, turning)


@dataclass(frozen=True, slots=True, eq=False)
class _Built:
    """What the wheel and its sensor bring: the covariance of the sensor at the teeth, and the usual pitch."""

    sensor_deg2: Floats
    pitch_deg: float


def _sensor_covariance(wheel: Wheel, inductive: bool) -> Floats:
    """What an inductive sensor adds at the teeth (deg2): beside a long gap the field leans over."""
    after = gaps_deg(wheel)
    usual = float(np.median(after))
    long = after > LONG_GAP * usual
    if not inductive:
        return np.zeros((after.size, after.size))
    share = np.zeros(after.size)
    for away in range(_LEANING_TEETH):
        share = np.maximum(share, 0.5**away * (np.roll(long, -away) | np.roll(long, away + 1)))
    return np.diag((numbers.VR_BESIDE_GAP.value * usual * share) ** 2)


def _starts_from_rest(times_s: Floats, running: Floats, start_s: float) -> bool:
    first_turn = np.interp(running[0] + 360.0, running, times_s) - times_s[0]
    typical = (times_s[-1] - times_s[0]) * 360.0 / (running[-1] - running[0])
    # The first 30 degrees of a crank that turned already take a twelfth of a turn's time.
    opening = np.interp(running[0] + 30.0, running, times_s) - times_s[0]
    return bool(first_turn > 1.6 * typical or opening > 3.0 * typical / 12 or times_s[0] - start_s > 5.0 * typical / 12)


def _runs_out(times_s: Floats, running: Floats, end_s: float) -> bool:
    typical = (times_s[-1] - times_s[0]) * 360.0 / (running[-1] - running[0])
    closing = times_s[-1] - np.interp(running[-1] - 30.0, running, times_s)
    stands = math.isfinite(end_s) and end_s - times_s[-1] > 5.0 * typical / 12
    return bool(closing > 3.0 * typical / 12 or stands)


def _piece(
    times_s: Floats,
    running: Floats,
    tooth: Ints,
    built: _Built,
    rests: tuple[bool, bool],
    ripple: FiringRipple,
    common_sd_deg: float,
) -> ClockPiece | None:
    teeth = built.sensor_deg2.shape[0]
    intervals = np.diff(running)
    usual = float(np.median(intervals))
    wide = 1.5 * usual
    usable = _usable_span(times_s, running, *rests)
    if usable[1] <= usable[0]:
        return None
    # A compression may pass within 120 degrees: what the crank did meanwhile is then not known, whatever the wheel.
    holes = np.flatnonzero(intervals > min(_widest(tooth, intervals, teeth) + _HOLE_PITCHES * usual, 120.0))
    inside = (times_s >= usable[0]) & (times_s <= usable[1])
    errors = tooth_errors(times_s[inside], running[inside], tooth[inside], teeth, built.sensor_deg2, ripple)
    better = running + errors.removed_deg[tooth]
    gap_sd = between_sd = 0.0
    thin: ThinTeeth | None = None
    about = (times_s[inside], better[inside], tooth[inside])
    if built.pitch_deg > numbers.PITCH_THIN_DEG.value:
        thin = thin_teeth(*about, ripple)
    elif inside.sum() > 40:
        gap_sd = gap_error_sd(*about) if intervals.max() > wide else 0.0
        between_sd = between_error_sd(*about)
    spans = tuple((float(times_s[i]), float(times_s[i + 1])) for i in holes)
    spline = _spline(times_s, better, holes, usual)
    return ClockPiece(
        times_s=times_s,
        angles_deg=better,
        tooth=tooth,
        usable_s=usable,
        holes_s=spans,
        errors=errors,
        gap_sd_deg=gap_sd,
        between_sd_deg=between_sd,
        thin=thin,
        common_sd_deg=common_sd_deg,
        wide_deg=wide,
        spline=spline,
    )


def _widest(tooth: Ints, intervals: Floats, teeth: int) -> float:
    """The widest gap of the wheel itself, from neighbouring teeth only."""
    neighbours = (tooth[1:] - tooth[:-1]) % teeth == 1
    return float(intervals[neighbours & (intervals < 360.0)].max(initial=0.0))


def _spline(times_s: Floats, running: Floats, holes: Ints, usual_deg: float) -> scipy.interpolate.CubicSpline:
    """Cubic spline through the teeth; a hole is bridged by points that keep it from swinging beyond its borders."""
    if not holes.size:
        return scipy.interpolate.CubicSpline(times_s, running)
    # A cubic spline over a wide hole would overshoot and let the crank seem to turn back; the monotone one cannot.
    bridge = scipy.interpolate.PchipInterpolator(times_s, running)
    added = []
    for i in holes.tolist():
        count = int((running[i + 1] - running[i]) / usual_deg)
        added.append(np.linspace(times_s[i], times_s[i + 1], count + 1)[1:-1])
    extra = np.concatenate(added)
    everything = np.concatenate([times_s, extra])
    order = np.argsort(everything)
    return scipy.interpolate.CubicSpline(everything[order], np.concatenate([running, bridge(extra)])[order])


def _usable_span(times_s: Floats, running: Floats, after_rest: bool, before_rest: bool) -> tuple[float, float]:
    """Leaves out the first turn from rest and the last one before it, turns in which the engine runs out, and slow
    ends in which the crank starts, stops or rolls back. Slow is meant against the turns next to that end, so that
    cranking before a start is kept."""
    speed = np.diff(running) / np.diff(times_s)
    opening = running[:-1] < running[0] + _END_DEG
    closing = running[1:] > running[-1] - _END_DEG
    share = numbers.SPEED_FLOOR_SHARE.value
    fast = np.flatnonzero(speed > share * np.where(opening, np.median(speed[opening]), np.median(speed[closing])))
    first, last = times_s[fast[0]], times_s[fast[-1] + 1]
    if after_rest:
        first = max(first, float(np.interp(running[0] + 360.0, running, times_s)))
    end = float(running[-1])
    if before_rest:
        end -= 360.0
    # With fuel off an engine runs out over several turns, each slower than those before; cranking does not do that.
    while end - running[0] > 3 * 360.0 and _slows(times_s, running, end):
        end -= 360.0
    return float(first), float(min(last, np.interp(end, running, times_s)))


def _slows(times_s: Floats, running: Floats, end_deg: float) -> bool:
    """Whether the turn before ``end_deg`` took a quarter longer than the one two turns earlier."""
    at = np.interp(end_deg - np.array([0.0, 360.0, 720.0, 1080.0]), running, times_s)
    return bool(at[0] - at[1] > 1.25 * (at[2] - at[3]))
