"""What can be turned at a practice car that is made by hand: by fault its size, its place and its condition."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import NamedTuple

from phasko.bench.blind.car import BadSignal, Present
from phasko.bench.blind.faults import ABLE
from phasko.bench.blind.sized import Leak, is_able, limit_percent
from phasko.core.documents import EngineProfile
from phasko.core.documents.fault_name import FaultName

__all__ = ["NUISANCES", "FaultSliders", "Slider", "Turned", "sliders_of"]


@dataclass(frozen=True, slots=True)
class Slider:
    """A size: what it is, its unit, its range and step, and where it begins."""

    words: str
    unit: str
    least: float
    most: float
    step: float
    usual: float


class Turned(NamedTuple):
    """One way in which a fault can be: by the size of ``leak`` alone, or on its own."""

    leak: Leak | None
    slider: Slider | None


class FaultSliders(NamedTuple):
    """What one fault can be given. ``cams``: those that can have it, ``many`` of them at a time; ``crank``: or the
    crank's lead; ``cylinders``: one of these; ``ways``: its kinds of size."""

    fault: FaultName
    ways: tuple[Turned, ...] = (Turned(None, None),)
    cams: tuple[str, ...] = ()
    many: bool = False
    crank: bool = False
    cylinders: tuple[int, ...] = ()
    signals: tuple[BadSignal, ...] = ()
    presents: tuple[Present, ...] = ("always",)


NUISANCES: Mapping[str, Slider] = {
    "noise_v": Slider("Noise on every lead", "V", 0.0, 0.5, 0.005, 0.012),
    "hum_v": Slider("Hum of 50 Hz", "V", 0.0, 2.0, 0.02, 0.0),
    "spark_spike_v": Slider("Spikes of the ignition", "V", 0.0, 6.0, 0.1, 0.0),
    "tooth_deg": Slider("Teeth of the crank wheel uneven by", "°", 0.0, 0.5, 0.01, 0.03),
    "run_out_deg": Slider("Crank wheel out of centre by", "°", 0.0, 1.0, 0.02, 0.03),
    "build_deg": Slider("Cams of this car off the usual by", "°", 0.0, 2.0, 0.05, 0.3),
    "cylinder_percent": Slider("Cylinders unlike by", "%", 0.0, 8.0, 0.1, 1.5),
    "battery_weak_percent": Slider("Battery weak by", "%", 0.0, 60.0, 1.0, 0.0),
}
"""What lies over a fault: each the standard deviation of what is drawn from the seed, or an amplitude."""


def sliders_of(engine: EngineProfile) -> list[FaultSliders]:
    """Every fault that an engine of this kind can have, with what can be turned at it."""
    return [_OF.get(fault, _plain)(fault, engine) for fault in ABLE if is_able(fault, engine)]


def _deg(words: str, most: float, usual: float) -> tuple[Turned, ...]:
    return (Turned(None, Slider(words, "°", -most, most, 0.1, usual)),)


def _cams(engine: EngineProfile) -> tuple[str, ...]:
    return tuple(cam.id for cam in engine.cams)


def _cylinders(engine: EngineProfile) -> tuple[int, ...]:
    return tuple(sorted(int(cylinder) for cylinder in engine.firing_order))


def _plain(fault: FaultName, engine: EngineProfile) -> FaultSliders:  # noqa: ARG001
    return FaultSliders(fault)


def _jumped(fault: FaultName, engine: EngineProfile) -> FaultSliders:
    ways = (Turned(None, Slider("Jumped by", "pitches", -4.0, 4.0, 1.0, 1.0)),)
    return FaultSliders(fault, ways, _cams(engine), many=True)


def _stretched(fault: FaultName, engine: EngineProfile) -> FaultSliders:
    most = round(2.5 * limit_percent(engine), 1)
    return FaultSliders(fault, (Turned(None, Slider("Longer by", "%", 0.0, most, 0.01, round(0.5 * most, 2))),))


def _one_cam(fault: FaultName, engine: EngineProfile) -> FaultSliders:
    return FaultSliders(fault, _deg("Moved by", 60.0, 12.0), _cams(engine))


def _all_cams(fault: FaultName, engine: EngineProfile) -> FaultSliders:  # noqa: ARG001
    return FaultSliders(fault, _deg("Moved by", 60.0, 12.0))


