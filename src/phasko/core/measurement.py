"""A value with its uncertainty, and how a mean over edges and cycles gets its own."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.special import fdtri, stdtrit

__all__ = ["Measurement", "combine_u95", "offset_of_cycles", "t_factor"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

NORMAL_95 = 1.959964
"""Half width of the central 95 % of a normal distribution, in standard deviations."""


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
    return float(stdtrit(degrees_of_freedom, 0.5 + coverage / 2))


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


@dataclass(frozen=True, slots=True, eq=False)
class CycleStatistics:
    """Mean over edges of the per-edge means, the per-cycle values, and the random error of the mean."""

    mean: float
    edge_means: Floats
    cycle_numbers: Ints
    cycle_values: Floats
    random_sd: float
    random_dof: float


def offset_of_cycles(deltas: Floats, edges: Ints, cycles: Ints, edge_count: int, floor_sd: float) -> CycleStatistics:
    """Mean offset of a cam from the deviation of each of its edges in each cycle.

    ``deltas`` (deg), ``edges`` (0..edge_count-1) and ``cycles`` have one entry per accepted edge. Every edge has
    the same weight, whatever number of cycles saw it, so that a cut cycle does not shift the mean. The random error
    comes from the cycle means (between cycles, n-1 degrees of freedom); where they scatter no more than independent
    edges would (F test at 5 %, one-way analysis of variance), both scatters are pooled, which gives more degrees of
    freedom. ``floor_sd`` is the least standard deviation of one edge (its sampling step).
    """
    sums = np.bincount(edges, deltas, edge_count)
    seen = np.bincount(edges, minlength=edge_count)
    present = seen > 0
    edge_means = np.full(edge_count, np.nan)
    edge_means[present] = sums[present] / seen[present]
    mean = float(edge_means[present].mean())
    residual = deltas - edge_means[edges]
    numbers_, place = np.unique(cycles, return_inverse=True)
    per_cycle = np.bincount(place)
    cycle_mean = np.bincount(place, residual) / per_cycle
    between_dof = len(numbers_) - 1
    within_dof = deltas.size - int(present.sum()) - between_dof
    between_ss = float(per_cycle @ cycle_mean**2)
    within_ss = float(np.sum((residual - cycle_mean[place]) ** 2))
    variance, freedom = _pooled(between_ss, between_dof, within_ss, within_dof)
    dof = float(freedom)
    if freedom == 0:
        variance, dof = floor_sd**2, math.inf
    variance = max(variance, floor_sd**2)
    return CycleStatistics(mean, edge_means, numbers_, mean + cycle_mean, math.sqrt(variance / deltas.size), dof)


def _pooled(between_ss: float, between_dof: int, within_ss: float, within_dof: int) -> tuple[float, int]:
    """Variance of one edge's deviation for the error of the mean, and its degrees of freedom."""
    if between_dof < 1:
        return (within_ss / within_dof, within_dof) if within_dof > 0 else (0.0, 0)
    between = between_ss / between_dof
    if within_dof < 1:
        return between, between_dof
    within = within_ss / within_dof
    if between > within * float(fdtri(between_dof, within_dof, 0.95)):
        return between, between_dof
    return (between_ss + within_ss) / (between_dof + within_dof), between_dof + within_dof
