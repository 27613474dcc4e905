"""What carrying the crank angle costs where no teeth are: across a gap, between the teeth of a coarse wheel."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from phasko.core import numbers
from phasko.core.arrays import Floats, Ints
from phasko.core.engine.firing_ripple import FiringRipple

__all__ = ["ThinTeeth", "between_error_sd", "gap_error_sd", "thin_teeth"]

_TRIED_TEETH = 12
_TRIED_TURNS = 40
_MODEL_TURNS = 8


def gap_error_sd(times_s: Floats, running_deg: Floats, tooth: Ints) -> float:
    """Standard deviation (deg) of the spline inside the gap, tried out where teeth exist.

    Teeth are taken out at other places of the turn so that windows as wide as the gap arise; what the spline is off at
    the hidden teeth, turn after turn, is the error to expect in the real gap. It contains the teeth's own errors.
    ``times_s`` (n,) in s, ``running_deg`` (n,) in deg, ``tooth`` (n,) the number of each.
    """
    teeth = int(tooth.max()) + 1
    few = slice(0, _TRIED_TURNS * teeth)
    times_s, running_deg, tooth = times_s[few], running_deg[few], tooth[few]
    intervals = np.diff(running_deg)
    pitch = float(np.median(intervals))
    hidden_count = max(1, round(float(intervals[intervals < 360.0].max()) / pitch) - 1)
    errors: list[float] = []
    for start in np.linspace(hidden_count + 2, teeth - 2 * hidden_count - 3, 6).astype(int):
        errors += _errors_at(times_s, running_deg, tooth, (tooth >= start) & (tooth < start + hidden_count))
    return float(np.sqrt(np.mean(np.square(errors)))) if errors else 0.0


def between_error_sd(times_s: Floats, running_deg: Floats, tooth: Ints) -> float:
    """Standard deviation (deg) of the angle halfway between two teeth of a fine wheel, from the firing ripple.

    Teeth are hidden in turn and the spline through the others held against it: that is the error at twice the spacing.
    A cubic spline's error shrinks with the fourth power of the spacing (de Boor, A Practical Guide to Splines, 1978,
    chapter V). The ripple comes round with the firings, so that edges share part of the error: ``BETWEEN_SHARED`` makes
    up for counting them as independent. ``times_s`` (n,) in s, ``running_deg`` (n,) in deg, ``tooth`` (n,) the number
    of each.
    """
    teeth = int(tooth.max()) + 1
    few = slice(0, _TRIED_TURNS * teeth)
    seen = _hidden_in_turn(times_s[few], running_deg[few], tooth[few], teeth)
    return numbers.BETWEEN_SHARED.value / 16.0 * float(np.sqrt(np.mean(np.square(seen)))) if seen else 0.0


@dataclass(frozen=True, slots=True, eq=False)
class ThinTeeth:
    """A wheel with few teeth per firing: what a spline through its teeth misses of the ripple between them.

    ``between`` is the spline through the ripple's own waves at the teeth, over three cycles; ``scale`` makes them as
    large as the capture shows them.
    """

    ripple: FiringRipple
    between: scipy.interpolate.CubicSpline
    scale: float

    def missed_deg(self, angles_deg: Floats) -> Floats:
        """(angles x parts) in deg: each independent part of the error, at its standard deviation; what edges at like
        places of the cycle share shows as like rows. ``angles_deg`` (n,), the result (n, parts), in deg."""
        at = angles_deg % 720.0
        return np.asarray(self.scale * (self.ripple.waves(at) - self.between(at + 720.0)), dtype=np.float64)


def thin_teeth(times_s: Floats, running_deg: Floats, tooth: Ints, ripple: FiringRipple) -> ThinTeeth:
    """How large the ripple is, told by hiding teeth, and with that what may be missed between all of them.

    The ripple's waves go through the same trial as the capture: teeth hidden in turn, the spline through the others
    held against them. What the capture is off over what the waves are off is the scale. Where teeth cannot be hidden,
    the scale makes the error halfway between teeth ``THIN_UNKNOWN_SD_DEG``. ``times_s`` (n,) in s, ``running_deg`` (n,)
    in deg, ``tooth`` (n,) the number of each.
    """
    places, tooth = _places(running_deg, tooth)
    teeth = places.size
    known = np.concatenate([places + 360.0 * turn for turn in range(6)])
    made = ThinTeeth(ripple, scipy.interpolate.CubicSpline(known, ripple.waves(known)), 1.0)
    few = slice(0, _TRIED_TURNS * teeth)
    seen = _hidden_in_turn(times_s[few], running_deg[few], tooth[few], teeth) if teeth > 2 else []
    turns = np.concatenate([places + 360.0 * turn for turn in range(_MODEL_TURNS)])
    which = np.tile(np.arange(teeth), _MODEL_TURNS)
    expected = float(np.mean([_waves_off(turns, which == k, ripple) for k in _tried(teeth)])) if seen else 0.0
    if expected > 0.0:
        return ThinTeeth(ripple, made.between, float(np.sqrt(np.mean(np.square(seen)) / expected)))
    halfway = made.missed_deg(places + 0.5 * np.diff(known)[:teeth])
    size = float(np.sqrt(np.mean(np.sum(halfway**2, axis=1))))
    return ThinTeeth(ripple, made.between, numbers.THIN_UNKNOWN_SD_DEG.value / size)


def _places(running_deg: Floats, tooth: Ints) -> tuple[Floats, Ints]:
    """(where each tooth that was seen stands, ascending over one turn, deg; the teeth counted among those)."""
    _, first, rank = np.unique(tooth, return_index=True, return_inverse=True)
    at = running_deg[first]
    return at[0] % 360.0 + (at - at[0]) % 360.0, rank


def _waves_off(turns_deg: Floats, hidden: np.ndarray, ripple: FiringRipple) -> float:
    """Mean square of what the spline is off at a hidden tooth, averaged over the turns as in the capture."""
    waves = ripple.waves(turns_deg)
    trial = scipy.interpolate.CubicSpline(turns_deg[~hidden], waves[~hidden])
    inner = np.flatnonzero(hidden)[2:-2]
    off = np.asarray(trial(turns_deg[inner])) - waves[inner]
    return float(np.sum(off.mean(axis=0) ** 2))


def _tried(teeth: int) -> list[int]:
    """The teeth that are hidden, one after the other: all of them, or a dozen round the wheel."""
    return [int(k) for k in np.unique(np.linspace(0, teeth - 1, min(teeth, _TRIED_TEETH)).astype(int))]


def _hidden_in_turn(times_s: Floats, running_deg: Floats, tooth: Ints, teeth: int) -> list[float]:
    return [off for k in _tried(teeth) for off in _errors_at(times_s, running_deg, tooth, tooth == k)]


def _errors_at(times_s: Floats, running_deg: Floats, tooth: Ints, hidden: np.ndarray) -> list[float]:
    """By hidden tooth, how far the spline through the other teeth is off, averaged over the turns."""
    hidden = hidden.copy()
    hidden[:3] = hidden[-3:] = False
    if hidden.sum() < 1 or (~hidden).sum() < 8:
        return []
    trial = scipy.interpolate.CubicSpline(times_s[~hidden], running_deg[~hidden])
    off = np.asarray(trial(times_s[hidden])) - running_deg[hidden]
    place = tooth[hidden]
    return [float(off[place == k].mean()) for k in np.unique(place)]
