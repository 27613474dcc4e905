"""Faults of one place that leave the timing alone: blocked ways and the spark."""

from __future__ import annotations

from dataclasses import dataclass, replace

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.explanations.explanation import Area, Branch, NothingOpened, Place
from phasko.core.explanations.moved_part import shifted
from phasko.core.numbers.entry import Entry

__all__ = ["EXHAUST_RESTRICTED", "INTAKE_RESTRICTED", "IgnitionMistimed", "Restricted"]

_SHARES = (0.6, 0.9)
"""Shares of a way that is blocked so that somebody notices."""


@dataclass(frozen=True, slots=True)
class Restricted(NothingOpened):
    """A way that is blocked, with ``states`` for how far."""

    fault: FaultName
    words: str
    hint: str
    chance: Entry
    states: tuple[EngineState, ...]
    area: Area = "breathing"

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return self.chance.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:  # noqa: ARG002
        return tuple(Branch(1.0 / len(self.states), state, Place(self.words)) for state in self.states)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return place.title


EXHAUST_RESTRICTED = Restricted(
    "exhaust_restricted",
    "Exhaust blocked",
    "Open a sensor hole before the catalyst and try again; then pressure before and behind it.",
    numbers.PRIOR_EXHAUST_RESTRICTED,
    tuple(EngineState(exhaust_blocked=share) for share in _SHARES),
)

INTAKE_RESTRICTED = Restricted(
    "intake_restricted",
    "Intake blocked",
    "Air filter and ducts first, with the throttle seen to open fully.",
    numbers.PRIOR_INTAKE_RESTRICTED,
    tuple(EngineState(intake_blocked=share) for share in _SHARES),
)


class IgnitionMistimed(NothingOpened):
    """The spark comes at the wrong time although crank and cam signals are right."""

    fault: FaultName = "ignition_mistimed"
    area: Area = "spark"
    hint = "Distributor or its drive, a coil lead on the wrong cylinder, a sensor that times the spark."

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_IGNITION_MISTIMED.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        """The spark any amount late or early; an engine without ignition cannot have it."""
        if profile.ignition is not None and profile.ignition.type == "none":
            return ()
        place = Place("Spark at the wrong time")
        # The spark's amount is no cam's, so it is not shown as one.
        return tuple(
            replace(b, amount_deg=None) for b in shifted(place, 1.0, lambda x: EngineState(spark_deg=x), False)
        )

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return place.title
