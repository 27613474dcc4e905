"""One cylinder's valve train: lobe, clearance, spring, a valve that does not open or close as it should."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState, StillValve
from phasko.core.explanations.explanation import Area, Branch, Opened, Place

__all__ = ["ValveTrain"]

_VALVES: tuple[StillValve, ...] = ("intake", "exhaust")


class ValveTrain:
    fault: FaultName = "valve_train"
    area: Area = "cylinder"
    hint = "Watch that cylinder's valves move, turning by hand, through the filler or with a borescope; then lift."

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_VALVE_TRAIN.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        """Each cylinder's intake or exhaust valve that does not open, or opens late and closes early."""
        order = sorted(profile.firing_order)
        worn = numbers.WORN_LOBE_SHARE.value
        found = []
        for c in order:
            place = Place(f"Cylinder {c}", None, (), (c,))
            for valve in _VALVES:
                found.append(Branch(0.5 * (1.0 - worn) / len(order), EngineState(still={c: valve}), place))
                found.append(Branch(0.5 * worn / len(order), EngineState(worn_lobes={c: valve}), place))
        return tuple(found)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return f"{place.title}: a valve does not move as it should"

    def opened(
        self,
        profile: EngineProfile,  # noqa: ARG002
        place: Place,
        amount_deg: float | None,  # noqa: ARG002
        pitches: float | None,  # noqa: ARG002
    ) -> Opened | None:
        return Opened(
            see=f"{place.title}: a worn lobe, a follower or rocker off its seat, a broken spring, or no clearance.",
            false_if="All valves of that cylinder lift like their neighbours'.",
            together=("followers of that cam", "cover gasket"),
        )
