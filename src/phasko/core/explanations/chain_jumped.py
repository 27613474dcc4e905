"""The chain or belt jumped whole pitches: at the crank, on one bank, or at one cam. The valves follow."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import Cam, EngineProfile
from phasko.core.engine.state import Branch, EngineState, Place
from phasko.core.engine.timing_drive import assumed_pitches_deg, pitch_stages_deg
from phasko.core.words import cam_name, count_words, drive_word

__all__ = ["ChainJumped"]


class ChainJumped:
    fault: FaultName = "chain_jumped"
    needs_covers_off = True
    hint = "Looks the same as a crank wheel moved the other way until the pistons are measured or the marks are seen."

    def prior(self, profile: EngineProfile) -> float:
        geared = profile.drive is not None and profile.drive.type not in ("chain", "belt")
        return numbers.PRIOR_CHAIN_JUMPED.value * (numbers.PRIOR_WRONG_DRIVE_FACTOR.value if geared else 1.0)

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        cams = [cam for cam in profile.cams if cam.edges]
        if not cams:
            return ()
        word = drive_word(profile)
        groups: list[tuple[str, int | None, list[Cam], float]] = [
            (f"{word} jumped", None, cams, numbers.JUMP_AT_CRANK_SHARE.value)
        ]
        banks = sorted({cam.bank for cam in cams})
        if len(banks) > 1:
            share = numbers.JUMP_AT_BANK_SHARE.value / len(banks)
            groups += [
                (f"{word} of bank {bank} jumped", bank, [c for c in cams if c.bank == bank], share) for bank in banks
            ]
        if len(cams) > 1:
            rest = 1.0 - sum(share for *_, share in groups)
            for cam in cams:
                name = cam_name(cam, profile).lower()
                groups.append((f"{word} jumped at the {name}", cam.bank, [cam], rest / len(cams)))
        found = [
            branch for title, bank, moved, share in groups for branch in _jumps(profile, title, bank, moved, share)
        ]
        total = sum(branch.share for branch in found)
        return tuple(
            Branch(
                share=b.share / total,
                state=b.state,
                place=b.place,
                amount_deg=b.amount_deg,
                amount_sd=b.amount_sd,
                pitches=b.pitches,
                nudged=b.nudged,
            )
            for b in found
        )

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:
        count = abs(round(pitches or 0))
        way = "late" if (amount_deg or 0) > 0 else "early"
        head = place.title[0].upper() + place.title[1:]
        return f"{head} {count_words(count)} pitch{'' if count == 1 else 'es'} {way}"


def _jumps(profile: EngineProfile, title: str, bank: int | None, cams: list[Cam], share: float) -> list[Branch]:
    place = Place(title, bank, tuple(cam.id for cam in cams), profile.whole_bank(bank))
    whole_drive = bank is None
    sizes = _pitch_sizes(profile, cams[0].id, whole_drive)
    late = numbers.JUMP_LATE_SHARE.value
    found = []
    for pitch, width, chance in sizes:
        for count, weight in enumerate((entry.value for entry in numbers.JUMP_PITCH_WEIGHTS), start=1):
            for sign, side in ((1, late), (-1, 1.0 - late)):
                amount = sign * count * pitch
                state = EngineState(valves_deg={cam.id: amount for cam in cams})
                further = EngineState(valves_deg={cam.id: amount + sign * count * width for cam in cams})
                nudged = further if width else None
                part = share * chance * weight * side
                found.append(
                    Branch(
                        share=part,
                        state=state,
                        place=place,
                        amount_deg=amount,
                        amount_sd=count * width,
                        pitches=sign * float(count),
                        nudged=nudged,
                    )
                )
    return found


def _pitch_sizes(profile: EngineProfile, cam_id: str, whole_drive: bool) -> list[tuple[float, float, float]]:
    """(pitch deg, width deg, chance) of the stage that jumps; unknown sprockets are spread over the usual ones."""
    stages = pitch_stages_deg(profile.drive, cam_id)
    if not stages:
        pitches = assumed_pitches_deg()
        return [(pitch, numbers.PITCH_UNKNOWN_SD_DEG.value, 1.0 / len(pitches)) for pitch in pitches]
    if whole_drive or len(stages) == 1:
        return [(stages[0], 0.0, 1.0)]
    return [(stage, 0.0, 1.0 / len(stages)) for stage in stages]
