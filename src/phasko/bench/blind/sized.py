"""What is true of a car that has a fault of a given size at a given place."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from phasko.bench.blind.car import BadSignal, Hidden, Present
from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults, PhaserFault
from phasko.core.documents import EngineProfile
from phasko.core.documents.fault_name import FaultName

__all__ = ["Leak", "Sized", "far_cams", "hidden_of", "is_able", "limit_percent", "pitch_deg"]

Leak = Literal["plug", "rings", "exhaust_valve"]
_MOST_PERCENT = 1.3
"""A chain that is longer breaks or jumps first (common practice, no source)."""
_LIMIT_DEG = 5.0
_MEETS_DEG = 10.0
_MEETS_ANY_DEG = 60.0


class Sized(BaseModel):
    """How much of a fault, and where. ``size`` is in the fault's own unit: pitches of a chain that jumped, percent of
    one that is longer and of what is blocked, mm² of a leak, the share of its lift that a lobe has left, degrees of
    the crank of everything else, late positive.

    ``signals``: leads that are spoilt, ``crank`` or cams. ``slack_deg``: how far a worn chain lets the cams wander.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")
    size: Annotated[float, Field(ge=-720, le=720, allow_inf_nan=False)] = 0.0
    cams: Annotated[tuple[str, ...], Field(max_length=8)] = ()
    cylinder: Annotated[int | None, Field(ge=1, le=16)] = None
    leak: Leak = "rings"
    signal: BadSignal = "lost"
    present: Present = "always"
    slack_deg: Annotated[float, Field(ge=0, le=2)] = 0.0


def is_able(fault: FaultName, engine: EngineProfile) -> bool:
    """Whether an engine of this kind can have that fault."""
    drive = engine.drive.type if engine.drive is not None else "chain"
    if fault in ("chain_jumped", "tensioner_slack", "crank_sprocket_slipped", "drive_broken", "cam_slipped"):
        return drive in ("chain", "belt") and bool(engine.cams)
    if fault == "chain_stretched":
        return drive == "chain" and bool(engine.cams) and limit_percent(engine) < _MOST_PERCENT
    if fault == "sync_misadjusted":
        return drive == "distributor_gear"
    if fault == "phaser_off_park":
        return any(cam.phaser is not None for cam in engine.cams)
    if fault == "ignition_mistimed":
        return engine.ignition is not None and engine.ignition.cranking_spark_deg is not None
    return True


def hidden_of(fault: FaultName, engine: EngineProfile, sized: Sized) -> Hidden:
    """That fault of that size at that place. Raises KeyError for one that no car can have."""
    return _BUILDERS[fault](engine, sized)


def pitch_deg(engine: EngineProfile) -> float:
    """One pitch of the drive at the crank."""
    return 360.0 / ((engine.drive.crank_sprocket_teeth if engine.drive is not None else None) or 21)


def limit_percent(engine: EngineProfile) -> float:
    """The elongation at which the first cam leaves its limit."""
    links = engine.drive.free_links if engine.drive is not None else {}
    return 100.0 * _LIMIT_DEG / (max(links.values(), default=40.0) * pitch_deg(engine))


def far_cams(engine: EngineProfile) -> dict[str, float]:
    """By cam, how far along the chain it sits, of the furthest."""
    links = engine.drive.free_links if engine.drive is not None else {}
    furthest = max((links.get(cam.id, 40.0) for cam in engine.cams), default=40.0)
    return {cam.id: links.get(cam.id, 40.0) / furthest for cam in engine.cams}


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


def _none(engine: EngineProfile, sized: Sized) -> Hidden:  # noqa: ARG001
    return Hidden(fault="none")


