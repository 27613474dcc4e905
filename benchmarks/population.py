"""What a fleet teaches, against the truth that the fleet was drawn with: how often its 95 % intervals hold it.

    python -m benchmarks.population [fleets] [seed]

Fleets of two sorts. ``usual``: built as closely as engines are, one in ten jumped and called likely so, five in a
hundred cams not read. ``expected``: edges, wear and spreads drawn from what the model expects before it has seen
anything, and an engine jumped by just the chance that its call gives; there 95 of 100 have to be held by any number of
engines, and what is missing is the model's arithmetic. Among usual ones few engines are held more often: nobody knew
before how closely they are built.
"""

from __future__ import annotations

import sys
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np

from benchmarks.table import all_rows
from phasko.core.arrays import Floats
from phasko.core.population import CamPopulation, Estimate, KindReadings, index_of, population_of
from phasko.core.population.cams import EDGE_PRIOR_SD_DEG, WEAR_PRIOR_SD_DEG
from phasko.core.population.index import INDEX_PRIOR_SD_DEG
from phasko.core.population.mixture import MOVED_SD_DEG, SPREAD_PRIOR_DEG

__all__ = [
    "ENGINES",
    "REACH",
    "Drawn",
    "Held",
    "HeldIndex",
    "IndexDrawn",
    "expected_fleet",
    "held_of",
    "index_fleet",
    "index_held",
    "usual_fleet",
]

REACH: Floats = np.array([0.8, 1.0, 0.85, 1.0])
ENGINES = (3, 5, 12, 30, 60)
PIECE = 10
"""Fleets that are drawn in one go."""


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


def _piece(draw: Callable[[np.random.Generator, int], Drawn], engines: int, seed: tuple[int, int]) -> list[Held]:
    rng = np.random.default_rng([*seed, engines])
    drawn = [draw(rng, engines) for _ in range(PIECE)]
    return [held_of(one, population_of(one.readings)) for one in drawn]


def _index_row(fleets: int, seed: int, engines: int) -> str:
    rng = np.random.default_rng([seed, engines, 1])
    held = [index_held(index_fleet(rng, engines)) for _ in range(fleets)]
    place, spread = (100 * np.mean([getattr(one, name) for one in held]) for name in ("place", "spread"))
    return f"| {engines} | {place:.1f} % | {spread:.1f} % | {np.median([one.place_u95 for one in held]):.2f}° |"


def _row(engines: int, held: Sequence[Held]) -> str:
    shares = [
        np.mean([mark for one in held for mark in one.edges]),
        *(np.mean([getattr(one, name) for one in held]) for name in ("wear", "build", "whole")),
    ]
    edge, wear = np.median([one.edge_u95 for one in held]), np.median([one.wear_u95 for one in held])
    return f"| {engines} | {' | '.join(f'{100 * share:.1f} %' for share in shares)} | {edge:.2f}° | {wear:.2f}° |"


def main(fleets: int, seed: int) -> None:
    print(f"the index, {fleets} fleets each, seed {seed}\n")
    print("| engines | place of the index | engines' spread | half width of the place |")
    print("|---:|---:|---:|---:|")
    for engines in ENGINES:
        print(_index_row(fleets, seed, engines), flush=True)
    print()
    for name, draw in (("usual", usual_fleet), ("expected", expected_fleet)):
        begun = time.monotonic()
        print(f"{name}, {fleets} fleets each, seed {seed}\n")
        print(
            "| engines | edges | wear | cams' spread | engines' spread | half width of an edge | of wear in 10 000 km |"
        )
        print("|---:|---:|---:|---:|---:|---:|---:|")
        for engines in ENGINES:
            pieces = [(seed, piece) for piece in range(fleets // PIECE)]
            print(_row(engines, all_rows(partial(_piece, draw, engines), pieces)), flush=True)
        print(f"\n{time.monotonic() - begun:.0f} s\n")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 400, int(sys.argv[2]) if len(sys.argv) > 2 else 22_100)
