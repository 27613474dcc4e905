"""One cam turned on its sprocket or phaser by any amount; its valves follow."""

from __future__ import annotations

from functools import partial

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import Branch, EngineState, Place
from phasko.core.explanations.moved_part import shifted
from phasko.core.words import amount_words, cam_name

__all__ = ["CamSlipped"]


class CamSlipped:
    fault: FaultName = "cam_slipped"
    needs_covers_off = True
    hint = "Looks the same as that cam's signal wheel moved until its valves are felt in the cylinder pressure."

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_CAM_SLIPPED.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        cams = [cam for cam in profile.cams if cam.edges]
        found: list[Branch] = []
        for cam in cams:
            place = Place(cam_name(cam, profile), cam.bank, (cam.id,), profile.whole_bank(cam.bank))
            found += shifted(place, 1.0 / len(cams), partial(_state, cam.id))
        return tuple(found)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return f"{place.title} slipped {amount_words(amount_deg or 0) or 'on its sprocket'}"


def _state(cam_id: str, amount_deg: float) -> EngineState:
    return EngineState(valves_deg={cam_id: amount_deg})
