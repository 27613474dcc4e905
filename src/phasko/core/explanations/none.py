"""Timing is as it should be."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import Branch, EngineState, Place

__all__ = ["NoFault"]


class NoFault:
    fault: FaultName = "none"
    needs_covers_off = False
    hint = "A crank hub slipped with its wheel looks the same to every cam signal."

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_NONE.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:  # noqa: ARG002
        return (Branch(1.0, EngineState(), Place("")),)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return "Timing as it should be"
