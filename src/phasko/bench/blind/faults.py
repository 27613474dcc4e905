"""Faults that a practice car can have, drawn with the sizes that they have in workshops."""

from __future__ import annotations

import random
from collections.abc import Callable, Mapping

from phasko.bench.blind.car import BadSignal, Hidden, Present
from phasko.bench.blind.sized import Sized, hidden_of, limit_percent
from phasko.core.documents import EngineProfile
from phasko.core.documents.fault_name import FaultName

__all__ = ["ABLE", "fault_of"]

ABLE: Mapping[FaultName, float] = {
    "none": 3.0,
    "chain_jumped": 3.0,
    "chain_stretched": 2.0,
    "cam_slipped": 1.5,
    "crank_sprocket_slipped": 0.7,
    "crank_hub_slipped": 0.7,
    "drive_broken": 0.7,
    "tensioner_slack": 1.0,
    "phaser_off_park": 2.0,
    "cam_signal_shifted": 1.5,
    "crank_signal_shifted": 1.5,
    "sync_misadjusted": 1.5,
    "cam_sensor_fault": 1.5,
    "crank_sensor_fault": 1.0,
    "induced_pulses": 1.0,
    "weak_cylinder": 2.0,
    "valve_train": 1.0,
    "exhaust_restricted": 1.0,
    "intake_restricted": 1.0,
    "ignition_mistimed": 0.7,
    "something_else": 1.0,
}
"""How often each is drawn beside the others: to learn from, not as in life."""


def fault_of(fault: FaultName, engine: EngineProfile, rng: random.Random) -> Hidden:
    """That fault in some size at some place. Raises KeyError for one that no car can have."""
    return hidden_of(fault, engine, _DRAWS[fault](engine, rng))


def _amount(rng: random.Random, least: float = 5.0, most: float = 40.0) -> float:
    """Small ones more often than large ones, either way."""
    # Squared: half of them lie in the lowest quarter, where a call is hardest.
    size = least + (most - least) * rng.random() ** 2
    return round(size if rng.random() < 0.6 else -size, 1)


def _cams(engine: EngineProfile) -> list[str]:
    return [cam.id for cam in engine.cams]


def _nothing(engine: EngineProfile, rng: random.Random) -> Sized:  # noqa: ARG001
    return Sized()


def _jumped(engine: EngineProfile, rng: random.Random) -> Sized:
    # A slack strand lets the sprocket run ahead of the chain: cams end late more often than early.
    count = rng.choice((1, 1, 1, 2, 2, 3)) * (1 if rng.random() < 0.7 else -1)
    banks = sorted({cam.bank for cam in engine.cams})
    cams, where = _cams(engine), rng.random()
    if len(banks) > 1 and where < 0.35:
        bank = rng.choice(banks)
        cams = [cam.id for cam in engine.cams if cam.bank == bank]
    elif len(cams) > 1 and where < 0.5:
        cams = [rng.choice(cams)]
    return Sized(size=count, cams=tuple(cams))


def _stretched(engine: EngineProfile, rng: random.Random) -> Sized:
    percent = round(limit_percent(engine) * rng.uniform(1.3, 2.2), 2)
    return Sized(size=percent, slack_deg=round(rng.uniform(0.05, 0.3), 2))


def _one_cam(least: float, most: float = 40.0) -> Callable[[EngineProfile, random.Random], Sized]:
    def drawn(engine: EngineProfile, rng: random.Random) -> Sized:
        return Sized(cams=(rng.choice(_cams(engine)),), size=_amount(rng, least, most))

    return drawn


def _some(least: float, most: float = 40.0) -> Callable[[EngineProfile, random.Random], Sized]:
    def drawn(engine: EngineProfile, rng: random.Random) -> Sized:  # noqa: ARG001
        return Sized(size=_amount(rng, least, most))

    return drawn


def _broken(engine: EngineProfile, rng: random.Random) -> Sized:  # noqa: ARG001
    return Sized(size=rng.uniform(0.0, 720.0))


def _tensioner(engine: EngineProfile, rng: random.Random) -> Sized:  # noqa: ARG001
    size = rng.uniform(6.0, 13.0)
    when: Present = rng.choices(("cranking", "cold", "hot"), (0.45, 0.35, 0.2))[0]
    return Sized(size=size, present=when)


def _phaser(engine: EngineProfile, rng: random.Random) -> Sized:
    cam = rng.choice([cam for cam in engine.cams if cam.phaser is not None])
    assert cam.phaser is not None
    low, high = cam.phaser.authority_deg
    place = round(rng.uniform(0.2, 0.95) * (low if abs(low) >= abs(high) else high), 1)
    return Sized(size=place, cams=(cam.id,), present="hot" if rng.random() < 0.3 else "always")


def _bad_signal(fault: FaultName) -> Callable[[EngineProfile, random.Random], Sized]:
    def drawn(engine: EngineProfile, rng: random.Random) -> Sized:
        crank = fault == "crank_sensor_fault" or not engine.cams
        cams = () if crank else (rng.choice(_cams(engine)),)
        kind: BadSignal = "extra"
        if fault != "induced_pulses":
            # Without a crank signal an engine does not even start, so it was no fault that comes and goes.
            kind = "lost" if rng.random() < 0.3 else "erratic"
        gone = kind == "erratic" and rng.random() < 0.25
        return Sized(cams=cams, signal=kind, present="not_today" if gone else "always")

    return drawn


def _weak(engine: EngineProfile, rng: random.Random) -> Sized:
    cylinder = int(rng.choice(engine.firing_order))
    if rng.random() < 0.25:
        return Sized(cylinder=cylinder, leak="plug")
    if rng.random() < 0.5:
        return Sized(cylinder=cylinder, leak="exhaust_valve", size=round(rng.uniform(1.5, 7.0), 1))
    return Sized(cylinder=cylinder, leak="rings", size=round(rng.uniform(2.5, 9.0), 1))


def _valve_train(engine: EngineProfile, rng: random.Random) -> Sized:
    return Sized(cylinder=int(rng.choice(engine.firing_order)))


def _exhaust(engine: EngineProfile, rng: random.Random) -> Sized:  # noqa: ARG001
    return Sized(size=100.0 * rng.uniform(0.96, 0.99))


def _intake(engine: EngineProfile, rng: random.Random) -> Sized:  # noqa: ARG001
    return Sized(size=100.0 * rng.uniform(0.65, 0.9))


_DRAWS: Mapping[FaultName, Callable[[EngineProfile, random.Random], Sized]] = {
    "none": _nothing,
    "chain_jumped": _jumped,
    "chain_stretched": _stretched,
    "cam_slipped": _one_cam(7.0),
    "crank_sprocket_slipped": _some(7.0),
    "crank_hub_slipped": _some(8.0),
    "drive_broken": _broken,
    "tensioner_slack": _tensioner,
    "phaser_off_park": _phaser,
    "cam_signal_shifted": _one_cam(7.0),
    "sync_misadjusted": _one_cam(8.0, 24.0),
    "crank_signal_shifted": _some(7.0, 24.0),
    "cam_sensor_fault": _bad_signal("cam_sensor_fault"),
    "crank_sensor_fault": _bad_signal("crank_sensor_fault"),
    "induced_pulses": _bad_signal("induced_pulses"),
    "weak_cylinder": _weak,
    "valve_train": _valve_train,
    "exhaust_restricted": _exhaust,
    "intake_restricted": _intake,
    "ignition_mistimed": _some(16.0, 40.0),
    "something_else": _nothing,
}
