"""One cylinder's valve train: lobe, clearance, spring, a valve that does not open or close as it should."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import Branch, EngineState, Place

__all__ = ["ValveTrain"]


class ValveTrain:
    fault: FaultName = "valve_train"
    needs_covers_off = False
    hint = "Watch that cylinder's valves move, through the filler or with a borescope; then lift and clearance."

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.VALVE_TRAIN_PRIOR.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        """Each cylinder."""
        places = [Place(f"Cylinder {c}", None, (), (c,)) for c in sorted(profile.firing_order)]
        return tuple(Branch(1.0 / len(places), EngineState(), place) for place in places)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return f"{place.title}: a valve does not move as it should"
