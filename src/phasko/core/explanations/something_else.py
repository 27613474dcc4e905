"""None of the explanations in the table."""

from __future__ import annotations

from dataclasses import replace

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.explanations.explanation import Area, Branch, NothingOpened, Place

__all__ = ["SomethingElse"]


class SomethingElse(NothingOpened):
    fault: FaultName = "something_else"
    area: Area = "open"
    hint = "None of the explanations above: fuel, the control unit, a signal between sensor and control unit."

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_SOMETHING_ELSE.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        """Mostly nothing that these measurements see, such as fuel. Else one unknown cause moves all cam signals
        together, those of one bank, or one of them; or everything differs; or the signals follow no pattern."""
        cams = [cam for cam in profile.cams if cam.edges]
        wide = numbers.SOMETHING_ELSE_SD_DEG.value
        groups = [tuple(cam.id for cam in cams)] if cams else []
        banks = sorted({cam.bank for cam in cams})
        if len(banks) > 1:
            groups += [tuple(cam.id for cam in cams if cam.bank == bank) for bank in banks]
        groups += [(cam.id,) for cam in cams] if len(cams) > 1 else []
        unseen, garbled_share = numbers.UNSEEN_SHARE.value, numbers.GARBLED_SHARE.value
        share = (1.0 - unseen - garbled_share) / (len(groups) + 1)
        open_state = EngineState(
            outside=True,
            unknown_spacing_sd_deg=numbers.SPACING_FLOOR_SD_DEG.value,
            unknown_size_sd=numbers.OVERALL_OPEN_SD.value,
        )
        together = [
            Branch(share, open_state, Place(""), nudged=replace(open_state, cam_signals_deg=dict.fromkeys(group, wide)))
            for group in groups
        ]
        apart = replace(open_state, unknown_common_sd_deg=wide, unknown_cam_sd_deg=wide)
        garbled = replace(apart, unknown_spacing_sd_deg=numbers.WRONG_SPACING_SD_DEG.value)
        return (
            Branch(unseen, EngineState(outside=True), Place("")),
            *together,
            Branch(share, apart, Place("")),
            Branch(garbled_share, garbled, Place("")),
        )

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return "Something else"
