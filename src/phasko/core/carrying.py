"""What carrying the crank angle costs where no teeth are: across a gap, between the teeth of a coarse wheel."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import CubicSpline

from phasko.core import numbers

__all__ = ["gap_error_sd", "thin_error_sd"]

_TRIED_TEETH = 12
_TRIED_TURNS = 40

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


def gap_error_sd(times_s: Floats, running_deg: Floats, tooth: Ints) -> float:
    """Standard deviation (deg) of the spline inside the gap, tried out where teeth exist.

    Teeth are taken out at other places of the turn so that windows as wide as the gap arise; what the spline is off
    at the hidden teeth, turn after turn, is the error to expect in the real gap. It contains the teeth's own errors.
    """
    intervals = np.diff(running_deg)
    pitch = float(np.median(intervals))
    hidden_count = max(1, round(float(intervals[intervals < 360.0].max()) / pitch) - 1)
    teeth = int(tooth.max()) + 1
    errors: list[float] = []
    for start in np.linspace(hidden_count + 2, teeth - 2 * hidden_count - 3, 6).astype(int):
        errors += _errors_at(times_s, running_deg, tooth, (tooth >= start) & (tooth < start + hidden_count))
    return float(np.sqrt(np.mean(np.square(errors)))) if errors else 0.0


def thin_error_sd(times_s: Floats, running_deg: Floats, tooth: Ints, firing_deg: float) -> float:
    """Standard deviation (deg) of the angle halfway between two teeth, from the firing ripple: large on coarse wheels.

    Teeth are hidden in turn and the spline through the others held against it: that is the error at twice the
    spacing. A cubic spline's error shrinks with the fourth power of the spacing (de Boor, A Practical Guide to
    Splines, 1978, chapter V) as long as there are several teeth in one firing interval, hardly at all when there are
    only two; with fewer the ripple is not sampled, and what the hidden teeth show is too little. The ripple comes
    round with the firings, so that edges share part of the error: ``THIN_SHARED`` makes up for counting them as
    independent.
    """
    teeth = int(tooth.max()) + 1
    pitch = 360.0 / teeth
    few = slice(0, _TRIED_TURNS * teeth)
    times_s, running_deg, tooth = times_s[few], running_deg[few], tooth[few]
    errors: list[float] = []
    for hidden in np.unique(np.linspace(0, teeth - 1, min(teeth, _TRIED_TEETH)).astype(int)).tolist():
        errors += _errors_at(times_s, running_deg, tooth, tooth == hidden)
    if not errors:
        return float(numbers.THIN_UNKNOWN_SD_DEG.value)
    per_firing = firing_deg / pitch
    kept = float(2.0 ** np.interp(np.log2(per_firing), [0.4, 1.0, 3.0], [1.0, 0.0, -4.0]))
    return kept * numbers.THIN_SHARED.value * float(np.sqrt(np.mean(np.square(errors))))


def _errors_at(times_s: Floats, running_deg: Floats, tooth: Ints, hidden: np.ndarray) -> list[float]:
    """By hidden tooth, how far the spline through the other teeth is off, averaged over the turns."""
    hidden = hidden.copy()
    hidden[:3] = hidden[-3:] = False
    if hidden.sum() < 1 or (~hidden).sum() < 8:
        return []
    trial = CubicSpline(times_s[~hidden], running_deg[~hidden])
    off = np.asarray(trial(times_s[hidden])) - running_deg[hidden]
    place = tooth[hidden]
    return [float(off[place == k].mean()) for k in np.unique(place)]
