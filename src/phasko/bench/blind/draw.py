"""Draws a practice car from a seed: the same on every machine and with every version of the numeric libraries."""

from __future__ import annotations

import random
from collections.abc import Mapping

from phasko.bench.blind.car import BlindCar, Hidden
from phasko.bench.blind.faults import ABLE, fault_of
from phasko.bench.blind.sized import is_able
from phasko.bench.blind.story import told_of
from phasko.bench.faults import Spread
from phasko.bench.pool import pool_engine, pool_engines
from phasko.core.documents.fault_name import FaultName

__all__ = ["drawn_car", "named_car"]

_MODELS: Mapping[str, tuple[str, ...]] = {
    "corvane-2.1-four": ("Corvane Skiff", "Corvane Petrel", "Corvane Gannet"),
    "corvane-2.2-diesel": ("Corvane Tern", "Corvane Fulmar"),
    "brimholt-3.2-six": ("Brimholt Folio", "Brimholt Mercy", "Brimholt Beacon"),
    "brimholt-3.8-odd-six": ("Brimholt Almanac",),
    "haverel-1.3-even": ("Haverel Cove",),
    "haverel-2.4-five": ("Haverel Drift", "Haverel Strand"),
    "ostrin-1.4-four": ("Ostrin Wagtail", "Ostrin Wren"),
    "ostrin-1.6-distributor": ("Ostrin Otter", "Ostrin Dune"),
    "pellowe-1.0-triple": ("Pellowe Swift", "Pellowe Dart"),
    "quayle-5.0-eight": ("Quayle Heron",),
    "solan-2.0-flat-four": ("Solan Plover",),
    "tarrant-3.0-straight-six": ("Tarrant Meadow", "Tarrant Furrow"),
}
_DUTIES = (
    "Harbour cart",
    "Post car",
    "Ferry shuttle",
    "School van",
    "Dune patrol",
    "Quarry truck",
    "Library bus",
    "Clinic car",
    "Lighthouse jeep",
    "Market lorry",
    "Beach tractor",
    "Airstrip tug",
)


def drawn_car(seed: int, engine: str | None = None, fault: FaultName | None = None) -> BlindCar:
    """The car of that seed; with ``engine`` (of the pool) or ``fault`` given, only the rest is drawn. Raises KeyError
    for an engine that the pool does not have, ValueError for a fault that this engine cannot have."""
    # The standard library's generator is the same everywhere; its strings are hashed by SHA-512.
    rng = random.Random(f"practice car {seed}")
    names = sorted(pool_engines())
    # Drawn even where it is given, so that what follows is the same either way.
    name = rng.choice(names)
    if fault is not None and engine is None:
        name = rng.choice([one for one in names if is_able(fault, pool_engine(one))])
    name = engine or name
    profile = pool_engine(name)
    able = [one for one in ABLE if is_able(one, profile)]
    chosen = rng.choices(able, [ABLE[one] for one in able])[0]
    if fault is not None and fault not in able:
        raise ValueError(f"{profile.name} cannot have the fault {fault}")
    car = named_car(seed, name, fault_of(fault or chosen, profile, rng), rng)
    spread = Spread(
        cylinder_share=round(rng.uniform(0.01, 0.025), 4),
        edge_deg=0.3,
        index_deg=0.3,
        tooth_deg=round(rng.uniform(0.02, 0.06), 4),
        run_out_deg=round(rng.uniform(0.0, 0.06), 4),
        build_deg=round(rng.uniform(0.15, 0.5), 4),
    )
    return car.model_copy(update={"spread": spread, "noise_v": round(rng.uniform(0.006, 0.05), 4)})


def named_car(seed: int, engine: str, hidden: Hidden, rng: random.Random) -> BlindCar:
    """A car with that fault hidden in it: what is told of it and what it is called, drawn from ``rng``. Raises KeyError
    for an engine that the pool does not have."""
    story = told_of(hidden, pool_engine(engine), rng)
    return BlindCar(
        seed=seed,
        engine=engine,
        vehicle=f"{rng.choice(_DUTIES)} {rng.randint(20, 99)}",
        make_model=rng.choice(_MODELS[engine]),
        hidden=hidden,
        told=story.told,
        herrings=story.herrings,
    )
