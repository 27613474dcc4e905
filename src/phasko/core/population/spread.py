"""How much sound cylinders of one kind of engine differ in compression."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from phasko.core.arrays import Floats
from phasko.core.population.estimate import Estimate, of_grid

__all__ = ["Spread", "spread_of"]

SPREAD_PRIOR = 0.02
"""Share of the mean (own estimate: cylinders of sound engines differ by some hundredths)."""
_GRID: Floats = np.geomspace(0.001, 0.3, 60)


@dataclass(frozen=True, slots=True)
class Spread:
    """Standard deviation of a sound cylinder's compression, as a share of the others', and from how many engines."""

    share: Estimate
    engines: float


def spread_of(relative: Floats, sds: Floats, chances: Floats) -> Spread:
    """The spread of sound cylinders' compression, each engine weighed by its chance of being sound.

    ``relative``, of shape (engines, cylinders): compression over that of the others, a ratio, NaN where not read.
    ``sds`` (engines, cylinders): standard deviation of the measurement, the same ratio. ``chances`` (engines,): 0 to 1.

    What an engine's cylinders have in common is lost in a relative value, so each has one degree of freedom less than
    cylinders: as restricted likelihood has it (Patterson and Thompson 1971, Biometrika 58, 545-554; from memory).
    """
    seen = np.isfinite(relative)
    count = seen.sum(axis=1)
    useful = count >= 2
    logs = np.array([_log_likelihood(relative, sds, seen, np.where(useful, chances, 0.0), s) for s in _GRID])
    logs += np.log(_GRID) - np.log1p((_GRID / SPREAD_PRIOR) ** 2)
    weight = np.exp(logs - logs.max())
    weight /= weight.sum()
    return Spread(of_grid(_GRID, weight), float(chances[useful].sum()))


def _log_likelihood(relative: Floats, sds: Floats, seen: Floats, weights: Floats, spread: float) -> float:
    """Of all engines for one spread, each about its own mean."""
    variance = np.where(seen, spread**2 + np.where(seen, sds, 0.0) ** 2, 1.0)
    precision = np.where(seen, 1.0 / variance, 0.0)
    total = np.maximum(precision.sum(axis=1), 1e-12)
    mean = (precision * np.nan_to_num(relative)).sum(axis=1) / total
    off = np.where(seen, relative - mean[:, None], 0.0)
    each = (np.where(seen, np.log(variance), 0.0) + precision * off**2).sum(axis=1) + np.log(total)
    return float(-0.5 * weights @ each)
