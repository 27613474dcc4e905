"""The chain is longer than it may be: every cam late in proportion to the free links before it."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.engine.timing_drive import elongation_at_limit, elongation_lateness_deg
from phasko.core.explanations.explanation import Area, Branch, Opened, Place
from phasko.core.explanations.grids import elongation_grid
from phasko.core.explanations.opening import displaced, drive_parts

__all__ = ["ChainStretched"]


class ChainStretched:
    fault: FaultName = "chain_stretched"
    area: Area = "timing"
    hint = (
        "Elongation stays in every condition; an offset that goes when warm or running is a tensioner or a phaser. A "
        "few degrees late can also be a reference taken from another edge or another engine."
    )

    def prior(self, profile: EngineProfile) -> float:
        belt = profile.drive is not None and profile.drive.type == "belt"
        return numbers.PRIOR_CHAIN_STRETCHED.value * (numbers.RARE_DRIVE_FACTOR.value if belt else 1.0)

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        """Elongations that put at least one cam beyond its limit. A gear drive does not grow."""
        cams = [cam.id for cam in profile.cams if cam.edges]
        limit = elongation_at_limit(profile)
        geared = profile.drive is not None and profile.drive.type not in ("chain", "belt")
        if not cams or limit is None or geared:
            return ()
        low = max(limit, numbers.STRETCH_MIN_PERCENT.value)
        high = max(numbers.STRETCH_MAX_PERCENT.value, low + numbers.STRETCH_MIN_PERCENT.value)
        place = Place("", None, tuple(cams))
        found = []
        for percent, share, width in elongation_grid(low, high):
            late, further = (
                {cam: elongation_lateness_deg(profile.drive, cam, p) for cam in cams}
                for p in (percent, percent + width)
            )
            most = max(late.values())
            found.append(
                Branch(
                    share=share,
                    state=EngineState(valves_deg=late, elongation_percent=percent, worn=True),
                    place=place,
                    amount_deg=most,
                    amount_sd=most * width / percent,
                    nudged=EngineState(valves_deg=further, elongation_percent=percent + width, worn=True),
                    covers_off=True,
                )
            )
        return tuple(found)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return f"Chain stretched, {abs(amount_deg or 0):.1f}° at the furthest cam"

    def opened(
        self,
        profile: EngineProfile,
        place: Place,
        amount_deg: float | None,
        pitches: float | None,  # noqa: ARG002
    ) -> Opened | None:
        return Opened(
            see=f"{displaced(profile, place.cams, amount_deg)}, more on the cam further along the tight strand; the "
            "tensioner far out, the guides worn.",
            false_if="The tensioner stands at its usual travel and the chain measures as new.",
            together=drive_parts(profile),
        )
