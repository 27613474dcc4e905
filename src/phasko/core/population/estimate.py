"""A value with its interval."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from phasko.core.arrays import Floats

__all__ = ["Estimate", "of_grid", "of_normals"]


@dataclass(frozen=True, slots=True)
class Estimate:
    """A value with its 95 % interval from ``low`` to ``high``; ``u95`` is half of that, which a spread has not the same
    on both sides."""

    value: float
    u95: float
    low: float
    high: float


def of_grid(grid: Floats, weight: Floats) -> Estimate:
    """Median and 95 % interval of a positive quantity from its weights on a grid that is even in the logarithm, both of
    shape (points,); in the grid's own unit."""
    # Each grid point stands for the stretch halfway to its neighbours.
    half = 0.5 * np.log(grid[1] / grid[0])
    edges = np.concatenate([[np.log(grid[0]) - half], np.log(grid) + half])
    below = np.concatenate([[0.0], np.cumsum(weight)])
    low, middle, high = (float(np.exp(np.interp(q, below, edges))) for q in (0.025, 0.5, 0.975))
    return Estimate(middle, 0.5 * (high - low), low, high)


def of_normals(mean: Floats, sd: Floats, weight: Floats) -> Estimate:
    """Mean and 95 % interval of a mixture of normals; means, standard deviations and weights of shape (parts,), in the
    means' own unit."""
    value = float(weight @ mean)
    wide = float(np.max(np.abs(mean - value)) + 8.0 * np.max(sd))

    def below(x: float) -> float:
        return float(weight @ scipy.special.ndtr((x - mean) / sd))

    low, high = (
        float(scipy.optimize.brentq(lambda x, share=share: below(x) - share, value - wide, value + wide))
        for share in (0.025, 0.975)
    )
    return Estimate(value, 0.5 * (high - low), low, high)
