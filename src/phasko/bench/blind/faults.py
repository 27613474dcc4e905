"""Faults that a practice car can have, drawn with the sizes that they have in workshops."""

from __future__ import annotations

import random
from collections.abc import Callable, Mapping

from phasko.bench.blind.car import BadSignal, Hidden, Present
from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults, PhaserFault
from phasko.core.documents import EngineProfile
from phasko.core.documents.fault_name import FaultName

__all__ = ["ABLE", "fault_of", "is_able"]

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


def is_able(fault: FaultName, engine: EngineProfile) -> bool:
    """Whether an engine of this kind can have that fault."""
    drive = engine.drive.type if engine.drive is not None else "chain"
    if fault in ("chain_jumped", "tensioner_slack", "crank_sprocket_slipped", "drive_broken", "cam_slipped"):
        return drive in ("chain", "belt") and bool(engine.cams)
    if fault == "chain_stretched":
        return drive == "chain" and bool(engine.cams) and _limit_percent(engine) < _MOST_PERCENT
    if fault == "sync_misadjusted":
        return drive == "distributor_gear"
    if fault == "phaser_off_park":
        return any(cam.phaser is not None for cam in engine.cams)
    if fault == "ignition_mistimed":
        return engine.ignition is not None and engine.ignition.cranking_spark_deg is not None
    return True


_MOST_PERCENT = 1.3
"""A chain that is longer breaks or jumps first (common practice, no source)."""
_LIMIT_DEG = 5.0


def fault_of(fault: FaultName, engine: EngineProfile, rng: random.Random) -> Hidden:
    """That fault in some size at some place. Raises KeyError for one that no car can have."""
    return _MAKERS[fault](engine, rng)


def _pitch_deg(engine: EngineProfile) -> float:
    return 360.0 / ((engine.drive.crank_sprocket_teeth if engine.drive is not None else None) or 21)


def _limit_percent(engine: EngineProfile) -> float:
    """The elongation at which the first cam leaves its limit."""
    links = engine.drive.free_links if engine.drive is not None else {}
    return 100.0 * _LIMIT_DEG / (max(links.values(), default=40.0) * _pitch_deg(engine))


def _amount(rng: random.Random, least: float = 5.0, most: float = 40.0) -> float:
    """Small ones more often than large ones, either way."""
    # Squared: half of them lie in the lowest quarter, where a call is hardest.
    size = least + (most - least) * rng.random() ** 2
    return round(size if rng.random() < 0.6 else -size, 1)


def _way(deg: float) -> str:
    return f"{abs(deg):.1f}° {'late' if deg > 0 else 'early'}"


def _cams(engine: EngineProfile) -> list[str]:
    return [cam.id for cam in engine.cams]


def _ruins(engine: EngineProfile, valves_deg: Mapping[str, float]) -> bool:
    """Whether valves come towards pistons by more than they have room: exhaust late or intake early."""
    if engine.interference is False:
        return False
    shafts = {cam.id: cam.shaft for cam in engine.cams}
    for cam, deg in valves_deg.items():
        towards = {"exhaust": deg, "intake": -deg, "single": abs(deg)}[shafts[cam]]
        if towards >= _MEETS_DEG or abs(deg) >= _MEETS_ANY_DEG:
            return True
    return False


_MEETS_DEG = 10.0
_MEETS_ANY_DEG = 60.0


def _moved(engine: EngineProfile, fault: FaultName, also: tuple[FaultName, ...], shift: dict[str, float]) -> Hidden:
    """Cams that stand elsewhere on their drive, with their valves."""
    one = next(iter(shift.values()))
    return Hidden(
        fault=fault,
        also=also,
        covers="off",
        ruins=_ruins(engine, shift),
        cams=tuple(shift),
        valves_deg=shift,
        faults=EngineFaults(DriveFaults(slipped_deg=shift)),
        size=_way(one),
    )


def _none(engine: EngineProfile, rng: random.Random) -> Hidden:  # noqa: ARG001
    return Hidden(fault="none")


def _jumped(engine: EngineProfile, rng: random.Random) -> Hidden:
    # A slack strand lets the sprocket run ahead of the chain: cams end late more often than early.
    count = rng.choice((1, 1, 1, 2, 2, 3)) * (1 if rng.random() < 0.7 else -1)
    banks = sorted({cam.bank for cam in engine.cams})
    cams, where = _cams(engine), rng.random()
    if len(banks) > 1 and where < 0.35:
        bank = rng.choice(banks)
        cams = [cam.id for cam in engine.cams if cam.bank == bank]
    elif len(cams) > 1 and where < 0.5:
        cams = [rng.choice(cams)]
    also: tuple[FaultName, ...] = ("cam_slipped",)
    if len(cams) == len(engine.cams):
        also = ("cam_slipped", "crank_sprocket_slipped")
    shift = dict.fromkeys(cams, round(count * _pitch_deg(engine), 2))
    made = _moved(engine, "chain_jumped", also, shift)
    pitches = f"{abs(count)} pitch{'' if abs(count) == 1 else 'es'}"
    return made.model_copy(update={"size": f"{pitches}, {made.size}"})


