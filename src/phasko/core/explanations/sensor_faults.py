"""Signals that are lost or disturbed while the engine is right: a sensor, its wiring, or what is induced into it."""

from __future__ import annotations

from typing import get_args

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState, SignalState
from phasko.core.explanations.explanation import Area, Branch, NothingOpened, Place
from phasko.core.words import cam_name

__all__ = ["CamSensorFault", "CrankSensorFault", "InducedPulses"]

_LOST: tuple[SignalState, ...] = tuple(s for s in get_args(SignalState) if s != "extra")


def _lost(signal: str, place: Place, share: float) -> list[Branch]:
    """The signal gone or with pulses missing, always or only while the symptom is there."""
    seldom = numbers.SYMPTOM_ONLY_SHARE.value
    return [
        Branch(share * part / len(_LOST), EngineState(signals={signal: state}, only_with_symptom=only), place)
        for state in _LOST
        for only, part in ((False, 1.0 - seldom), (True, seldom))
    ]


class CamSensorFault(NothingOpened):
    fault: FaultName = "cam_sensor_fault"
    area: Area = "signal"
    hint = "Sensor, plug, wiring, supply and ground are looked at first; warm the sensor if it fails hot."

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_CAM_SENSOR.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        """One of the cam sensors; also on an engine whose cams the profile does not list."""
        if not profile.cams:
            return tuple(_lost("cam", Place("Cam"), 1.0))
        found: list[Branch] = []
        for cam in profile.cams:
            found += _lost(cam.id, Place(cam_name(cam, profile), cam.bank, (cam.id,)), 1.0 / len(profile.cams))
        return tuple(found)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return f"{place.title} sensor or its wiring"


class CrankSensorFault(NothingOpened):
    fault: FaultName = "crank_sensor_fault"
    area: Area = "signal"
    hint = "Sensor, plug, wiring, gap and wheel are looked at first; warm the sensor if it fails hot."

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_CRANK_SENSOR.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:  # noqa: ARG002
        return tuple(_lost("crank", Place("Crank sensor or its wiring"), 1.0))

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return place.title


class InducedPulses(NothingOpened):
    fault: FaultName = "induced_pulses"
    area: Area = "signal"
    hint = "Look for a leaking ignition lead, a missing screen or a bad ground beside the sensor's wires."

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_INDUCED.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        """Into one signal or into all of them."""
        signals = ["crank", *(cam.id for cam in profile.cams)]
        place = Place("Pulses induced into a sensor's wires")
        groups = [(signal,) for signal in signals] + [tuple(signals)]
        seldom = numbers.SYMPTOM_ONLY_SHARE.value
        made: SignalState = "extra"
        return tuple(
            Branch(part / len(groups), EngineState(signals=dict.fromkeys(group, made), only_with_symptom=only), place)
            for group in groups
            for only, part in ((False, 1.0 - seldom), (True, seldom))
        )

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return place.title
