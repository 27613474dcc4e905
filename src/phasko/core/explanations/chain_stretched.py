"""The chain is longer than it was: every cam late in proportion to the free links before it."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import Branch, EngineState, Place
from phasko.core.engine.timing_drive import elongation_lateness_deg
from phasko.core.explanations.grids import elongation_grid

__all__ = ["ChainStretched"]


class ChainStretched:
    fault: FaultName = "chain_stretched"
    needs_covers_off = True
    hint = "A few degrees late can also be a reference taken from another edge or another engine."

    def prior(self, profile: EngineProfile) -> float:
        other_drive = profile.drive is not None and profile.drive.type != "chain"
        return numbers.PRIOR_CHAIN_STRETCHED.value * (numbers.PRIOR_WRONG_DRIVE_FACTOR.value if other_drive else 1.0)

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        cams = [cam.id for cam in profile.cams if cam.edges]
        if not cams:
            return ()

        def lateness(percent: float) -> dict[str, float]:
            return {cam: elongation_lateness_deg(profile.drive, cam, percent) for cam in cams}

        place = Place("", None, tuple(cams))
        found = []
        for percent, share, width in elongation_grid():
            late = lateness(percent)
            most = max(late.values())
            nudged = EngineState(valves_deg=lateness(percent + width))
            found.append(
                Branch(
                    share=share,
                    state=EngineState(valves_deg=late),
                    place=place,
                    amount_deg=most,
                    amount_sd=most * width / percent,
                    pitches=None,
                    nudged=nudged,
                )
            )
        return tuple(found)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return f"Chain stretched, {abs(amount_deg or 0):.0f}° at the furthest cam"
