"""Parts that turned on the crank by any amount: the sprocket alone, or the hub with sprocket and signal wheel."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.explanations.explanation import Area, Branch, Opened, Place
from phasko.core.explanations.moved_part import shifted
from phasko.core.explanations.opening import displaced, drive_parts
from phasko.core.words import amount_words

__all__ = ["CrankHubSlipped", "CrankSprocketSlipped"]


class CrankSprocketSlipped:
    """The sprocket turned on the crank, the signal wheel did not: all cams and valves off alike, by any amount."""

    fault: FaultName = "crank_sprocket_slipped"
    area: Area = "timing"
    hint = (
        "All cams and valves off alike, by any amount: key, friction fit, or a pulley that was just renewed. The "
        "signal wheel moved the other way reads the same; where the pistons stand, or the marks, tells them apart."
    )

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_CRANK_SPROCKET.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        cams = tuple(cam.id for cam in profile.cams if cam.edges)
        place = Place("Crank sprocket", None, cams)
        return tuple(shifted(place, 1.0, lambda x: EngineState(sprocket_deg=x, worn=True), True)) if cams else ()

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        size = amount_words(amount_deg or 0)
        return f"Sprocket turned on the crank, all cams {size}" if size else "Sprocket turned on the crank"

    def opened(
        self,
        profile: EngineProfile,
        place: Place,
        amount_deg: float | None,
        pitches: float | None,  # noqa: ARG002
    ) -> Opened | None:
        return Opened(
            see=f"{displaced(profile, place.cams, amount_deg)}, with a piston proved at TDC; key sheared or friction "
            "faces polished, the crank bolt loose.",
            false_if="Key and bolt sound, and all marks meet with a piston proved at TDC.",
            together=("crank bolt", "key or friction washer", "front seal", *drive_parts(profile)[:2]),
        )


class CrankHubSlipped:
    """Sprocket and signal wheel turned on the crank together: no cam signal shows it, the pistons do."""

    fault: FaultName = "crank_hub_slipped"
    area: Area = "timing"
    hint = "No cam signal can show it: only TDC, valves felt in a cylinder, or marks with a piston proved at TDC."

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_CRANK_HUB.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        cams = tuple(cam.id for cam in profile.cams)
        place = Place("Crank hub", None, cams)
        return tuple(shifted(place, 1.0, lambda s: EngineState(hub_deg=s, worn=True), True))

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        size = amount_words(amount_deg or 0)
        return f"Crank hub slipped with its wheel {size}" if size else "Crank hub slipped with its wheel"

    def opened(
        self,
        profile: EngineProfile,
        place: Place,
        amount_deg: float | None,
        pitches: float | None,  # noqa: ARG002
    ) -> Opened | None:
        shown = displaced(profile, place.cams, amount_deg).replace(
            "With the crank on its own mark", "With a piston proved at TDC"
        )
        return Opened(
            see=f"{shown}, and the pulley's mark off too; key sheared or the hub's bolt loose. On the pulley's own "
            "mark everything looks true.",
            false_if="With a piston proved at TDC the pulley's mark stands true.",
            together=("crank bolt", "hub and key", "front seal"),
        )
