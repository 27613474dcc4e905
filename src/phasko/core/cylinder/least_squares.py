"""Least squares with what is known beforehand: Gauss and Newton's steps on a model of many columns at once."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from phasko.core.arrays import Floats

__all__ = ["Fitted", "Known", "fitted"]

_MOST_STEPS = 12


@dataclass(frozen=True, slots=True, eq=False)
class Known:
    """What is known of the parameters beforehand: mean and standard deviation, each (parameters,) in its own unit;
    ``step`` by which slopes are taken, ``reach`` the most one step moves; ``least`` none goes below."""

    mean: Floats
    sd: Floats
    step: Floats
    reach: Floats
    least: Floats


@dataclass(frozen=True, slots=True, eq=False)
class Fitted:
    """The parameters that fit best, of shape (parameters,), their covariance, and what is left, in standard deviations:
    the root of its mean square."""

    best: Floats
    covariance: Floats
    misfit: float
    cost: float

    def sd(self, parameter: int) -> float:
        """Standard deviation of one parameter of ``covariance``, which is of shape (parameters, parameters), in that
        parameter's own unit: deg, bar or unitless."""
        return float(np.sqrt(self.covariance[parameter, parameter]))


def fitted(
    model: Callable[[Floats], Floats], values: Floats, sd: Floats, known: Known, start: Floats | None = None
) -> Fitted:
    """Parameters for which ``model`` comes nearest to ``values`` with errors ``sd``, both of shape (points,) in bar or
    another unit, alike. ``model`` takes (sets, parameters) and gives (points, sets).

    Every known parameter counts as one more measurement (JCGM 102:2011, generalised least squares; from memory).
    """
    best = known.mean.copy() if start is None else start.copy()
    for _ in range(_MOST_STEPS):
        made = model(np.vstack([best, best + np.diag(known.step)]))
        if not np.isfinite(made).all():
            return _none(best)
        slopes = (made[:, 1:] - made[:, :1]) / known.step
        rows = np.vstack([slopes / sd[:, None], np.diag(1.0 / known.sd)])
        off = np.concatenate([(values - made[:, 0]) / sd, (known.mean - best) / known.sd])
        move = np.clip(np.linalg.lstsq(rows, off, rcond=None)[0], -known.reach, known.reach)
        best = np.maximum(best + move, known.least)
        if np.all(np.abs(move) < 0.02 * known.step):
            break
    made = model(best[None, :])[:, 0]
    left = (values - made) / sd
    if not np.isfinite(left).all():
        return _none(best)
    cost = float(left @ left + (((known.mean - best) / known.sd) ** 2).sum())
    return Fitted(best, np.asarray(np.linalg.inv(rows.T @ rows)), float(np.sqrt(np.mean(left * left))), cost)


def _none(best: Floats) -> Fitted:
    """A fit that led to no numbers: nothing is known, and nothing fits."""
    return Fitted(best, np.asarray(np.diag(np.full(best.size, np.inf))), np.inf, np.inf)
