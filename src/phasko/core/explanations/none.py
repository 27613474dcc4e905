"""Timing is as it should be, or worn within its limits."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.engine.timing_drive import elongation_at_limit, elongation_lateness_deg
from phasko.core.explanations.explanation import Area, Branch, NothingOpened, Place
from phasko.core.explanations.grids import elongation_grid

__all__ = ["NoFault"]

_WORN = Place("Timing drive worn, within its limits")


class NoFault(NothingOpened):
    fault: FaultName = "none"
    area: Area = "health"
    hint = (
        "A crank hub slipped with its wheel looks the same to every cam signal; only where the pistons stand shows it."
    )

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_NONE.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        """As built, or with a chain that has grown by less than puts any cam beyond its limit."""
        least, most = numbers.STRETCH_MIN_PERCENT.value, elongation_at_limit(profile)
        chained = profile.drive is None or profile.drive.type == "chain"
        if not chained or most is None or most <= least:
            return (Branch(1.0, EngineState(), Place("")),)
        worn = numbers.WORN_SHARE.value
        cams = [cam.id for cam in profile.cams if cam.edges]
        found = [Branch(1.0 - worn, EngineState(), Place(""))]
        for percent, share, width in elongation_grid(least, most):
            late, further = (
                {cam: elongation_lateness_deg(profile.drive, cam, p) for cam in cams}
                for p in (percent, percent + width)
            )
            found.append(
                Branch(
                    share=worn * share,
                    state=EngineState(valves_deg=late, elongation_percent=percent),
                    place=_WORN,
                    amount_deg=max(late.values()),
                    amount_sd=max(late.values()) * width / percent,
                    nudged=EngineState(valves_deg=further, elongation_percent=percent + width),
                )
            )
        return tuple(found)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return place.title or "Timing as it should be"
