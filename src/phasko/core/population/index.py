"""Where the crank wheel's index of one kind of engine stands, from many engines at once.

An engine's index reads where the kind's is (``place``), plus what this engine's wheel is off (``spread``), plus the
error of its own measurement, plus an error that all engines of the kind share: how leak and heat turn its torque is a
matter of its design, and no number of engines tells it. An engine whose wheel has moved lies anywhere; each counts as
sound by its chance. Place and spread are integrated over a grid.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from phasko.core.arrays import Floats
from phasko.core.errors import DataError
from phasko.core.population.estimate import Estimate, of_grid, of_normals
from phasko.core.population.mixture import MOVED_SD_DEG, ROUNDS, first_weights, log_prior, sound_chance

__all__ = ["INDEX_PRIOR_SD_DEG", "IndexPopulation", "index_of"]

INDEX_PRIOR_SD_DEG = 3.0
_SPREADS_DEG: Floats = np.geomspace(0.03, 8.0, 60)
_STEPS: Floats = np.linspace(-7.0, 7.0, 71)
"""Places, in standard deviations."""


@dataclass(frozen=True, slots=True)
class IndexPopulation:
    """What is known of the kind's index. Angles in degrees of the crank, late positive.

    ``place``: how far it lies from the profile. ``spread``: standard deviation of engines. ``usual_u95_deg``: the half
    width in which a new sound engine's lies. ``engines``: how many counted.
    """

    place: Estimate
    spread: Estimate
    usual_u95_deg: float
    engines: float


def index_of(offsets_deg: Floats, sds_deg: Floats, chances: Floats, shared_sd_deg: float) -> IndexPopulation:
    """The kind's index by how late it passed in its engines.

    Arrays are of shape (engines,). ``offsets_deg``: late positive, NaN where it was not measured. ``sds_deg``: standard
    deviation of the measurement; ``shared_sd_deg`` is the part of it that all engines of the kind share, and is taken
    out of each. ``chances``: how likely the wheel has not moved (0 to 1). Raises DataError for numbers that do not fit.
    """
    if offsets_deg.shape != sds_deg.shape or offsets_deg.shape != chances.shape:
        raise DataError("readings of engines do not fit each other in number")
    seen = np.isfinite(offsets_deg)
    read, before = offsets_deg[seen], chances[seen]
    own = np.sqrt(np.maximum(sds_deg[seen] ** 2 - shared_sd_deg**2, 1e-6))
    # What is found is the place together with the error that all share.
    found = _posterior(read, own, before, INDEX_PRIOR_SD_DEG**2 + shared_sd_deg**2)
    share = INDEX_PRIOR_SD_DEG**2 / (INDEX_PRIOR_SD_DEG**2 + shared_sd_deg**2)
    sd = np.sqrt((share * found.step) ** 2 / 12.0 + share * shared_sd_deg**2)
    place = of_normals(share * found.place.ravel(), sd.ravel(), found.weight.ravel())
    weight = found.weight.sum(axis=1)
    between = math.sqrt(float(weight @ _SPREADS_DEG**2))
    usual = 1.96 * math.hypot(between, place.u95 / 1.96)
    return IndexPopulation(place, of_grid(_SPREADS_DEG, weight), usual, float(weight @ found.sound.sum(axis=1)))


@dataclass(frozen=True, slots=True, eq=False)
class _Posterior:
    """By spread, each over places of its own (spreads, places): the place, how far the next one lies, its weight; how
    likely each engine is a sound one (spreads, engines)."""

    place: Floats
    step: Floats
    weight: Floats
    sound: Floats


def _posterior(read: Floats, own: Floats, chances: Floats, prior: float) -> _Posterior:
    variance = _SPREADS_DEG[:, None] ** 2 + own**2
    sound = np.tile(first_weights(chances), (_SPREADS_DEG.size, 1))
    for _ in range(ROUNDS):
        mean, sd = _about(read, sound / variance, prior)
        sound = sound_chance(chances, _sound_less_moved(read - mean[:, None], variance))
    mean, sd = _about(read, sound / variance, prior)
    # Around what the likelier of each engine says; from there on every engine is what it may be, by its chance.
    places = mean[:, None] + sd[:, None] * _STEPS
    log = np.array(
        [_log_likelihood(read, own_variance, chances, at) for own_variance, at in zip(variance, places, strict=True)]
    )
    step = np.broadcast_to((_STEPS[1] - _STEPS[0]) * sd[:, None], log.shape)
    log += log_prior(_SPREADS_DEG)[:, None] - 0.5 * places**2 / prior + np.log(step)
    weight = np.exp(log - log.max())
    return _Posterior(places, step, weight / weight.sum(), sound)


def _about(read: Floats, precision: Floats, prior: float) -> tuple[Floats, Floats]:
    """Mean and standard deviation of the place by spread (spreads,), for precisions (spreads, engines)."""
    total = precision.sum(axis=1) + 1.0 / prior
    return precision @ read / total, np.sqrt(1.0 / total)


def _log_likelihood(read: Floats, variance: Floats, chances: Floats, places: Floats) -> Floats:
    """Of all engines, each sound by its chance and anywhere else, by place (places,)."""
    ratio = _sound_less_moved(read - places[:, None], variance)
    moved = -0.5 * ((read - places[:, None]) / MOVED_SD_DEG) ** 2
    with np.errstate(divide="ignore"):
        log = np.logaddexp(np.log(chances) + ratio, np.log1p(-chances))
    return np.asarray((log + moved).sum(axis=1))


def _sound_less_moved(off: Floats, variance: Floats) -> Floats:
    """Logarithm of how much likelier it is to lie so far ``off`` for a sound engine, of that variance, than for one
    that has moved."""
    far = MOVED_SD_DEG**2
    return np.asarray(0.5 * (math.log(far) - np.log(variance) + off**2 * (1.0 / far - 1.0 / variance)))