def _stretched(engine: EngineProfile, rng: random.Random) -> Hidden:
    percent = round(_limit_percent(engine) * rng.uniform(1.3, 2.2), 2)
    links = engine.drive.free_links if engine.drive is not None else {}
    late = {cam: round(percent / 100.0 * links.get(cam, 40.0) * _pitch_deg(engine), 2) for cam in _cams(engine)}
    drive = DriveFaults(elongation_percent=percent, slack_deg=round(rng.uniform(0.05, 0.3), 2))
    return Hidden(
        fault="chain_stretched",
        covers="off",
        cams=tuple(late),
        valves_deg=late,
        faults=EngineFaults(drive),
        size=f"{percent:.2f} % longer, {_way(max(late.values()))} at the furthest cam",
    )


def _cam_slipped(engine: EngineProfile, rng: random.Random) -> Hidden:
    return _moved(engine, "cam_slipped", ("chain_jumped",), {rng.choice(_cams(engine)): _amount(rng, 7.0)})


def _sprocket(engine: EngineProfile, rng: random.Random) -> Hidden:
    shift = dict.fromkeys(_cams(engine), _amount(rng, 7.0))
    also: tuple[FaultName, ...] = ("chain_jumped", "cam_slipped") if len(shift) == 1 else ("chain_jumped",)
    return _moved(engine, "crank_sprocket_slipped", also, shift)


def _hub(engine: EngineProfile, rng: random.Random) -> Hidden:
    size = _amount(rng, 8.0)
    shift = dict.fromkeys(_cams(engine), size)
    return Hidden(
        fault="crank_hub_slipped",
        covers="off",
        ruins=_ruins(engine, shift),
        cams=tuple(shift),
        valves_deg=shift,
        wheel_deg=size,
        hub_deg=size,
        faults=EngineFaults(DriveFaults(crank_hub_deg=size)),
        size=_way(size),
    )


def _broken(engine: EngineProfile, rng: random.Random) -> Hidden:
    """The cams stand where they came to rest: some cylinders have a valve open there, and no cam signal changes."""
    # The bench's valves follow its cams, so a valve that stands open is held open in those cylinders.
    at = rng.uniform(0.0, 720.0)
    own = {c: (at - tdc + 360.0) % 720.0 - 360.0 for c, tdc in engine.firing_tdc_deg.items()}
    dead = [int(c) for c, angle in own.items() if not -130.0 < angle < 140.0]
    cams = _cams(engine)
    return Hidden(
        fault="drive_broken",
        covers="off",
        ruins=engine.interference is not False,
        cams=tuple(cams),
        cylinders=tuple(dead),
        signals=dict.fromkeys(cams, "lost"),
        faults=EngineFaults(cylinders={c: CylinderFault(intake_held_mm=4.0) for c in dead}),
        size="the cams stand still",
    )


def _tensioner(engine: EngineProfile, rng: random.Random) -> Hidden:
    size, cams = rng.uniform(6.0, 13.0), _cams(engine)
    links = engine.drive.free_links if engine.drive is not None else {}
    furthest = max((links.get(cam, 40.0) for cam in cams), default=40.0)
    late = {cam: round(size * links.get(cam, 40.0) / furthest, 1) for cam in cams}
    when: Present = rng.choices(("cranking", "cold", "hot"), (0.45, 0.35, 0.2))[0]
    return Hidden(
        fault="tensioner_slack",
        covers="either",
        present=when,
        cams=tuple(cams),
        valves_deg=late,
        faults=EngineFaults(DriveFaults(slipped_deg=late)),
        size=f"{_way(max(late.values()))}, only {'while cranking' if when == 'cranking' else when}",
    )


def _phaser(engine: EngineProfile, rng: random.Random) -> Hidden:
    cam = rng.choice([cam for cam in engine.cams if cam.phaser is not None])
    assert cam.phaser is not None
    low, high = cam.phaser.authority_deg
    place = round(rng.uniform(0.2, 0.95) * (low if abs(low) >= abs(high) else high), 1)
    when: Present = "hot" if rng.random() < 0.3 else "always"
    return Hidden(
        fault="phaser_off_park",
        present=when,
        cams=(cam.id,),
        valves_deg={cam.id: place},
        faults=EngineFaults(DriveFaults(phasers={cam.id: PhaserFault(park_deg=place, stuck=when == "always")})),
        size=f"{_way(place)}{' when it is hot' if when == 'hot' else ', stuck'}",
    )


def _cam_wheel(engine: EngineProfile, rng: random.Random) -> Hidden:
    cam, size = rng.choice(_cams(engine)), _amount(rng, 7.0)
    return Hidden(
        fault="cam_signal_shifted",
        also=("sync_misadjusted",) if is_able("sync_misadjusted", engine) else (),
        cams=(cam,),
        target_deg={cam: size},
        faults=EngineFaults(DriveFaults(cam_wheel_deg={cam: size})),
        size=_way(size),
    )


