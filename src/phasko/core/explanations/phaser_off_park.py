"""A phaser rests away from its park position: only towards its authority, and the valves follow."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import Branch, EngineState, Place
from phasko.core.explanations.grids import travel_grid
from phasko.core.words import amount_words, cam_name

__all__ = ["PhaserOffPark"]


class PhaserOffPark:
    fault: FaultName = "phaser_off_park"
    needs_covers_off = False
    hint = "Drive the solenoid and watch the cam sweep both ways before anything else is blamed."

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_PHASER_OFF_PARK.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        cams = [cam for cam in profile.cams if cam.edges and cam.phaser]
        found: list[Branch] = []
        for cam in cams:
            assert cam.phaser is not None
            place = Place(f"{cam_name(cam, profile)} phaser", cam.bank, (cam.id,))
            for angle, share, width in travel_grid(*cam.phaser.authority_deg):
                state = EngineState(valves_deg={cam.id: angle})
                nudged = EngineState(valves_deg={cam.id: angle + width})
                found.append(
                    Branch(
                        share=share / len(cams),
                        state=state,
                        place=place,
                        amount_deg=angle,
                        amount_sd=width,
                        pitches=None,
                        nudged=nudged,
                    )
                )
        return tuple(found)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return ", ".join(filter(None, (f"{place.title} off park", amount_words(amount_deg or 0))))
