"""A phaser rests away from its park position: only towards its authority, and the valves follow."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState, When
from phasko.core.explanations.explanation import Area, Branch, NothingOpened, Place
from phasko.core.explanations.grids import travel_grid
from phasko.core.words import amount_words, cam_name

__all__ = ["PhaserOffPark"]

_WHEN: tuple[tuple[When, str, float], ...] = (
    ("always", "off park", 0.6),
    ("connected", "driven off park", 0.2),
    ("hot", "off park hot", 0.1),
    ("cold", "off park cold", 0.1),
)
"""When it is there: stuck for good, driven there by its control, its lock failing in one condition; with the share of
each (common practice, no source)."""


class PhaserOffPark(NothingOpened):
    fault: FaultName = "phaser_off_park"
    area: Area = "timing"
    hint = (
        "Drive the solenoid and watch the cam sweep both ways before anything else is blamed; oil level, solenoid and "
        "its filter screen first."
    )

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_PHASER_OFF_PARK.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        """One phaser anywhere in its travel, in every condition or in one; one that rattles only with the symptom."""
        cams = [cam for cam in profile.cams if cam.edges and cam.phaser]
        found: list[Branch] = []
        for cam in cams:
            assert cam.phaser is not None
            for when, words, of_when in _WHEN:
                place = Place(f"{cam_name(cam, profile)} phaser {words}", cam.bank, (cam.id,))
                for angle, share, width in travel_grid(*cam.phaser.authority_deg):
                    near, far = (EngineState(phaser_deg={cam.id: a}, phaser_when=when) for a in (angle, angle + width))
                    found.append(
                        Branch(
                            share=share * of_when / len(cams),
                            state=near,
                            place=place,
                            amount_deg=angle,
                            amount_sd=width,
                            nudged=far,
                        )
                    )
        return tuple(found)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return ", ".join(filter(None, (place.title, amount_words(amount_deg or 0))))
