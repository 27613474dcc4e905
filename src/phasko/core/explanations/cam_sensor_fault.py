"""A cam signal that is disturbed while the timing is right: its sensor or the wiring."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import Branch, EngineState, Place
from phasko.core.words import cam_name

__all__ = ["CamSensorFault"]


class CamSensorFault:
    fault: FaultName = "cam_sensor_fault"
    needs_covers_off = False
    hint = "Sensor, plug, wiring, supply and ground are looked at first; warm the sensor if it fails hot."

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.SENSOR_CAM_PRIOR.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        """One of the cam sensors; also on an engine whose cams the profile does not list."""
        places = [Place(cam_name(cam, profile), cam.bank, (cam.id,)) for cam in profile.cams] or [Place("Cam")]
        return tuple(Branch(1.0 / len(places), EngineState(), place) for place in places)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return f"{place.title} sensor or its wiring"
