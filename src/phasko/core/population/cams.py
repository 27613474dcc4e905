"""How the cams of one kind of engine lie and wear, from many engines at once.

An engine's cam reads where the kind's edges are (``edges``), plus its share of the chain's elongation over the
distance, plus what this engine's wheel and drive are off as a whole (``whole``), plus what this cam is off by itself
(``build``), plus the error of the measurement. Edges and elongation are integrated in closed form (they enter
linearly), both spreads over a grid with half-Cauchy priors (Gelman 2006, Bayesian Analysis 1, 515-534; from memory):
with few engines the intervals stay wide by themselves. An engine that may have jumped counts by its chance of not
having done so, which is weighed anew against how it lies among the others (a mixture with a broad second part, by
expectation and maximisation).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from phasko.core.arrays import Floats
from phasko.core.population.estimate import Estimate, of_grid, of_normals
from phasko.core.population.mixture import MOVED_SD_DEG, ROUNDS, first_weights, log_prior, sound_chance
from phasko.core.population.readings import KindReadings

__all__ = ["CamPopulation", "population_of"]

EDGE_PRIOR_SD_DEG = 3.0
WEAR_PRIOR_SD_DEG = 0.5
"""Per 10 000 km at the furthest cam (own estimate: a chain is worn out by some five degrees in its life)."""
LEAST_DISTANCES = 6
"""Where some distances are not known: with fewer known ones nothing is said of wear, and edges are those of the engines
as they are."""
_SPREADS_DEG: Floats = np.geomspace(0.03, 8.0, 26)
_COARSE_DEG: Floats = np.geomspace(0.03, 8.0, 12)
"""While engines are only weighed."""
_AT_ONCE = 1_000_000
"""Readings times pairs of spreads."""


@dataclass(frozen=True, slots=True, eq=False)
class CamPopulation:
    """What is known of the kind. Angles in degrees of the crank, late positive.

    ``edges``: by cam, how far the kind's edges lie from the profile when new. ``wear``: lateness of the furthest cam
    per 10 000 km, ``None`` without distances. ``build``, ``whole``: standard deviations. ``usual_u95_deg``: by cam, the
    half width in which a new sound engine reads. ``weights`` (engines,): how far each counted. ``engines``: how many
    that is.
    """

    edges: tuple[Estimate, ...]
    wear: Estimate | None
    build: Estimate
    whole: Estimate
    usual_u95_deg: tuple[float, ...]
    weights: Floats
    engines: float


@dataclass(frozen=True, slots=True, eq=False)
class _Posterior:
    """On every pair of spreads (pairs,): its weight, and mean (pairs, unknowns) and standard deviations of what enters
    linearly."""

    build: Floats
    whole: Floats
    weight: Floats
    mean: Floats
    sd: Floats


def population_of(readings: KindReadings) -> CamPopulation:
    """The kind that these engines are of, from readings of shape (engines, cams) in degrees of the crank. Raises
    nothing: without any engine it knows only what was expected before."""
    used = _with_known_wear(readings)
    weights = first_weights(used.chances)
    for _ in range(ROUNDS):
        weights = _weighed(used, _posterior(used, weights, _COARSE_DEG))
    posterior = _posterior(used, weights, _SPREADS_DEG)
    cams = used.reach.size
    worn = np.isfinite(used.distances).any()
    edges = tuple(_linear(posterior, i) for i in range(cams))
    variance = float(np.sum(posterior.weight * (posterior.build**2 + posterior.whole**2)))
    usual = tuple(1.96 * float(np.hypot(np.sqrt(variance), edge.u95 / 1.96)) for edge in edges)
    everyone = np.zeros(readings.chances.size)
    everyone[_kept(readings)] = weights
    return CamPopulation(
        edges=edges,
        wear=_linear(posterior, cams) if worn else None,
        build=_spread(posterior.build, posterior.weight),
        whole=_spread(posterior.whole, posterior.weight),
        usual_u95_deg=usual,
        weights=everyone,
        engines=float(weights.sum()),
    )


def _kept(readings: KindReadings) -> Floats:
    """Which engines can be used (engines,): read at all, and of known distance where wear is asked."""
    known = np.isfinite(readings.distances)
    if not _wear_is_asked(readings):
        known = np.ones(known.size, dtype=bool)
    return np.asarray(known & np.isfinite(readings.offsets_deg).any(axis=1))


def _wear_is_asked(readings: KindReadings) -> bool:
    """Where distances of all are known, or of enough to leave the others out."""
    known = np.isfinite(readings.distances)
    return bool(known.size) and (bool(known.all()) or int(known.sum()) >= LEAST_DISTANCES)


def _with_known_wear(readings: KindReadings) -> KindReadings:
    """An engine of unknown distance is worn by an unknown amount; it is left out where others tell what wear is, and
    where too few tell nobody's wear is asked."""
    kept = _kept(readings)
    asked = _wear_is_asked(readings)
    distances = readings.distances[kept] if asked else np.full(int(kept.sum()), np.nan)
    return KindReadings(
        readings.offsets_deg[kept], readings.sds_deg[kept], distances, readings.chances[kept], readings.reach
    )


