"""A cylinder that does not seal, while the timing is as it should be: valve, ring, gasket, or a plug that is loose."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import Branch, EngineState, Place

__all__ = ["SEVERAL", "WeakCylinder"]

SEVERAL = "Several cylinders"


class WeakCylinder:
    fault: FaultName = "weak_cylinder"
    needs_covers_off = False
    hint = (
        "Plug tight, then a gauge or leak-down reading of that cylinder: two of compression, pressure or leak-down, "
        "pulse and a look belong together before anything is opened."
    )

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.WEAK_CYLINDER_PRIOR.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        """Each cylinder alone, each bank as a whole, any others together."""
        alone = [Place(f"Cylinder {c}", None, (), (c,)) for c in sorted(profile.firing_order)]
        banks = profile.banks if len(profile.banks) > 1 else []
        whole = [Place(f"Bank {b.bank}", b.bank, (), tuple(sorted(b.cylinders))) for b in banks]
        places = [*alone, *whole, Place(SEVERAL)]
        return tuple(Branch(1.0 / len(places), EngineState(), place) for place in places)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return f"{place.title} does not seal" if place.title != SEVERAL else f"{SEVERAL} do not seal"
