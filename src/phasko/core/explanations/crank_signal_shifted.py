"""The crank's signal wheel or sensor moved: every cam reads the opposite amount, valves and pistons are right."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.explanations.explanation import Area, Branch, NothingOpened, Place
from phasko.core.explanations.moved_part import shifted
from phasko.core.words import amount_words

__all__ = ["CrankSignalShifted"]


class CrankSignalShifted(NothingOpened):
    fault: FaultName = "crank_signal_shifted"
    area: Area = "timing"
    hint = "Looks the same as a jump at the crank sprocket until the pistons are measured or the marks are seen."

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_CRANK_SIGNAL.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:  # noqa: ARG002
        return tuple(shifted(Place("Crank wheel"), 1.0, lambda s: EngineState(crank_wheel_deg=s), False))

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return f"{place.title} {amount_words(amount_deg or 0) or 'off its place'}"
