"""Fleets drawn with known spreads, and what is estimated of them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from phasko.core.arrays import Floats
from phasko.core.population import CamPopulation, Estimate, KindReadings, index_of
from phasko.core.population.cams import EDGE_PRIOR_SD_DEG, WEAR_PRIOR_SD_DEG
from phasko.core.population.index import INDEX_PRIOR_SD_DEG
from phasko.core.population.mixture import MOVED_SD_DEG, SPREAD_PRIOR_DEG

REACH: Floats = np.array([0.8, 1.0, 0.85, 1.0])


@dataclass(frozen=True)
class Drawn:
    """A fleet with its truth: edges (°), wear (° in 10 000 km), how far single cams and whole engines spread (°)."""

    readings: KindReadings
    edges: Floats
    wear: float
    build: float
    whole: float


@dataclass(frozen=True)
class Held:
    """Which intervals of one fleet held the truth, and the half widths of an edge (°) and of the wear."""

    edges: tuple[bool, ...]
    wear: bool
    build: bool
    whole: bool
    edge_u95: float
    wear_u95: float


def usual_fleet(rng: np.random.Generator, engines: int, jumped: float = 0.1) -> Drawn:
    """Drawn as the model has it, but for the jumped, which lie anywhere, and cams that were not read."""
    edges, wear = rng.normal(0.0, 1.5, 4), abs(rng.normal(0.0, 0.3))
    build, whole = np.exp(rng.normal(np.log(0.3), 0.5)), np.exp(rng.normal(np.log(0.4), 0.5))
    distances, sds = rng.uniform(0.5, 20.0, engines), np.exp(rng.normal(np.log(0.08), 0.5, (engines, 4)))
    offsets = edges + distances[:, None] * REACH * wear
    offsets += rng.normal(0.0, whole, engines)[:, None] + rng.normal(0.0, build, (engines, 4))
    offsets += rng.standard_normal((engines, 4)) * sds
    bad = rng.random(engines) < jumped
    offsets[bad] += (rng.choice([-1.0, 1.0], bad.sum()) * rng.uniform(10.0, 40.0, bad.sum()))[:, None]
    chances = np.where(bad, rng.uniform(0.02, 0.3, engines), rng.uniform(0.8, 0.99, engines))
    offsets[rng.random((engines, 4)) < 0.05] = np.nan
    return Drawn(KindReadings(offsets, sds, distances, chances, REACH), edges, wear, float(build), float(whole))


def expected_fleet(rng: np.random.Generator, engines: int) -> Drawn:
    """Drawn from what the model expects before it has seen anything, jumped engines too."""
    edges, wear = rng.normal(0.0, EDGE_PRIOR_SD_DEG, 4), float(rng.normal(0.0, WEAR_PRIOR_SD_DEG))
    build, whole = _half_cauchy(rng), _half_cauchy(rng)
    distances, sds = rng.uniform(0.5, 20.0, engines), np.exp(rng.normal(np.log(0.08), 0.5, (engines, 4)))
    offsets = edges + distances[:, None] * REACH * wear
    offsets += rng.normal(0.0, whole, engines)[:, None] + rng.normal(0.0, build, (engines, 4))
    offsets += rng.standard_normal((engines, 4)) * sds
    chances = rng.uniform(0.8, 0.99, engines)
    bad = rng.random(engines) > chances
    offsets[bad] += rng.normal(0.0, MOVED_SD_DEG, (int(bad.sum()), 4))
    return Drawn(KindReadings(offsets, sds, distances, chances, REACH), edges, wear, build, whole)


@dataclass(frozen=True)
class IndexDrawn:
    """How late the index passed in each engine (°), standard deviation and chance of each, what of it all share; and
    the truth: place and spread (°)."""

    offsets: Floats
    sds: Floats
    chances: Floats
    shared: float
    place: float
    spread: float


@dataclass(frozen=True)
class HeldIndex:
    """Which intervals held the truth, and the half width of the place (°)."""

    place: bool
    spread: bool
    place_u95: float


def index_fleet(rng: np.random.Generator, engines: int) -> IndexDrawn:
    """Drawn from what the model expects before it has seen anything, wheels that have moved too."""
    place, spread, shared = float(rng.normal(0.0, INDEX_PRIOR_SD_DEG)), _half_cauchy(rng), float(rng.uniform(0.1, 0.8))
    own = np.exp(rng.normal(np.log(0.5), 0.4, engines))
    offsets = place + rng.normal(0.0, shared) + rng.normal(0.0, spread, engines) + rng.standard_normal(engines) * own
    chances = rng.uniform(0.8, 0.99, engines)
    bad = rng.random(engines) > chances
    offsets[bad] = place + rng.normal(0.0, MOVED_SD_DEG, int(bad.sum()))
    return IndexDrawn(offsets, np.hypot(own, shared), chances, shared, place, spread)


def index_held(drawn: IndexDrawn) -> HeldIndex:
    found = index_of(drawn.offsets, drawn.sds, drawn.chances, drawn.shared)
    held = (one.low <= true <= one.high for one, true in ((found.place, drawn.place), (found.spread, drawn.spread)))
    return HeldIndex(*held, found.place.u95)


def _half_cauchy(rng: np.random.Generator) -> float:
    """Within what the model looks at."""
    while True:
        spread = abs(float(rng.standard_cauchy())) * SPREAD_PRIOR_DEG
        if 0.03 <= spread <= 8.0:
            return spread


def held_of(drawn: Drawn, found: CamPopulation) -> Held:
    def holds(estimate: Estimate, true: float) -> bool:
        return estimate.low <= true <= estimate.high

    assert found.wear is not None
    return Held(
        edges=tuple(holds(one, true) for one, true in zip(found.edges, drawn.edges.tolist(), strict=True)),
        wear=holds(found.wear, drawn.wear),
        build=holds(found.build, drawn.build),
        whole=holds(found.whole, drawn.whole),
        edge_u95=float(np.mean([one.u95 for one in found.edges])),
        wear_u95=found.wear.u95,
    )
