"""What a look, a test by hand or a gauge shows on a practice car, with the reliability that such looks have.

How often each is right is this module's own table (common practice, no source), not that of the judgement: what a
person sees does not follow what a program believes about it.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from phasko.bench.blind.car import BlindCar, Hidden
from phasko.core.documents import EngineProfile

__all__ = ["Answered", "answer_of"]


@dataclass(frozen=True, slots=True)
class Answered:
    """What was seen: one of the question's answers, or a reading in its unit. Of marks that are out: at which ``cam``
    and by how much (crank degrees, late positive)."""

    answer: str | None = None
    value: float | None = None
    cam: str | None = None
    amount_deg: float | None = None


@dataclass(frozen=True, slots=True)
class _Asked:
    car: BlindCar
    profile: EngineProfile
    cylinder: int | None
    rng: random.Random

    @property
    def hidden(self) -> Hidden:
        return self.car.hidden

    @property
    def broken(self) -> bool:
        return self.hidden.fault == "drive_broken"

    @property
    def own_cylinder(self) -> bool:
        return self.cylinder in self.hidden.cylinders

    @property
    def furthest_deg(self) -> float:
        """How far the valves that are furthest out are against the pistons (crank degrees)."""
        return max((abs(deg) for deg in self.hidden.valves_deg.values()), default=0.0)

    @property
    def out_of_step(self) -> bool:
        """Whether the control unit takes its signals for out of step."""
        hidden = self.hidden
        cams = {*hidden.valves_deg, *hidden.target_deg, *(cam.id for cam in self.profile.cams)}
        apart = [hidden.valves_deg.get(c, 0.0) + hidden.target_deg.get(c, 0.0) - hidden.wheel_deg for c in cams]
        return self.broken or any(abs(deg) > _OUT_OF_STEP_DEG for deg in apart)


_Chances = Callable[[_Asked], dict[str, float]]
"""Answers that tell something, with how often each is given on that car."""
_OUT_OF_STEP_DEG = 9.0
_PUSHES_BACK_DEG = 22.0


def answer_of(car: BlindCar, profile: EngineProfile, question: str, cylinder: int | None = None) -> Answered | None:
    """What that question shows on that car; the same each time that it is asked. ``None`` for one that no hand can
    answer here."""
    asked = _Asked(car, profile, cylinder, random.Random(f"{car.seed}/{question}/{cylinder}"))
    if question in _READINGS:
        return Answered(value=round(_READINGS[question](asked), 2))
    if question in _TOLD_APART:
        return _TOLD_APART[question](asked)
    if question not in _WORDS:
        return None
    # One after the other: a later answer has its chance where the earlier ones were not given.
    for answer, chance in _WORDS[question](asked).items():
        if asked.rng.random() < chance:
            return Answered(answer)
    return Answered(_USUAL[question])


def _marks(asked: _Asked) -> Answered:
    """With the crank on its own mark: a hub that slipped took that mark along. At rest a phaser that hangs shows
    sometimes; what comes and goes does not."""
    hidden = asked.hidden
    seen = {cam: deg - hidden.hub_deg for cam, deg in hidden.valves_deg.items()} if hidden.present == "always" else {}
    cam = max(seen, key=lambda one: abs(seen[one]), default=None)
    out = abs(seen[cam]) if cam is not None else 0.0
    shown = 0.03 if out < _SEEN_DEG else 0.4 if hidden.fault in ("phaser_off_park", "chain_stretched") else 0.96
    if asked.broken:
        cam, shown = hidden.cams[0], 0.97
    if asked.rng.random() >= shown:
        return Answered("true")
    if cam is None or asked.broken or out < _SEEN_DEG:
        return Answered("out")
    return Answered("out", cam=cam, amount_deg=round(seen[cam] + asked.rng.gauss(0.0, 2.0)))


_SEEN_DEG = 7.0


def _gauge(asked: _Asked) -> float:
    """The reading of a compression gauge (bar, over the outside): late intake valves push air back out."""
    low, high = asked.profile.cranking_pressure_bar or (9.0, 13.0)
    shafts = {cam.id: cam.shaft for cam in asked.profile.cams}
    late = max((deg for cam, deg in asked.hidden.valves_deg.items() if shafts.get(cam) != "exhaust"), default=0.0)
    bar = 0.5 * (low + high) * (1.0 - 0.011 * max(late, 0.0) - 0.003 * max(-late, 0.0))
    if asked.own_cylinder:
        worst = asked.broken or asked.hidden.fault == "valve_train"
        bar *= 0.06 if worst else asked.rng.uniform(0.25, 0.65)
    return max(0.0, bar * asked.rng.gauss(1.0, 0.03))


def _leak_down(asked: _Asked) -> float:
    if asked.own_cylinder and asked.broken:
        return asked.rng.uniform(85.0, 100.0)
    if asked.own_cylinder and asked.hidden.fault == "weak_cylinder":
        return asked.rng.uniform(32.0, 80.0)
    return asked.rng.uniform(3.0, 14.0)


def _manifold(asked: _Asked) -> float:
    """Absolute pressure at the port while cranking with the throttle closed (bar)."""
    if asked.furthest_deg > _PUSHES_BACK_DEG:
        return asked.rng.uniform(1.0, 1.12)
    if asked.hidden.fault in ("intake_restricted",):
        return asked.rng.uniform(0.55, 0.75)
    return asked.rng.uniform(0.78, 0.93)


_READINGS: Mapping[str, Callable[[_Asked], float]] = {"gauge": _gauge, "leak_down": _leak_down, "manifold": _manifold}


def _wires(asked: _Asked) -> dict[str, float]:
    kinds = asked.hidden.signals.values() if not asked.broken else ()
    found = 0.55 if "lost" in kinds else 0.3 if "erratic" in kinds else 0.01
    return {"ground_missing": 0.5 * found, "supply_missing": 0.5 * found}


def _spark(asked: _Asked) -> dict[str, float]:
    if asked.hidden.signals.get("crank") == "lost":
        return {"absent": 0.97}
    return {"stops": 0.2, "absent": 0.35, "weak": 0.04} if asked.out_of_step else {"weak": 0.03, "stops": 0.02}


def _plug(asked: _Asked) -> dict[str, float]:
    hidden = asked.hidden
    met = hidden.ruins and (asked.broken or asked.furthest_deg > _MET_DEG)
    oiled = asked.own_cylinder and "rings" in hidden.size
    wet = asked.own_cylinder or hidden.fault == "ignition_mistimed" or asked.out_of_step
    return {"crushed": 0.25 if met else 0.002, "oiled": 0.6 if oiled else 0.05, "wet": 0.6 if wet else 0.08}


_MET_DEG = 25.0
_WORN = ("chain_stretched", "tensioner_slack")


def _one(answer: str, holds: Callable[[_Asked], bool], shown: float, otherwise: float) -> _Chances:
    """One telling answer: how often it is given where what it tells holds, and otherwise."""
    return lambda asked: {answer: shown if holds(asked) else otherwise}


def _always(answer: str, chance: float) -> _Chances:
    """As often whatever is wrong."""
    return lambda asked: {answer: chance}  # noqa: ARG005


def _fault(*faults: str) -> Callable[[_Asked], bool]:
    return lambda asked: asked.hidden.fault in faults


_WORDS: Mapping[str, _Chances] = {
    "wiring": lambda asked: {"damaged": 0.55 if asked.hidden.signals and not asked.broken else 0.04},
    "oil": lambda asked: (
        {"sludged": 0.3, "low": 0.3}
        if asked.hidden.fault in (*_WORN, "phaser_off_park")
        else {"sludged": 0.04, "low": 0.1}
    ),
    "plug": _plug,
    "rhythm": lambda asked: {
        "uneven": 0.92 if asked.hidden.fault in ("weak_cylinder", "valve_train") else 0.6 if asked.broken else 0.05
    },
    "rattle": lambda asked: {
        "at_start": 0.6 if asked.hidden.fault in _WORN else 0.3 if asked.hidden.fault == "chain_jumped" else 0.1,
        "always": 0.05,
    },
    "throttle_hand": lambda asked: {
        "pushes_back": 0.7 if asked.furthest_deg > _PUSHES_BACK_DEG else 0.01,
        "neither": 0.6 if asked.broken or asked.hidden.fault == "exhaust_restricted" else 0.08,
    },
    "spark": _spark,
    "injector": lambda asked: {
        "absent": 0.97 if asked.hidden.signals.get("crank") == "lost" else 0.3 if asked.out_of_step else 0.05
    },
    "fuel_by_hand": _one("reacts", _fault("something_else"), 0.9, 0.1),
    "fuel_pressure": _one("low", _fault("something_else"), 0.95, 0.03),
    "exhaust_opened": _one("better", _fault("exhaust_restricted"), 0.95, 0.03),
    "intake_opened": _one("better", _fault("intake_restricted"), 0.95, 0.03),
    "solenoid_swapped": _always("moved", 0.04),
    "coil_swapped": _always("moved", 0.04),
    "cold_strategy": _one("starts", lambda asked: asked.out_of_step, 0.25, 0.04),
    "sensor_unplugged": _one(
        "better", _fault("cam_sensor_fault", "induced_pulses", "cam_signal_shifted", "sync_misadjusted"), 0.5, 0.05
    ),
    "turns_by_hand": _one("locks", lambda asked: asked.hidden.ruins and asked.furthest_deg > _MET_DEG, 0.4, 0.01),
    "slack": _always("felt", 0.5),
    "sensor_wires": _wires,
    "solenoid_resistance": _always("off", 0.04),
    "valve_moves": _one(
        "still", lambda asked: asked.broken or (asked.hidden.fault == "valve_train" and asked.own_cylinder), 0.97, 0.01
    ),
    "borescope": lambda asked: (
        {"bent_valve": 0.3, "marked": 0.6}
        if asked.hidden.ruins and (asked.broken or asked.furthest_deg > _MET_DEG)
        else {"marked": 0.03}
    ),
    "crank_wheel": _one("moved", lambda asked: abs(asked.hidden.wheel_deg) > _WHEEL_SEEN_DEG, 0.9, 0.03),
    "cam_target": _one(
        "moved", lambda asked: any(abs(deg) > _WHEEL_SEEN_DEG for deg in asked.hidden.target_deg.values()), 0.93, 0.04
    ),
    "tensioner": _one("far_out", _fault("chain_stretched"), 0.95, 0.05),
}
_WHEEL_SEEN_DEG = 4.0


def _replaced(asked: _Asked) -> Answered:
    """New parts are there to be seen, whether the owner told of them or not."""
    for one in asked.car.told.replaced:
        sensor = one.part in ("cam_sensor", "crank_sensor")
        if one.when == "before_symptom":
            return Answered("sensor_before" if sensor else "drive_before")
        if sensor:
            return Answered("sensor_in_vain")
    return Answered("nothing")


_USUAL: Mapping[str, str] = {
    "wiring": "good",
    "oil": "good",
    "plug": "usual",
    "rhythm": "even",
    "rattle": "none",
    "throttle_hand": "pulls",
    "spark": "present",
    "injector": "present",
    "fuel_by_hand": "nothing",
    "fuel_pressure": "right",
    "exhaust_opened": "same",
    "intake_opened": "same",
    "solenoid_swapped": "stayed",
    "coil_swapped": "stayed",
    "cold_strategy": "same",
    "sensor_unplugged": "same",
    "turns_by_hand": "turns",
    "slack": "none",
    "sensor_wires": "right",
    "solenoid_resistance": "right",
    "valve_moves": "moves",
    "borescope": "clean",
    "crank_wheel": "sits_right",
    "cam_target": "sits_right",
    "tensioner": "usual",
}
"""What is seen where nothing tells."""
_TOLD_APART: Mapping[str, Callable[[_Asked], Answered]] = {"marks": _marks, "replaced": _replaced}
