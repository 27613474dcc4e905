"""A practice car that is made by hand: any fault of any size, with what lies over it."""

from __future__ import annotations

import random
from dataclasses import replace
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from phasko.bench.blind.car import BlindCar, Hidden
from phasko.bench.blind.draw import named_car
from phasko.bench.blind.sized import Sized, hidden_of
from phasko.bench.blind.sliders import NUISANCES, FaultSliders, Slider, sliders_of
from phasko.bench.faults import Spread
from phasko.bench.pool import pool_engine, pool_engines
from phasko.core.documents import EngineProfile
from phasko.core.documents.fault_name import FaultName
from phasko.core.errors import DocumentError, NotFoundError

__all__ = ["ByHand", "Nuisances", "car_by_hand", "hidden_by_hand", "profile_by_hand"]


class Nuisances(BaseModel):
    """What lies over the fault; the name of each says its unit."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    noise_v: float = NUISANCES["noise_v"].usual
    hum_v: float = NUISANCES["hum_v"].usual
    spark_spike_v: float = NUISANCES["spark_spike_v"].usual
    tooth_deg: float = NUISANCES["tooth_deg"].usual
    run_out_deg: float = NUISANCES["run_out_deg"].usual
    build_deg: float = NUISANCES["build_deg"].usual
    cylinder_percent: float = NUISANCES["cylinder_percent"].usual
    battery_weak_percent: float = NUISANCES["battery_weak_percent"].usual

    @property
    def spread(self) -> Spread:
        """How this engine differs from its kind."""
        return Spread(
            cylinder_share=self.cylinder_percent / 100.0,
            tooth_deg=self.tooth_deg,
            run_out_deg=self.run_out_deg,
            build_deg=self.build_deg,
        )


class ByHand(BaseModel):
    """A car as a hand sets it: an engine of the pool, a fault with its size and place, nuisances; ``seed`` draws the
    rest."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    engine: Annotated[str, Field(min_length=1, max_length=60)]
    fault: FaultName = "none"
    sized: Sized = Field(default_factory=Sized)
    nuisances: Nuisances = Field(default_factory=Nuisances)
    seed: Annotated[int, Field(ge=0, le=2_000_000_000)] = 1


def profile_by_hand(wish: ByHand) -> EngineProfile:
    """Its engine. Raises NotFoundError for one that the pool does not have."""
    if wish.engine not in pool_engines():
        raise NotFoundError(f"The pool has no engine {wish.engine!r}")
    return pool_engine(wish.engine)


def hidden_by_hand(wish: ByHand) -> Hidden:
    """What is then true of it. Raises NotFoundError for an unknown engine, DocumentError for a fault, a place or a size
    that it cannot have."""
    engine = profile_by_hand(wish)
    able = {one.fault: one for one in sliders_of(engine)}
    if wish.fault not in able:
        raise DocumentError(f"{engine.name} cannot have this fault", place="fault", kept="Nothing was made")
    _check(wish, able[wish.fault])
    hidden = hidden_of(wish.fault, engine, wish.sized)
    weak = wish.nuisances.battery_weak_percent / 100.0
    return hidden.model_copy(update={"faults": replace(hidden.faults, battery_weak_share=weak)})


def car_by_hand(wish: ByHand) -> BlindCar:
    """The car, with a story of its own. Raises what ``hidden_by_hand`` raises."""
    hidden, nuisances = hidden_by_hand(wish), wish.nuisances
    car = named_car(wish.seed, wish.engine, hidden, random.Random(f"car by hand {wish.seed}"))
    return car.model_copy(
        update={
            "spread": nuisances.spread,
            "noise_v": nuisances.noise_v,
            "hum_v": nuisances.hum_v,
            "spark_spike_v": nuisances.spark_spike_v,
        }
    )


def _check(wish: ByHand, able: FaultSliders) -> None:
    """Raises DocumentError for a place or a size that the fault cannot have on this engine."""
    sized = wish.sized
    way = next((one for one in able.ways if one.leak in (None, sized.leak)), able.ways[0])
    if way.slider is not None:
        _check_within("sized.size", sized.size, way.slider)
    for name, slider in NUISANCES.items():
        _check_within(f"nuisances.{name}", getattr(wish.nuisances, name), slider)
    wrong = [cam for cam in sized.cams if cam not in able.cams]
    if wrong:
        raise DocumentError(f"This fault is not one of {wrong[0]}", place="sized.cams", kept="Nothing was made")
    if len(sized.cams) > 1 and not able.many:
        raise DocumentError("This fault is one of a single cam", place="sized.cams", kept="Nothing was made")
    if able.cams and not sized.cams and not able.many and not able.crank:
        raise DocumentError("Say which cam it is", place="sized.cams", kept="Nothing was made")
    if able.cylinders and sized.cylinder not in able.cylinders:
        raise DocumentError("Say which cylinder it is", place="sized.cylinder", kept="Nothing was made")
    if able.signals and sized.signal not in able.signals:
        raise DocumentError("This lead is not spoilt like that", place="sized.signal", kept="Nothing was made")
    if sized.present not in able.presents:
        raise DocumentError("This fault does not come and go like that", place="sized.present", kept="Nothing was made")


def _check_within(place: str, value: float, slider: Slider) -> None:
    if not slider.least <= value <= slider.most:
        raise DocumentError(
            f"{slider.words}: {slider.least:g} to {slider.most:g} {slider.unit}, not {value:g}",
            place=place,
            kept="Nothing was made",
        )
