"""The way of the gas is blocked before or behind the engine, or the spark comes at the wrong time; valves are right."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.faults.state import Branch, EngineState, Place

__all__ = ["ExhaustRestricted", "IgnitionMistimed", "IntakeRestricted"]


class ExhaustRestricted:
    fault: FaultName = "exhaust_restricted"
    needs_covers_off = False
    hint = "Open a sensor hole before the catalyst and try again; then pressure before and behind it."

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.EXHAUST_RESTRICTED_PRIOR.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:  # noqa: ARG002
        return (Branch(1.0, EngineState(), Place("Exhaust")),)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return f"{place.title} blocked"


class IntakeRestricted:
    fault: FaultName = "intake_restricted"
    needs_covers_off = False
    hint = "Air filter and ducts first, with the throttle seen to open fully."

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.INTAKE_RESTRICTED_PRIOR.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:  # noqa: ARG002
        return (Branch(1.0, EngineState(), Place("Intake")),)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return f"{place.title} blocked"


class IgnitionMistimed:
    fault: FaultName = "ignition_mistimed"
    needs_covers_off = False
    hint = "Distributor or its drive, a coil lead on the wrong cylinder, a sensor that times the spark."

    def prior(self, profile: EngineProfile) -> float:
        sparks = profile.ignition is None or profile.ignition.type != "none"
        return numbers.IGNITION_MISTIMED_PRIOR.value if sparks else 1e-6

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:  # noqa: ARG002
        return (Branch(1.0, EngineState(), Place("Spark")),)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return f"{place.title} at the wrong time"
