"""Where one more healthy engine of a kind stands, from those that were seen: honest for one, sharp for twenty."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy

from phasko.core import numbers
from phasko.core.arrays import Floats

__all__ = ["HealthyRange", "healthy_range"]

_SPREADS = 81


@dataclass(frozen=True, slots=True)
class HealthyRange:
    """Middle of healthy engines (deg) with its standard deviation, how they spread about it (root of the mean variance,
    deg), and the half width within which one more of them lies in 95 of 100 cases."""

    mean_deg: float
    mean_sd_deg: float
    spread_sd_deg: float
    u95_deg: float
    count: int


def healthy_range(values_deg: Sequence[float], sds_deg: Sequence[float], usual_spread_deg: float) -> HealthyRange:
    """The range of one more healthy engine of the kind.

    Random effects: each engine stands off the middle by its build, and its value is off by its own error ``sds_deg``
    (reading, and the doubt whether it is healthy). The middle has a flat prior, the spread of builds a log-normal one
    about ``usual_spread_deg``; nothing is maximised, the interval is that of the whole posterior predictive (Gelman et
    al., Bayesian Data Analysis, 3rd ed. 2013, section 5.4, from memory). With one engine the spread is what is usual,
    and counts twice: its own build, and that of the next. ``values_deg`` and ``sds_deg``: (engines,), at least one.
    """
    values, own = np.array(values_deg), np.array(sds_deg)
    wide = numbers.RANGE_SPREAD_LOG_SD.value
    logs = np.linspace(-4.0, 4.0, _SPREADS) * wide
    spreads = usual_spread_deg * np.exp(logs)
    variance = spreads[:, None] ** 2 + own[None, :] ** 2
    precision = (1.0 / variance).sum(axis=1)
    means = (values / variance).sum(axis=1) / precision
    squares = ((values - means[:, None]) ** 2 / variance).sum(axis=1)
    score = -0.5 * (np.log(variance).sum(axis=1) + np.log(precision) + squares + (logs / wide) ** 2)
    weights = np.exp(score - score.max())
    weights /= weights.sum()
    mean = float(weights @ means)
    mean_variance = float(weights @ (1.0 / precision + (means - mean) ** 2))
    u95 = _half_width(means - mean, np.sqrt(spreads**2 + 1.0 / precision), weights)
    return HealthyRange(mean, math.sqrt(mean_variance), math.sqrt(float(weights @ spreads**2)), u95, values.size)


def _half_width(off: Floats, sd: Floats, weights: Floats) -> float:
    """Half width about 0 that holds 95 % of a mixture of normal distributions."""

    def excess(half: float) -> float:
        return float(weights @ (scipy.special.ndtr((half - off) / sd) - scipy.special.ndtr((-half - off) / sd))) - 0.95

    return float(scipy.optimize.brentq(excess, 0.0, 8.0 * float(np.max(sd + np.abs(off))), rtol=1e-6))
