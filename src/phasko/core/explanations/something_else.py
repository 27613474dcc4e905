"""None of the explanations in the table."""

from __future__ import annotations

from dataclasses import replace

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import Branch, EngineState, Place

__all__ = ["SomethingElse"]


class SomethingElse:
    fault: FaultName = "something_else"
    needs_covers_off = False
    hint = "None of the explanations above."

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_SOMETHING_ELSE.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        """One unknown cause moves all cams together, those of one bank, or one of them; or everything differs; or the
        signals follow no pattern at all."""
        cams = [cam for cam in profile.cams if cam.edges]
        wide = numbers.SOMETHING_ELSE_SD_DEG.value
        groups = [tuple(cam.id for cam in cams)]
        banks = sorted({cam.bank for cam in cams})
        if len(banks) > 1:
            groups += [tuple(cam.id for cam in cams if cam.bank == bank) for bank in banks]
        groups += [(cam.id,) for cam in cams] if len(cams) > 1 else []
        garbled_share = numbers.GARBLED_SHARE.value
        share = (1.0 - garbled_share) / (len(groups) + 1)
        spacing, size = numbers.SPACING_FLOOR_SD_DEG.value, numbers.OVERALL_OPEN_SD.value
        together = [
            Branch(
                share,
                EngineState(unknown_spacing_sd_deg=spacing, unknown_size_sd=size),
                Place(""),
                nudged=EngineState(
                    cam_signals_deg=dict.fromkeys(group, wide), unknown_spacing_sd_deg=spacing, unknown_size_sd=size
                ),
            )
            for group in groups
        ]
        apart = EngineState(
            unknown_common_sd_deg=wide,
            unknown_cam_sd_deg=wide,
            unknown_spacing_sd_deg=spacing,
            unknown_size_sd=size,
        )
        garbled = replace(apart, unknown_spacing_sd_deg=numbers.WRONG_SPACING_SD_DEG.value)
        return (*together, Branch(share, apart, Place("")), Branch(garbled_share, garbled, Place("")))

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return "Something else"
