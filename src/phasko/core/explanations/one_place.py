"""Faults of one place that leave the timing alone: blocked ways, spark, crank sensor, induced pulses."""

from __future__ import annotations

from dataclasses import dataclass

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import Branch, EngineState, Place
from phasko.core.numbers.entry import Entry

__all__ = ["CRANK_SENSOR", "EXHAUST_RESTRICTED", "IGNITION_MISTIMED", "INDUCED_PULSES", "INTAKE_RESTRICTED", "OnePlace"]


@dataclass(frozen=True, slots=True)
class OnePlace:
    """An explanation with one place and no size. ``needs_spark``: an engine without ignition cannot have it."""

    fault: FaultName
    words: str
    hint: str
    chance: Entry
    needs_spark: bool = False
    needs_covers_off: bool = False

    def prior(self, profile: EngineProfile) -> float:
        sparks = profile.ignition is None or profile.ignition.type != "none"
        return self.chance.value if sparks or not self.needs_spark else numbers.IMPOSSIBLE_PRIOR.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:  # noqa: ARG002
        return (Branch(1.0, EngineState(), Place(self.words)),)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return place.title


CRANK_SENSOR = OnePlace(
    "crank_sensor_fault",
    "Crank sensor or its wiring",
    "Sensor, plug, wiring, gap and wheel are looked at first; warm the sensor if it fails hot.",
    numbers.SENSOR_CRANK_PRIOR,
)

INDUCED_PULSES = OnePlace(
    "induced_pulses",
    "Pulses induced into a sensor's wires",
    "Look for a leaking ignition lead, a missing screen or a bad ground beside the sensor's wires.",
    numbers.SENSOR_INDUCED_PRIOR,
)

EXHAUST_RESTRICTED = OnePlace(
    "exhaust_restricted",
    "Exhaust blocked",
    "Open a sensor hole before the catalyst and try again; then pressure before and behind it.",
    numbers.EXHAUST_RESTRICTED_PRIOR,
)

INTAKE_RESTRICTED = OnePlace(
    "intake_restricted",
    "Intake blocked",
    "Air filter and ducts first, with the throttle seen to open fully.",
    numbers.INTAKE_RESTRICTED_PRIOR,
)

IGNITION_MISTIMED = OnePlace(
    "ignition_mistimed",
    "Spark at the wrong time",
    "Distributor or its drive, a coil lead on the wrong cylinder, a sensor that times the spark.",
    numbers.IGNITION_MISTIMED_PRIOR,
    needs_spark=True,
)