def _posterior(used: KindReadings, weights: Floats, spreads_deg: Floats) -> _Posterior:
    build, whole = (part.ravel() for part in np.meshgrid(spreads_deg, spreads_deg, indexing="ij"))
    # So many pairs at once that a fleet of any size takes no more memory than this.
    pieces = 1 + build.size * used.offsets_deg.size // _AT_ONCE
    given = [
        _given_spreads(used, weights, one, other)
        for one, other in zip(np.array_split(build, pieces), np.array_split(whole, pieces), strict=True)
    ]
    log, mean, covariance = (np.concatenate(part) for part in zip(*given, strict=True))
    log_weight = log + log_prior(build) + log_prior(whole)
    weight = np.exp(log_weight - log_weight.max())
    sd = np.sqrt(np.diagonal(covariance, axis1=1, axis2=2))
    return _Posterior(build, whole, weight / weight.sum(), mean, sd)


def _given_spreads(
    used: KindReadings, weights: Floats, build_deg: Floats, whole_deg: Floats
) -> tuple[Floats, Floats, Floats]:
    """Log marginal likelihood (pairs,), mean (pairs, unknowns) and covariance (pairs, unknowns, unknowns) of edges and
    wear, for given pairs of spreads (pairs,)."""
    precision, shared, log_det = _precisions(used, build_deg, whole_deg)
    read = np.nan_to_num(used.offsets_deg)
    lateness = np.nan_to_num(used.distances)
    # Precision of an engine: diagonal less the part that its cams share (Sherman and Morrison).
    pulled = precision * used.reach
    reach_sum = pulled.sum(axis=2)
    told = precision * read
    told_sum = told.sum(axis=2)
    along = weights * lateness
    cams = used.reach.size
    normal = np.zeros((build_deg.size, cams + 1, cams + 1))
    normal[:, :cams, :cams] = -np.swapaxes(precision * (weights * shared)[:, :, None], 1, 2) @ precision
    normal[:, range(cams), range(cams)] += weights @ precision
    normal[:, :cams, cams] = along @ pulled - _weighted_sum(along * shared * reach_sum, precision)
    normal[:, cams, :cams] = normal[:, :cams, cams]
    normal[:, cams, cams] = (pulled @ used.reach - shared * reach_sum**2) @ (along * lateness)
    right = np.empty((build_deg.size, cams + 1))
    right[:, :cams] = weights @ told - _weighted_sum(weights * shared * told_sum, precision)
    right[:, cams] = (told @ used.reach - shared * told_sum * reach_sum) @ along
    square = ((told * read).sum(axis=2) - shared * told_sum**2) @ weights
    prior = np.diag([*np.full(cams, EDGE_PRIOR_SD_DEG**-2), WEAR_PRIOR_SD_DEG**-2])
    covariance = np.asarray(np.linalg.inv(normal + prior), dtype=np.float64)
    mean = (covariance @ right[:, :, None])[:, :, 0]
    _, log_det_normal = np.linalg.slogdet(normal + prior)
    log = -0.5 * (log_det @ weights + square - (right * mean).sum(axis=1) + log_det_normal)
    return log, mean, covariance


def _weighted_sum(weights: Floats, values: Floats) -> Floats:
    """Of values (pairs, engines, cams) over the engines, each pair with weights (pairs, engines) of its own."""
    return np.asarray((weights[:, None, :] @ values)[:, 0])


def _precisions(used: KindReadings, build_deg: Floats, whole_deg: Floats) -> tuple[Floats, Floats, Floats]:
    """By pair of spreads, of every engine: precision of each cam alone (pairs, engines, cams), the factor of what its
    cams share, and the logarithm of its covariance's determinant (pairs, engines)."""
    seen = np.isfinite(used.offsets_deg)
    variance = build_deg[:, None, None] ** 2 + np.where(seen, used.sds_deg, 1.0) ** 2
    precision = np.where(seen, 1.0 / variance, 0.0)
    total = precision.sum(axis=2)
    whole = whole_deg[:, None] ** 2
    log_det = np.where(seen, np.log(variance), 0.0).sum(axis=2) + np.log1p(whole * total)
    return precision, whole / (1.0 + whole * total), log_det


def _weighed(used: KindReadings, posterior: _Posterior) -> Floats:
    """How likely each engine is a sound one of this kind, by its call before and by how it lies among the others."""
    build, whole = (np.exp(posterior.weight @ np.log(one[:, None])) for one in (posterior.build, posterior.whole))
    mean = posterior.weight @ posterior.mean
    precision, shared, log_det = (part[0] for part in _precisions(used, build, whole))
    read = np.isfinite(used.offsets_deg).sum(axis=1)
    expected = mean[:-1] + np.nan_to_num(used.distances)[:, None] * used.reach * mean[-1]
    off = np.where(np.isfinite(used.offsets_deg), used.offsets_deg - expected, 0.0)
    told = precision * off
    square = (told * off).sum(axis=1) - shared * told.sum(axis=1) ** 2
    sound = -0.5 * (log_det + square)
    moved = -0.5 * (2.0 * read * np.log(MOVED_SD_DEG) + (off**2).sum(axis=1) / MOVED_SD_DEG**2)
    return sound_chance(used.chances, sound - moved)


def _linear(posterior: _Posterior, place: int) -> Estimate:
    """One of the unknowns that enter linearly."""
    return of_normals(posterior.mean[:, place], posterior.sd[:, place], posterior.weight)


def _spread(values: Floats, weight: Floats) -> Estimate:
    """One of the spreads, whatever the other one is."""
    grid, place = np.unique(values, return_inverse=True)
    return of_grid(grid, np.asarray(np.bincount(place, weight), dtype=np.float64))