def _jumped(engine: EngineProfile, sized: Sized) -> Hidden:
    count, cams = round(sized.size), list(sized.cams) or _cams(engine)
    also: tuple[FaultName, ...] = ("cam_slipped",)
    if len(cams) == len(engine.cams):
        also = ("cam_slipped", "crank_sprocket_slipped")
    shift = dict.fromkeys(cams, round(count * pitch_deg(engine), 2))
    made = _moved(engine, "chain_jumped", also, shift)
    pitches = f"{abs(count)} pitch{'' if abs(count) == 1 else 'es'}"
    return made.model_copy(update={"size": f"{pitches}, {made.size}"})


def _stretched(engine: EngineProfile, sized: Sized) -> Hidden:
    percent = sized.size
    links = engine.drive.free_links if engine.drive is not None else {}
    late = {cam: round(percent / 100.0 * links.get(cam, 40.0) * pitch_deg(engine), 2) for cam in _cams(engine)}
    return Hidden(
        fault="chain_stretched",
        covers="off",
        cams=tuple(late),
        valves_deg=late,
        faults=EngineFaults(DriveFaults(elongation_percent=percent, slack_deg=sized.slack_deg)),
        size=f"{percent:.2f} % longer, {_way(max(late.values()))} at the furthest cam",
    )


def _cam_slipped(engine: EngineProfile, sized: Sized) -> Hidden:
    return _moved(engine, "cam_slipped", ("chain_jumped",), dict.fromkeys(sized.cams, sized.size))


def _sprocket(engine: EngineProfile, sized: Sized) -> Hidden:
    shift = dict.fromkeys(_cams(engine), sized.size)
    also: tuple[FaultName, ...] = ("chain_jumped", "cam_slipped") if len(shift) == 1 else ("chain_jumped",)
    return _moved(engine, "crank_sprocket_slipped", also, shift)


def _hub(engine: EngineProfile, sized: Sized) -> Hidden:
    shift = dict.fromkeys(_cams(engine), sized.size)
    return Hidden(
        fault="crank_hub_slipped",
        covers="off",
        ruins=_ruins(engine, shift),
        cams=tuple(shift),
        valves_deg=shift,
        wheel_deg=sized.size,
        hub_deg=sized.size,
        faults=EngineFaults(DriveFaults(crank_hub_deg=sized.size)),
        size=_way(sized.size),
    )


def _broken(engine: EngineProfile, sized: Sized) -> Hidden:
    """The cams stand where they came to rest: some cylinders have a valve open there, and no cam signal changes."""
    # The bench's valves follow its cams, so a valve that stands open is held open in those cylinders.
    own = {c: (sized.size - tdc + 360.0) % 720.0 - 360.0 for c, tdc in engine.firing_tdc_deg.items()}
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


def _tensioner(engine: EngineProfile, sized: Sized) -> Hidden:
    late = {cam: round(sized.size * share, 1) for cam, share in far_cams(engine).items()}
    condition = {"always": "always", "cranking": "only while cranking"}.get(sized.present, f"only {sized.present}")
    return Hidden(
        fault="tensioner_slack",
        covers="either",
        present=sized.present,
        cams=tuple(late),
        valves_deg=late,
        faults=EngineFaults(DriveFaults(slipped_deg=late)),
        size=f"{_way(max(late.values()))}, {condition}",
    )


def _phaser(engine: EngineProfile, sized: Sized) -> Hidden:  # noqa: ARG001
    cam, hot = sized.cams[0], sized.present == "hot"
    return Hidden(
        fault="phaser_off_park",
        present=sized.present,
        cams=(cam,),
        valves_deg={cam: sized.size},
        faults=EngineFaults(DriveFaults(phasers={cam: PhaserFault(park_deg=sized.size, stuck=not hot)})),
        size=f"{_way(sized.size)}{' when it is hot' if hot else ', stuck'}",
    )


def _cam_wheel(engine: EngineProfile, sized: Sized) -> Hidden:
    cam = sized.cams[0]
    return Hidden(
        fault="cam_signal_shifted",
        also=("sync_misadjusted",) if is_able("sync_misadjusted", engine) else (),
        cams=(cam,),
        target_deg={cam: sized.size},
        faults=EngineFaults(DriveFaults(cam_wheel_deg={cam: sized.size})),
        size=_way(sized.size),
    )


