"""The profile or the reference is wrong: another edge of the crank wheel, or another engine altogether."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.explanations.explanation import Area, Branch, NothingOpened, Place

__all__ = ["ReferenceWrong"]

_EDGE = Place("Wrong crank edge or mirrored signal")
_PROFILE = Place("Wrong profile or reference")


class ReferenceWrong(NothingOpened):
    fault: FaultName = "reference_wrong"
    area: Area = "reference"
    hint = "Check the engine data, or compare with a known good capture of this engine."

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_REFERENCE.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        edge, spacing = numbers.WRONG_EDGE_SHARE.value, numbers.WRONG_SPACING_SHARE.value
        wide = numbers.WRONG_REFERENCE_SD_DEG.value
        pitch = profile.crank.wheel.pitch_deg if profile.crank.wheel is not None else None
        tooth = abs(profile.crank.tooth_deg or (pitch or 6.0) / 2)
        other = EngineState(unknown_common_sd_deg=wide, unknown_cam_sd_deg=wide / 2)
        misfit = EngineState(
            unknown_common_sd_deg=wide,
            unknown_cam_sd_deg=wide / 2,
            unknown_spacing_sd_deg=numbers.WRONG_SPACING_SD_DEG.value,
        )
        # Edges that were learnt are as far off as the index they were counted from.
        turned = EngineState(unknown_index_sd_deg=wide)
        index = numbers.WRONG_INDEX_SHARE.value
        rest = 1.0 - edge - index
        return (
            Branch(edge / 2, EngineState(readings_deg=tooth), _EDGE, tooth),
            Branch(edge / 2, EngineState(readings_deg=-tooth), _EDGE, -tooth),
            Branch(index, turned, _PROFILE),
            Branch(rest * (1 - spacing), other, _PROFILE),
            Branch(rest * spacing, misfit, _PROFILE),
        )

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return place.title
