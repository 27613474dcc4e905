"""The mean offset of a cam over its edges and cycles, and how far that mean may be off by chance."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import scipy

from phasko.core.arrays import Floats, Ints
from phasko.core.uncertainty import t_factor

__all__ = ["CycleStatistics", "offset_of_cycles"]


GROUPS_MOST = 64
"""Edges of long recordings are taken together in groups until there are about so many groups."""

LASTING_S = (0.1, 0.2, 0.4)
"""Edges close in time share a part of their error that dies away, for example the swing of a slack strand. These times
of decay are tried, in s."""

SHARED_RATIOS = 10.0 ** np.arange(-1.5, 5.6, 0.5)
"""Variance of the error that edges share, over that of one edge alone. These ratios are tried, half a decade apart."""

PRIOR_ALONE = 0.2
"""Prior chance that the edges share no error at all. The rest is spread evenly over all ratios and ways of sharing."""


@dataclass(frozen=True, slots=True, eq=False)
class CycleStatistics:
    """Mean over edges of the per-edge means, the per-cycle values, and the random error of the mean."""

    mean: float
    edge_means: Floats
    cycle_numbers: Ints
    cycle_values: Floats
    random_sd: float
    random_dof: float


def offset_of_cycles(
    deltas: Floats, edges: Ints, cycles: Ints, times_s: Floats, edge_count: int, floor_sd: float
) -> CycleStatistics:
    """Mean offset of a cam from the deviation of each of its edges in each cycle.

    ``deltas`` (deg), ``edges`` (0..edge_count-1), ``cycles`` and ``times_s`` have one entry per accepted edge. Every
    edge has the same weight, whatever number of cycles saw it, so that a cut cycle does not shift the mean. Edges of
    one cycle move together, and with those of the next cycles, as far as their scatter shows: see ``chance_error``.
    ``floor_sd`` is the least standard deviation of one edge (its sampling step). All four are (accepted,).
    """
    sums = np.bincount(edges, deltas, edge_count)
    seen = np.bincount(edges, minlength=edge_count)
    present = seen > 0
    edge_means = np.full(edge_count, np.nan)
    edge_means[present] = sums[present] / seen[present]
    mean = float(edge_means[present].mean())
    residual = deltas - edge_means[edges]
    numbers_, place = np.unique(cycles, return_inverse=True)
    cycle_mean = np.bincount(place, residual) / np.bincount(place)
    sd, dof = chance_error(residual, place, times_s, int(np.count_nonzero(present)), floor_sd)
    return CycleStatistics(mean, edge_means, numbers_, mean + cycle_mean, sd, dof)


def chance_error(
    residual: Floats, cycles: Ints, times_s: Floats, edges_present: int, floor_sd: float
) -> tuple[float, float]:
    """Standard error of the mean of ``residual`` (deviations from each edge's own mean) and its degrees of freedom.

    Random effects: what edges share, and what is each edge's own. How large the shared part is and how long it lasts
    cannot be told well from a few cycles, so no one answer is chosen: each on a grid is weighed by its restricted
    likelihood, and the interval covers 95 % of all of them together (Box and Tiao, Bayesian Inference in Statistical
    Analysis, 1973, chapter 5; Patterson and Thompson, Biometrika 58, 1971, for the likelihood; both from memory). A
    single cycle says nothing about what it shares. ``residual`` (deg), ``cycles`` and ``times_s`` (s) are of
    shape (accepted,).
    """
    groups = _groups(cycles, times_s)
    per_group = np.bincount(groups).astype(float)
    count, size = per_group.size, residual.size
    dof = size - edges_present
    # A single cycle has no scatter: all that is left is what one sample can be off by.
    if dof == 0:
        return floor_sd / math.sqrt(size), math.inf
    level = np.bincount(groups, residual) / per_group
    # Edges that fall on the same samples every cycle would seem free of error; a sample's own step stays.
    within_ss = max(float(np.sum((residual - level[groups]) ** 2)), (size - count) * floor_sd**2)
    at = np.bincount(groups, times_s) / per_group
    cycle = np.zeros(count)
    cycle[groups] = cycles
    ways = [(cycle[:, None] == cycle).astype(float)]
    ways += [np.exp(-np.abs(at[:, None] - at) / lasting_s) for lasting_s in LASTING_S]
    each = (1.0 - PRIOR_ALONE) / (len(ways) * SHARED_RATIOS.size)
    found = [
        _weighed(
            alike=ways[0],
            ratios=np.zeros(1),
            per_group=per_group,
            level=level,
            within_ss=within_ss,
            dof=dof,
            prior=PRIOR_ALONE,
        )
    ]
    found += [
        _weighed(
            alike=way, ratios=SHARED_RATIOS, per_group=per_group, level=level, within_ss=within_ss, dof=dof, prior=each
        )
        for way in ways
    ]
    logs, variance = np.concatenate([f[0] for f in found]), np.concatenate([f[1] for f in found])
    weights = np.exp(logs - logs.max())
    sd = np.sqrt(np.maximum(variance, floor_sd**2 / size))
    # Given back as a standard error, so that it combines with the other parts as every other one does.
    return _half_width(sd, weights / weights.sum(), dof) / t_factor(dof), float(dof)


def _weighed(
    alike: Floats, ratios: Floats, per_group: Floats, level: Floats, within_ss: float, dof: int, prior: float
) -> tuple[Floats, Floats]:
    """Log weight of each ratio where groups share as ``alike`` (correlation) says, and the variance of the plain mean
    that it gives.

    The covariance is ratio * alike + diag(1 / per_group) times one edge's variance; one eigendecomposition, after
    scaling by the diagonal, inverts it for all ratios.
    """
    root = np.sqrt(per_group)
    # Scaled by the root of the counts, one edge's own variance becomes the identity, so all ratios share the vectors.
    values, vectors = np.linalg.eigh(root[:, None] * alike * root)
    scaled = 1.0 + ratios[:, None] * np.maximum(values, 0.0)
    one, deviation = vectors.T @ root, vectors.T @ (root * level)
    ones = (one**2 / scaled).sum(axis=1)
    both = (one * deviation / scaled).sum(axis=1)
    squares = within_ss + (deviation**2 / scaled).sum(axis=1) - both**2 / ones
    squares = np.maximum(squares, 1e-300)
    logs = math.log(prior) - 0.5 * (np.log(scaled).sum(axis=1) + np.log(ones) + dof * np.log(squares))
    share = per_group / per_group.sum()
    spread = ratios * float(share @ alike @ share) + float(share @ (share / per_group))
    return logs, squares / dof * spread


def _groups(cycles: Ints, times_s: Floats) -> Ints:
    """Neighbouring edges of one cycle together, or whole neighbouring cycles, so many that few groups are left."""
    order = np.lexsort((times_s, cycles))
    first = np.flatnonzero(np.diff(cycles[order], prepend=-1))
    rank = np.arange(order.size) - np.repeat(first, np.diff(first, append=order.size))
    together = -(-order.size // GROUPS_MOST)
    cycles_together = -(-first.size // GROUPS_MOST)
    keys = np.stack([cycles[order] // cycles_together, rank // together if cycles_together == 1 else 0 * rank])
    groups = np.empty(order.size, np.int64)
    groups[order] = np.unique(keys, axis=1, return_inverse=True)[1].ravel()
    return groups


def _half_width(sd: Floats, weights: Floats, dof: int) -> float:
    """Where 95 % of a mixture of Student distributions about the same middle lie."""

    def excess(half: float) -> float:
        return float(weights @ (2.0 * scipy.special.stdtr(dof, half / sd) - 1.0)) - 0.95

    factor = t_factor(dof)
    low, high = factor * float(sd.min()), factor * float(sd.max())
    return (
        low if high <= low * (1 + 1e-12) else float(scipy.optimize.brentq(excess, 0.999 * low, 1.001 * high, rtol=1e-6))
    )
