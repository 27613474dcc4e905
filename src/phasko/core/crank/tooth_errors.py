"""Spacing errors that the teeth of a real wheel repeat every turn: how large, which tooth, and what stays unknown."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from phasko.core import numbers
from phasko.core.arrays import Bools, Floats, Ints
from phasko.core.crank.tooth_prediction import Prediction, by_neighbours, half_width, over_gaps
from phasko.core.engine.firing_ripple import FiringRipple
from phasko.core.uncertainty import robust_sd

__all__ = ["ToothErrors", "misread_teeth", "tooth_errors"]


_SPREAD_STEPS = 10.0 ** np.arange(-4.0, 0.01, 0.25)
"""Spreads of tooth errors that are tried, as shares of the largest that is believed."""
_RIPPLE_STEPS = 10.0 ** np.arange(-1.5, 1.51, 0.25)
"""Sizes of the ripple that are tried, as shares of the one that would explain every difference between teeth."""


@dataclass(frozen=True, slots=True, eq=False)
class ToothErrors:
    """``removed_deg``: estimated error of each tooth, positive where it passes early for its nominal place (its true
    angle lies further on). ``covariance_deg2`` (teeth x teeth) is what remains unknown; ``sd_deg`` is the standard
    deviation of one tooth before anything was removed."""

    removed_deg: Floats
    covariance_deg2: Floats
    sd_deg: float


def tooth_errors(
    times_s: Floats, running_deg: Floats, tooth: Ints, teeth: int, sensor_deg2: Floats, ripple: FiringRipple
) -> ToothErrors:
    """What the teeth of a wheel are off by, from turns that each repeat it.

    Each tooth is predicted from its neighbours by Lagrange's formula (eight neighbours, four on coarse wheels); what
    repeats over the turns is its own error less the weighted ones of its neighbours. These equations are solved with a
    normal prior of the errors' own spread and some run-out (linear Gaussian estimate, Kay, Fundamentals of Statistical
    Signal Processing I, 1993, theorem 11.1), so that slow errors round the wheel, which no neighbour shows, stay in
    the covariance. ``sensor_deg2`` (teeth x teeth) is what the sensor may add, beside gaps above all.

    Nothing is removed from fewer than ``TOOTH_ERROR_TURNS`` turns, or from wheels of over ``PITCH_THIN_DEG``: there the
    neighbours show the firing ripple, which comes round with the turns as well, and only what cannot be ``ripple``
    tells how large tooth errors are; more than ``TOOTH_SD_MOST_DEG`` never is one. Means are never trusted beyond
    ``TOOTH_ERROR_FLOOR`` and ``TOOTH_ERROR_FLOOR_DEG``: what the formula leaves of a ripple that repeats would else be
    taken for slow errors. ``times_s`` (n,) in s, ``running_deg`` (n,) in deg, ``tooth`` (n,) the number of each,
    ``sensor_deg2`` (teeth, teeth).
    """
    near = by_neighbours(times_s, running_deg, teeth)
    found = _residuals(near, running_deg, tooth, teeth)
    thin = 360.0 / teeth > numbers.PITCH_THIN_DEG.value
    sd = found.spread()
    # On a coarse wheel the neighbours show the firing ripple, too, and that would pass for errors of the teeth.
    if thin:
        sd = found.spread_beside(_waves_at(running_deg, tooth, teeth, ripple), numbers.TOOTH_SD_MOST_DEG.value)
    unknown = sd**2 * (np.eye(teeth) + numbers.RUN_OUT_SHARE.value**2 * _once_per_turn(running_deg, tooth, teeth))
    unknown += sensor_deg2
    enough = found.seen.max(initial=0) >= numbers.TOOTH_ERROR_TURNS.value
    if sd == 0.0 or thin or not enough:
        return ToothErrors(np.zeros(teeth), unknown, sd)
    # The teeth beside a gap have no near neighbours on one side; only now is it known how far those are to be trusted.
    found = _residuals(near.and_also(over_gaps(times_s, running_deg, tooth, teeth, sd)), running_deg, tooth, teeth)
    rows = np.flatnonzero(found.seen >= 2)
    noise = max(found.within, 1e-12) / found.seen[rows] + (numbers.TOOTH_ERROR_FLOOR.value * sd) ** 2
    noise += numbers.TOOTH_ERROR_FLOOR_DEG.value**2
    noise += found.model_deg2[rows]
    weighted = found.equations[rows] / noise[:, None]
    covariance: Floats = np.asarray(
        np.linalg.inv(found.equations[rows].T @ weighted + np.linalg.inv(unknown)), dtype=np.float64
    )
    return ToothErrors(covariance @ (weighted.T @ found.mean[rows]), covariance, sd)


def _once_per_turn(running_deg: Floats, tooth: Ints, teeth: int) -> Floats:
    """Covariance of a run-out of unit size and any direction: the cosine of the angle between two teeth."""
    at = np.radians(_places_deg(running_deg, tooth, teeth))
    return np.asarray(np.cos(at[:, None] - at[None, :]))


def _waves_at(running_deg: Floats, tooth: Ints, teeth: int, ripple: FiringRipple) -> Floats:
    """(teeth x parts): the ripple's waves at each tooth, averaged over the two turns of a cycle."""
    at = _places_deg(running_deg, tooth, teeth)
    return np.asarray(0.5 * (ripple.waves(at) + ripple.waves(at + 360.0)))


