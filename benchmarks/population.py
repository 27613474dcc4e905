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
from functools import partial

import numpy as np

from benchmarks.table import all_rows
from phasko.core.population import population_of
from trials.fleets import Drawn, Held, expected_fleet, held_of, index_fleet, index_held, usual_fleet

ENGINES = (3, 5, 12, 30, 60)


PIECE = 10
"""Fleets that are drawn in one go."""


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
