"""A tensioner that gives way in one condition: the cams of its chain are late there and right elsewhere."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState, When
from phasko.core.engine.timing_drive import elongation_lateness_deg
from phasko.core.explanations.explanation import Area, Branch, Opened, Place
from phasko.core.explanations.grids import slack_grid
from phasko.core.explanations.opening import drive_parts
from phasko.core.words import drive_word

__all__ = ["TensionerSlack"]

_WHEN: tuple[tuple[When, float], ...] = (("cranking", 0.4), ("cold", 0.3), ("hot", 0.2), ("running", 0.1))
"""In which condition the tensioner gives way, with its share: oil pressure is missing while cranking (common practice,
no source)."""


class TensionerSlack:
    fault: FaultName = "tensioner_slack"
    area: Area = "timing"
    hint = (
        "Late in one condition and right in another, where no phaser could do it. Oil level and pressure, then the "
        "tensioner's travel through its opening. Taking the tensioner out can let the chain jump."
    )

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_TENSIONER.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        """The whole drive or one bank's chain, late in one condition; more on the cam further along the strand."""
        cams = [cam for cam in profile.cams if cam.edges]
        geared = profile.drive is not None and profile.drive.type not in ("chain", "belt")
        if not cams or geared:
            return ()
        banks = sorted({cam.bank for cam in cams})
        word = drive_word(profile)
        places = [Place(f"Tensioner of the {word}", None, tuple(c.id for c in cams))]
        if len(banks) > 1:
            places += [
                Place(f"Tensioner of bank {b}", b, tuple(c.id for c in cams if c.bank == b), profile.whole_bank(b))
                for b in banks
            ]
        found = []
        for place in places:
            runs = {cam: elongation_lateness_deg(profile.drive, cam, 1.0) for cam in place.cams}
            longest = max(runs.values())
            for when, of_when in _WHEN:
                for amount, share, width in slack_grid():
                    near, far = (
                        EngineState(slack_deg={c: a * r / longest for c, r in runs.items()}, slack_when=when, worn=True)
                        for a in (amount, amount + width)
                    )
                    found.append(
                        Branch(
                            share=of_when * share / len(places),
                            state=near,
                            place=Place(f"{place.title} {_WORDS[when]}", place.bank, place.cams, place.cylinders),
                            amount_deg=amount,
                            amount_sd=width,
                            nudged=far,
                        )
                    )
        return tuple(found)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return f"{place.title}, {abs(amount_deg or 0):.0f}° late"

    def opened(
        self,
        profile: EngineProfile,
        place: Place,  # noqa: ARG002
        amount_deg: float | None,  # noqa: ARG002
        pitches: float | None,  # noqa: ARG002
    ) -> Opened | None:
        return Opened(
            see="The tensioner's plunger goes in by hand, its ratchet or its oil feed has failed; the chain measures "
            "as new.",
            false_if="The plunger holds and the chain is long.",
            together=drive_parts(profile)[:3],
        )


_WORDS = {"cranking": "slack while cranking", "cold": "slack cold", "hot": "slack hot", "running": "slack running"}
