"""A signal wheel or its sensor moved, at a cam or at the crank; the valves and pistons are right."""

from __future__ import annotations

from functools import partial

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.explanations.explanation import Area, Branch, NothingOpened, Place
from phasko.core.explanations.moved_part import shifted
from phasko.core.words import amount_words, cam_name

__all__ = ["CamSignalShifted", "CrankSignalShifted"]


class CamSignalShifted(NothingOpened):
    fault: FaultName = "cam_signal_shifted"
    area: Area = "timing"
    hint = "Valves and pistons would be right; only cylinder pressure or the marks can show that."

    def prior(self, profile: EngineProfile) -> float:
        clocked = profile.drive is not None and profile.drive.type == "distributor_gear"
        return numbers.PRIOR_CAM_SIGNAL.value * (numbers.RARE_DRIVE_FACTOR.value if clocked else 1.0)

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        cams = [cam for cam in profile.cams if cam.edges]
        found: list[Branch] = []
        for cam in cams:
            place = Place(cam_name(cam, profile), cam.bank, (cam.id,))
            found += shifted(place, 1.0 / len(cams), partial(_state, cam.id), False)
        return tuple(found)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return f"{place.title} signal wheel {amount_words(amount_deg or 0) or 'off its place'}"


class CrankSignalShifted(NothingOpened):
    """Every cam reads the opposite amount."""

    fault: FaultName = "crank_signal_shifted"
    area: Area = "timing"
    hint = "A jump at the crank sprocket reads the same; where the pistons stand, or the marks, tells them apart."

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_CRANK_SIGNAL.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:  # noqa: ARG002
        return tuple(shifted(Place("Crank wheel"), 1.0, lambda s: EngineState(crank_wheel_deg=s), False))

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return f"{place.title} {amount_words(amount_deg or 0) or 'off its place'}"


def _state(cam_id: str, amount_deg: float) -> EngineState:
    return EngineState(cam_signals_deg={cam_id: amount_deg})
