"""Cams turned on their sprockets or phasers by any amount, or set wrong after work; their valves follow."""

from __future__ import annotations

from functools import partial

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import Cam, EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.explanations.explanation import Area, Branch, Opened, Place
from phasko.core.explanations.moved_part import shifted
from phasko.core.explanations.opening import displaced, drive_parts
from phasko.core.words import amount_words, cam_name

__all__ = ["CamSlipped"]


class CamSlipped:
    fault: FaultName = "cam_slipped"
    area: Area = "timing"
    hint = "That cam's signal wheel moved reads the same; its valves, felt in a cylinder's pressure, tell them apart."

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_CAM_SLIPPED.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        """One cam; both cams of a bank together; several cams, each by its own amount, as when set wrong."""
        cams = [cam for cam in profile.cams if cam.edges]
        groups = _several(profile, cams)
        together = numbers.TOGETHER_SHARE.value if groups else 0.0
        apart = numbers.SEVERAL_CAMS_SHARE.value if groups else 0.0
        found: list[Branch] = []
        for cam in cams:
            place = Place(cam_name(cam, profile), cam.bank, (cam.id,), profile.whole_bank(cam.bank))
            found += shifted(place, (1.0 - together - apart) / len(cams), partial(_state, (cam.id,)), True)
        for place in groups:
            found += shifted(place, together / len(groups), partial(_state, place.cams), True)
            open_sd = dict.fromkeys(place.cams, numbers.CAM_SET_SD_DEG.value)
            set_wrong = Place(f"{place.title} each", place.bank, place.cams, place.cylinders)
            state = EngineState(unknown_valves_sd_deg=open_sd, worn=True)
            found.append(Branch(apart / len(groups), state, set_wrong, covers_off=True))
        return tuple(found)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        if amount_deg is None and len(place.cams) > 1:
            return f"{place.title.removesuffix(' each')} set wrong, each by its own amount"
        return f"{place.title} slipped {amount_words(amount_deg or 0) or 'on its sprocket'}"

    def opened(
        self,
        profile: EngineProfile,
        place: Place,
        amount_deg: float | None,
        pitches: float | None,  # noqa: ARG002
    ) -> Opened | None:
        return Opened(
            see=f"{displaced(profile, place.cams, amount_deg)}, not by whole teeth; the bolt loose, its seat marked or "
            "its pin sheared, the chain itself in its place.",
            false_if="The cam's own mark or flat stands true with the crank on its mark: then only its signal wheel "
            "moved.",
            together=("that cam's bolt", "seals of the cover", *drive_parts(profile)[1:3]),
        )


def _several(profile: EngineProfile, cams: list[Cam]) -> list[Place]:
    """Banks with more than one cam, and all cams together where there are several banks."""
    banks = sorted({cam.bank for cam in cams})
    found = []
    for bank in banks:
        ids = tuple(cam.id for cam in cams if cam.bank == bank)
        title = f"Cams of bank {bank}" if len(banks) > 1 else "Both cams"
        if len(ids) > 1:
            found.append(Place(title, bank, ids, profile.whole_bank(bank)))
    if len(banks) > 1:
        found.append(Place("Cams of all banks", None, tuple(cam.id for cam in cams)))
    return found


def _state(cams: tuple[str, ...], amount_deg: float) -> EngineState:
    return EngineState(valves_deg=dict.fromkeys(cams, amount_deg), worn=True)