def _places_deg(running_deg: Floats, tooth: Ints, teeth: int) -> Floats:
    """Where each tooth stands in the turn; 0 where it was never seen."""
    at = np.zeros(teeth)
    at[tooth] = running_deg % 360.0
    return at


def misread_teeth(times_s: Floats, running_deg: Floats, tooth: Ints, teeth: int) -> Bools:
    """Teeth that stand where that tooth never stands else: a pulse from elsewhere that was taken for it.

    Told by the prediction from the neighbours, against the median of the same tooth's own; the worst of its
    neighbourhood only, since a wrong tooth spoils its neighbours' predictions too. Coarse wheels are left as they are:
    their neighbours do not predict well enough. ``times_s`` (n,) in s, ``running_deg`` (n,) in deg, ``tooth`` (n,) the
    number of each; the result (n,) is true at such teeth.
    """
    near = by_neighbours(times_s, running_deg, teeth)
    centre = near.centre
    wrong = np.zeros(times_s.size, dtype=np.bool_)
    if centre.size < 4 * teeth or 360.0 / teeth > numbers.PITCH_THIN_DEG.value:
        return wrong
    residual = near.residual_deg(running_deg)
    place = tooth[centre]
    # A tooth's own lasting error is no misreading, so it is taken off first.
    for k in range(teeth):
        residual[place == k] -= np.median(residual[place == k]) if np.any(place == k) else 0.0
    size = np.zeros(times_s.size)
    size[centre] = np.abs(residual)
    # Eight spreads: the worst real tooth of a wheel stays below, a pulse from elsewhere hardly ever does.
    limit = max(numbers.MISREAD_LEAST_DEG.value, 8.0 * robust_sd(residual, about=0.0))
    return np.asarray((size > limit) & (size >= scipy.ndimage.maximum_filter1d(size, 2 * half_width(teeth) + 1)))


@dataclass(frozen=True, slots=True, eq=False)
class _Residuals:
    """By tooth: mean residual, how often seen, variance gain, what the formula may be off; ``within`` is the variance
    about these means."""

    mean: Floats
    seen: Ints
    gain: Floats
    model_deg2: Floats
    equations: Floats
    within: float
    single: float

    def spread(self) -> float:
        """Standard deviation of one tooth's error, seen through the weights of the formula."""
        often = self.seen >= 2
        if not often.any():
            return self.single
        fixed = (self.mean[often] ** 2 - self.within / self.seen[often]) / self.gain[often]
        return float(np.sqrt(max(0.0, float(fixed.mean()))))

    def spread_beside(self, waves: Floats, most_deg: float) -> float:
        """The same where the formula leaves some of the firing ripple (``waves``: shape (teeth, parts), in deg, of
        unknown size).

        What remains is a sum of both and of noise. How large each is no maximum can tell from few teeth, so that every
        pair of sizes on a grid is weighed by its likelihood, tooth errors up to ``most_deg`` before that alike.
        """
        shown = self.equations @ waves
        own, rippled = self.equations @ self.equations.T, shown @ shown.T
        sds = most_deg * _SPREAD_STEPS
        size = float(np.linalg.norm(self.mean)) / max(float(np.sqrt(np.trace(rippled))), 1e-300)
        scales = np.maximum(size, 1e-9) * _RIPPLE_STEPS
        noise = np.diag(max(self.within, 1e-12) / np.maximum(self.seen, 1))
        both = np.multiply.outer(sds**2, own)[:, None] + np.multiply.outer(scales**2, rippled) + noise
        squares = np.linalg.solve(both, self.mean[:, None])[..., 0] @ self.mean
        # The grid is even in the logarithm, the prior even in the spread itself: the difference is one factor of it.
        logs = np.log(_SPREAD_STEPS)[:, None] - 0.5 * (np.linalg.slogdet(both)[1] + squares)
        weights = np.exp(logs - logs.max())
        return float(np.sqrt((sds**2) @ weights.sum(axis=1) / weights.sum()))


def _residuals(near: Prediction, running: Floats, tooth: Ints, teeth: int) -> _Residuals:
    seen = np.zeros(teeth, dtype=np.int64)
    if near.centre.size < 4:
        none = np.zeros(teeth)
        return _Residuals(
            mean=none,
            seen=seen,
            gain=none + 1.0,
            model_deg2=none,
            equations=np.zeros((teeth, teeth)),
            within=0.0,
            single=0.0,
        )
    residual, gain, place = near.residual_deg(running), near.gain, tooth[near.centre]
    seen = np.bincount(place, minlength=teeth)
    mean = np.bincount(place, residual, teeth) / np.maximum(seen, 1)
    scatter = float(np.sum((residual - mean[place]) ** 2))
    # A tooth that was seen once has no scatter and takes no degree of freedom.
    within = scatter / max(1, int(np.sum(seen[seen >= 2] - 1)))
    into = place[:, None] * teeth + tooth[near.around]
    equations = np.diag(seen.astype(float))
    equations -= np.bincount(into.ravel(), near.weights.ravel(), teeth * teeth).reshape(teeth, teeth)
    gains = np.bincount(place, gain, teeth) / np.maximum(seen, 1)
    model = np.bincount(place, near.model_deg**2, teeth) / np.maximum(seen, 1)
    equations /= np.maximum(seen, 1)[:, None]
    single = float(np.sqrt(np.mean(residual**2 / gain)))
    return _Residuals(
        mean=mean,
        seen=seen,
        gain=np.maximum(gains, 1.0),
        model_deg2=model,
        equations=equations,
        within=within,
        single=single,
    )
