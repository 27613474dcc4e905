"""Cylinders that do not seal, while the timing is as it should be: valve, ring, gasket, or a plug that is loose."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from functools import partial

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.explanations.explanation import Area, Branch, Opened, Place
from phasko.core.explanations.grids import seal_grid

__all__ = ["WeakCylinder"]


class WeakCylinder:
    fault: FaultName = "weak_cylinder"
    area: Area = "cylinder"
    hint = (
        "Check that the plug is tight first, then take a gauge or leak-down reading: two of compression, pressure or "
        "leak-down, pulse and a look belong together before anything is opened."
    )

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_WEAK_CYLINDER.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        """Each cylinder alone, two neighbours, each bank as a whole, all alike, or several, each by its own amount."""
        order = sorted(profile.firing_order)
        places = [(Place(f"Cylinder {c}", None, (), (c,)), c) for c in order]
        groups: list[tuple[Place, float]] = []
        pairs = _neighbours(profile)
        banks = profile.banks if len(profile.banks) > 1 else []
        if len(order) > 1:
            groups += [
                (Place(f"Cylinders {a} and {b}", None, (), (a, b)), numbers.WEAK_NEIGHBOURS_SHARE.value / len(pairs))
                for a, b in pairs
            ]
            groups += [
                (
                    Place(f"Bank {b.bank}", b.bank, (), tuple(sorted(b.cylinders))),
                    numbers.WEAK_BANK_SHARE.value / len(banks),
                )
                for b in banks
            ]
        every, several = numbers.WEAK_EVERY_SHARE.value, numbers.WEAK_SEVERAL_SHARE.value
        alone = (1.0 - sum(share for _, share in groups) - every - several) / len(places)
        found: list[Branch] = []
        for place, cylinder in places:
            found += _leaks(place, alone, partial(_seal, (cylinder,)))
        for place, share in groups:
            found += _leaks(place, share, partial(_seal, place.cylinders))
        found += _leaks(Place("All cylinders", None, (), tuple(order)), every, lambda s: EngineState(seal_of_all=s))
        state = EngineState(unknown_seal_sd=numbers.SEVERAL_SEAL_SD.value, seal_of_all=0.75)
        found.append(Branch(several, state, Place("Several cylinders")))
        return tuple(found)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        several = place.title.startswith(("Cylinders", "All", "Several"))
        return f"{place.title} {'do' if several else 'does'} not seal"

    def opened(
        self,
        profile: EngineProfile,  # noqa: ARG002
        place: Place,
        amount_deg: float | None,  # noqa: ARG002
        pitches: float | None,  # noqa: ARG002
    ) -> Opened | None:
        if len(place.cylinders) != 1:
            return None
        cylinder = place.cylinders[0]
        return Opened(
            see=f"At cylinder {cylinder} a burnt or bent valve, a broken ring land, or the gasket blown towards a "
            "neighbour; leak-down says beforehand which way the air goes.",
            false_if=f"Cylinder {cylinder} holds its air with the plug tight and the piston at its own firing TDC.",
            together=("head gasket", "head bolts that are used once", "valve stem seals"),
        )


def _neighbours(profile: EngineProfile) -> list[tuple[int, int]]:
    """Pairs of cylinders that stand beside each other in one bank."""
    banks = [sorted(bank.cylinders) for bank in profile.banks] or [sorted(profile.firing_order)]
    return [(a, b) for bank in banks for a, b in itertools.pairwise(bank)]


def _leaks(place: Place, share: float, state: Callable[[float], EngineState]) -> list[Branch]:
    return [
        Branch(share=share * part, state=state(left), place=place, nudged=state(left + width))
        for left, part, width in seal_grid()
    ]


def _seal(cylinders: tuple[int, ...], left: float) -> EngineState:
    return EngineState(seal=dict.fromkeys(cylinders, left))
