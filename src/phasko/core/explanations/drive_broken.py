"""The timing drive is broken, or turns the cams no longer: they stand still, or turn freely."""

from __future__ import annotations

import itertools

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.filling import patterns_at_rest
from phasko.core.engine.state import EngineState
from phasko.core.explanations.explanation import Area, Branch, Opened, Place
from phasko.core.explanations.opening import drive_parts
from phasko.core.words import drive_word

__all__ = ["DriveBroken"]


_FEW_CYLINDERS = 4
"""With more than these not every set of cylinders is tried one by one."""


class DriveBroken:
    fault: FaultName = "drive_broken"
    area: Area = "timing"
    hint = (
        "Cams flat, no compression humps or only odd ones, the starter spins fast; the spark may still be right where "
        "the crank times it. Look through the filler whether the cam turns, by hand only."
    )

    def prior(self, profile: EngineProfile) -> float:
        geared = profile.drive is not None and profile.drive.type == "gear"
        return numbers.PRIOR_DRIVE_BROKEN.value * (numbers.RARE_DRIVE_FACTOR.value if geared else 1.0)

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        """Cams at rest at any angle: the cylinders whose valves happen to be shut compress, the others do not."""
        word = drive_word(profile)
        place = Place(f"Timing {word} broken", None, tuple(cam.id for cam in profile.cams))
        sets: dict[tuple[int, ...], float] = {}
        order = profile.firing_order
        # Cams may roll on by themselves, and a bent valve leaks: then any cylinders may compress.
        anyhow = numbers.DRIVE_BROKEN_ANYHOW_SHARE.value
        few = len(order) <= _FEW_CYLINDERS
        if few:
            every = [s for n in range(len(order) + 1) for s in itertools.combinations(sorted(order), n)]
            sets = dict.fromkeys(every, anyhow / len(every))
        for shut, share in patterns_at_rest(profile).items():
            sets[shut] = sets.get(shut, 0.0) + (1.0 - anyhow) * share
        found = [
            Branch(
                share,
                EngineState(cams_turn=False, seal={c: 1.0 if c in shut else 0.0 for c in order}, worn=True),
                place,
                covers_off=True,
            )
            for shut, share in sets.items()
        ]
        if not few:
            state = EngineState(cams_turn=False, unknown_seal_sd=numbers.DRIVE_BROKEN_SEAL_SD.value, worn=True)
            found.append(Branch(anyhow, state, place, covers_off=True))
        return tuple(found)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return place.title

    def opened(
        self,
        profile: EngineProfile,
        place: Place,  # noqa: ARG002
        amount_deg: float | None,  # noqa: ARG002
        pitches: float | None,  # noqa: ARG002
    ) -> Opened | None:
        word = drive_word(profile)
        return Opened(
            see=f"The {word} torn or off its sprockets, teeth stripped; cams that stand while the crank turns.",
            false_if="The cams turn with the crank when it is turned by hand.",
            together=drive_parts(profile),
        )
