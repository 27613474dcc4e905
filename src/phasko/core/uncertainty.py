"""A value with its uncertainty, and how uncertainties of several causes add up."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import scipy

from phasko.core.arrays import Floats, Samples

__all__ = ["NORMAL_95", "Measurement", "combine_u95", "robust_sd", "t_factor"]

NORMAL_95 = 1.959964
"""Half width of the central 95 % of a normal distribution, in standard deviations."""
_MAD_OF_NORMAL = 0.6744897501960817
"""Median absolute deviation of a normal distribution, in standard deviations: its upper quartile."""


@dataclass(frozen=True, slots=True)
class Measurement:
    """A value, the half width of its 95 % interval, its unit, and what it was taken from."""

    value: float
    u95: float
    unit: str
    method: str
    cycles_used: int
    cycles_rejected: int = 0


def t_factor(degrees_of_freedom: float, coverage: float = 0.95) -> float:
    """Student's t for a two-sided interval, JCGM 100:2008 (GUM), table G.2."""
    return float(scipy.special.stdtrit(degrees_of_freedom, 0.5 + coverage / 2))


def robust_sd(values: Floats | Samples, about: float | None = None) -> float:
    """Standard deviation of (n,) normal values among which some are wild, in their own unit: their median absolute
    deviation over 0.6745, from their median or ``about`` a given value.

    The same as ``scipy.stats.median_abs_deviation(scale="normal")``, to which a test holds it; importing that takes a
    sixth of the time of a whole analysis.
    """
    centre = np.median(values) if about is None else about
    return float(np.median(np.abs(values - centre))) / _MAD_OF_NORMAL


def combine_u95(terms: list[tuple[float, float]]) -> float:
    """95 % half width of a sum of independent errors, each (standard uncertainty, degrees of freedom).

    Welch-Satterthwaite, JCGM 100:2008, G.4.1 equation G.2b. Infinite degrees of freedom are allowed.
    """
    variance = sum(u * u for u, _ in terms)
    if variance == 0.0:
        return 0.0
    inverse = sum(u**4 / dof for u, dof in terms if math.isfinite(dof))
    effective = variance**2 / inverse if inverse > 0 else math.inf
    factor = t_factor(max(1.0, effective)) if math.isfinite(effective) else NORMAL_95
    return factor * math.sqrt(variance)