def _sync(fault: FaultName, engine: EngineProfile) -> FaultSliders:
    return FaultSliders(fault, _deg("Turned by", 40.0, 12.0), _cams(engine))


def _broken(fault: FaultName, engine: EngineProfile) -> FaultSliders:  # noqa: ARG001
    return FaultSliders(fault, (Turned(None, Slider("Broke at", "° of the cycle", 0.0, 719.0, 1.0, 200.0)),))


def _tensioner(fault: FaultName, engine: EngineProfile) -> FaultSliders:  # noqa: ARG001
    ways = (Turned(None, Slider("Lets the furthest cam fall back by", "°", 0.0, 20.0, 0.1, 9.0)),)
    return FaultSliders(fault, ways, presents=("cranking", "cold", "hot", "always"))


def _phaser(fault: FaultName, engine: EngineProfile) -> FaultSliders:
    able = [cam for cam in engine.cams if cam.phaser is not None]
    most = max((abs(end) for cam in able if cam.phaser is not None for end in cam.phaser.authority_deg), default=40.0)
    return FaultSliders(
        fault,
        _deg("Rests off its park by", most, round(0.4 * most, 1)),
        tuple(cam.id for cam in able),
        presents=("always", "hot"),
    )


def _cam_lead(fault: FaultName, engine: EngineProfile) -> FaultSliders:
    return FaultSliders(
        fault, cams=_cams(engine), crank=not engine.cams, signals=("lost", "erratic"), presents=("always", "not_today")
    )


def _crank_lead(fault: FaultName, engine: EngineProfile) -> FaultSliders:  # noqa: ARG001
    return FaultSliders(fault, crank=True, signals=("lost", "erratic"), presents=("always", "not_today"))


def _pulses(fault: FaultName, engine: EngineProfile) -> FaultSliders:
    return FaultSliders(fault, cams=_cams(engine), crank=True, signals=("extra",))


def _weak(fault: FaultName, engine: EngineProfile) -> FaultSliders:
    ways = (
        Turned("rings", Slider("Rings leak", "mm²", 0.0, 20.0, 0.1, 5.0)),
        Turned("exhaust_valve", Slider("Exhaust valve leaks", "mm²", 0.0, 20.0, 0.1, 4.0)),
        Turned("plug", None),
    )
    return FaultSliders(fault, ways, cylinders=_cylinders(engine))


def _valve_train(fault: FaultName, engine: EngineProfile) -> FaultSliders:
    ways = (Turned(None, Slider("Of their lift the intake valves have left", "share", 0.0, 0.9, 0.01, 0.0)),)
    return FaultSliders(fault, ways, cylinders=_cylinders(engine))


def _blocked(most: float, usual: float) -> Callable[[FaultName, EngineProfile], FaultSliders]:
    def made(fault: FaultName, engine: EngineProfile) -> FaultSliders:  # noqa: ARG001
        return FaultSliders(fault, (Turned(None, Slider("Blocked by", "%", 0.0, most, 0.5, usual)),))

    return made


def _mistimed(fault: FaultName, engine: EngineProfile) -> FaultSliders:  # noqa: ARG001
    return FaultSliders(fault, _deg("Every spark late by", 60.0, 20.0))


_OF: Mapping[FaultName, Callable[[FaultName, EngineProfile], FaultSliders]] = {
    "chain_jumped": _jumped,
    "chain_stretched": _stretched,
    "cam_slipped": _one_cam,
    "crank_sprocket_slipped": _all_cams,
    "crank_hub_slipped": _all_cams,
    "drive_broken": _broken,
    "tensioner_slack": _tensioner,
    "phaser_off_park": _phaser,
    "cam_signal_shifted": _one_cam,
    "sync_misadjusted": _sync,
    "crank_signal_shifted": _all_cams,
    "cam_sensor_fault": _cam_lead,
    "crank_sensor_fault": _crank_lead,
    "induced_pulses": _pulses,
    "weak_cylinder": _weak,
    "valve_train": _valve_train,
    "exhaust_restricted": _blocked(99.0, 97.0),
    "intake_restricted": _blocked(95.0, 80.0),
    "ignition_mistimed": _mistimed,
}
