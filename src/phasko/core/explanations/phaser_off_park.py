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
    ("always", "off park", 0.4),
    ("connected", "driven off park", 0.14),
    ("hot", "off park hot", 0.1),
    ("cold", "off park cold", 0.08),
    ("swept", "comes back off park", 0.06),
)
_POOR = 0.22
"""When it is there: stuck for good, driven there by its control, its lock failing in one condition, only after it was
driven; with the share of each. The last share is of those that rest at park and follow their command badly (common
practice, no source)."""


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
            poor = Place(f"{cam_name(cam, profile)} phaser follows its command badly", cam.bank, (cam.id,))
            state = EngineState(poor_phasers=frozenset({cam.id}))
            found.append(Branch(share=_POOR / len(cams), state=state, place=poor, amount_deg=0.0))
        return tuple(found)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return ", ".join(filter(None, (place.title, amount_words(amount_deg or 0))))