def _sync(engine: EngineProfile, sized: Sized) -> Hidden:
    cam = sized.cams[0] if sized.cams else _cams(engine)[0]
    return Hidden(
        fault="sync_misadjusted",
        also=("cam_signal_shifted",),
        cams=(cam,),
        target_deg={cam: sized.size},
        faults=EngineFaults(DriveFaults(sync_deg=sized.size)),
        size=_way(sized.size),
    )


def _crank_wheel(engine: EngineProfile, sized: Sized) -> Hidden:  # noqa: ARG001
    return Hidden(
        fault="crank_signal_shifted",
        wheel_deg=sized.size,
        faults=EngineFaults(DriveFaults(crank_wheel_deg=sized.size)),
        size=_way(sized.size),
    )


def _bad_signal(fault: FaultName) -> Callable[[EngineProfile, Sized], Hidden]:
    def made(engine: EngineProfile, sized: Sized) -> Hidden:  # noqa: ARG001
        # Without cams named it is the crank's signal.
        signal = sized.cams[0] if sized.cams else "crank"
        return Hidden(
            fault=fault,
            present=sized.present,
            cams=sized.cams[:1],
            signals={signal: sized.signal},
            size={"lost": "no signal", "erratic": "drops out", "extra": "pulses added"}[sized.signal],
        )

    return made


def _weak(engine: EngineProfile, sized: Sized) -> Hidden:
    cylinder = sized.cylinder or int(engine.firing_order[0])
    fault, size = {
        "plug": (CylinderFault(plug="loose"), "the plug is loose"),
        "rings": (CylinderFault(ring_leak_mm2=sized.size), f"rings leak, {sized.size:.1f} mm²"),
        "exhaust_valve": (CylinderFault(exhaust_leak_mm2=sized.size), f"exhaust valve leaks, {sized.size:.1f} mm²"),
    }[sized.leak]
    return Hidden(
        fault="weak_cylinder",
        covers="either",
        cylinders=(cylinder,),
        faults=EngineFaults(cylinders={cylinder: fault}),
        size=size,
    )


def _valve_train(engine: EngineProfile, sized: Sized) -> Hidden:
    cylinder = sized.cylinder or int(engine.firing_order[0])
    left = f"its intake valves open to {100 * sized.size:.0f} %" if sized.size else "its intake valves do not open"
    return Hidden(
        fault="valve_train",
        also=("weak_cylinder",),
        covers="either",
        cylinders=(cylinder,),
        faults=EngineFaults(cylinders={cylinder: CylinderFault(intake_lobe_share=sized.size)}),
        size=left,
    )


def _exhaust(engine: EngineProfile, sized: Sized) -> Hidden:  # noqa: ARG001
    return Hidden(
        fault="exhaust_restricted",
        faults=EngineFaults(exhaust_blocked_share=sized.size / 100.0),
        size=f"{sized.size:.0f} % blocked",
    )


def _intake(engine: EngineProfile, sized: Sized) -> Hidden:  # noqa: ARG001
    return Hidden(
        fault="intake_restricted",
        faults=EngineFaults(intake_blocked_share=sized.size / 100.0),
        size=f"{sized.size:.0f} % blocked",
    )


def _mistimed(engine: EngineProfile, sized: Sized) -> Hidden:  # noqa: ARG001
    return Hidden(fault="ignition_mistimed", spark_deg=sized.size, size=f"the spark {_way(sized.size)}")


def _elsewhere(engine: EngineProfile, sized: Sized) -> Hidden:  # noqa: ARG001
    return Hidden(fault="something_else", size="the fuel pump is weak")


_BUILDERS: Mapping[FaultName, Callable[[EngineProfile, Sized], Hidden]] = {
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