def _sync(engine: EngineProfile, rng: random.Random) -> Hidden:
    cam, size = rng.choice(_cams(engine)), _amount(rng, 8.0, 24.0)
    return Hidden(
        fault="sync_misadjusted",
        also=("cam_signal_shifted",),
        cams=(cam,),
        target_deg={cam: size},
        faults=EngineFaults(DriveFaults(sync_deg=size)),
        size=_way(size),
    )


def _crank_wheel(engine: EngineProfile, rng: random.Random) -> Hidden:  # noqa: ARG001
    size = _amount(rng, 7.0, 24.0)
    return Hidden(
        fault="crank_signal_shifted",
        wheel_deg=size,
        faults=EngineFaults(DriveFaults(crank_wheel_deg=size)),
        size=_way(size),
    )


def _bad_signal(fault: FaultName) -> Callable[[EngineProfile, random.Random], Hidden]:
    def made(engine: EngineProfile, rng: random.Random) -> Hidden:
        signal = "crank" if fault == "crank_sensor_fault" or not engine.cams else rng.choice(_cams(engine))
        kind: BadSignal = "extra"
        if fault != "induced_pulses":
            # Without a crank signal an engine does not even start, so it was no fault that comes and goes.
            kind = "lost" if rng.random() < 0.3 else "erratic"
        return Hidden(
            fault=fault,
            present="not_today" if kind == "erratic" and rng.random() < 0.25 else "always",
            cams=() if signal == "crank" else (signal,),
            signals={signal: kind},
            size={"lost": "no signal", "erratic": "drops out", "extra": "pulses added"}[kind],
        )

    return made


def _weak(engine: EngineProfile, rng: random.Random) -> Hidden:
    cylinder = int(rng.choice(engine.firing_order))
    if rng.random() < 0.25:
        fault, size = CylinderFault(plug="loose"), "the plug is loose"
    elif rng.random() < 0.5:
        mm2 = round(rng.uniform(1.5, 7.0), 1)
        fault, size = CylinderFault(exhaust_leak_mm2=mm2), f"exhaust valve leaks, {mm2} mm²"
    else:
        mm2 = round(rng.uniform(2.5, 9.0), 1)
        fault, size = CylinderFault(ring_leak_mm2=mm2), f"rings leak, {mm2} mm²"
    return Hidden(
        fault="weak_cylinder",
        covers="either",
        cylinders=(cylinder,),
        faults=EngineFaults(cylinders={cylinder: fault}),
        size=size,
    )


def _valve_train(engine: EngineProfile, rng: random.Random) -> Hidden:
    cylinder = int(rng.choice(engine.firing_order))
    held = CylinderFault(intake_lobe_share=0.0)
    return Hidden(
        fault="valve_train",
        also=("weak_cylinder",),
        covers="either",
        cylinders=(cylinder,),
        faults=EngineFaults(cylinders={cylinder: held}),
        size="its intake valves do not open",
    )


def _exhaust(engine: EngineProfile, rng: random.Random) -> Hidden:  # noqa: ARG001
    share = rng.uniform(0.96, 0.99)
    return Hidden(
        fault="exhaust_restricted",
        faults=EngineFaults(exhaust_blocked_share=share),
        size=f"{100 * share:.0f} % blocked",
    )


def _intake(engine: EngineProfile, rng: random.Random) -> Hidden:  # noqa: ARG001
    share = rng.uniform(0.65, 0.9)
    return Hidden(
        fault="intake_restricted", faults=EngineFaults(intake_blocked_share=share), size=f"{100 * share:.0f} % blocked"
    )


def _mistimed(engine: EngineProfile, rng: random.Random) -> Hidden:  # noqa: ARG001
    size = _amount(rng, 16.0, 40.0)
    return Hidden(fault="ignition_mistimed", spark_deg=size, size=f"the spark {_way(size)}")


def _elsewhere(engine: EngineProfile, rng: random.Random) -> Hidden:  # noqa: ARG001
    return Hidden(fault="something_else", size="the fuel pump is weak")


_MAKERS: Mapping[FaultName, Callable[[EngineProfile, random.Random], Hidden]] = {
    "none": _none,
    "chain_jumped": _jumped,
    "chain_stretched": _stretched,
    "cam_slipped": _cam_slipped,
    "crank_sprocket_slipped": _sprocket,
    "crank_hub_slipped": _hub,
    "drive_broken": _broken,
    "tensioner_slack": _tensioner,
    "phaser_off_park": _phaser,
    "cam_signal_shifted": _cam_wheel,
    "sync_misadjusted": _sync,
    "crank_signal_shifted": _crank_wheel,
    "cam_sensor_fault": _bad_signal("cam_sensor_fault"),
    "crank_sensor_fault": _bad_signal("crank_sensor_fault"),
    "induced_pulses": _bad_signal("induced_pulses"),
    "weak_cylinder": _weak,
    "valve_train": _valve_train,
    "exhaust_restricted": _exhaust,
    "intake_restricted": _intake,
    "ignition_mistimed": _mistimed,
    "something_else": _elsewhere,
}
