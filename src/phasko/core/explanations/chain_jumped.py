"""The chain or belt jumped whole pitches: at the crank, on one bank, or at one cam. The valves follow."""

from __future__ import annotations

from dataclasses import dataclass, replace

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import Cam, EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.engine.timing_drive import assumed_pitches_deg, pitch_stages_deg
from phasko.core.explanations.explanation import Area, Branch, Opened, Place
from phasko.core.explanations.opening import displaced, drive_parts
from phasko.core.words import cam_name, count_words, drive_word

__all__ = ["ChainJumped"]


@dataclass(frozen=True, slots=True)
class _Group:
    """Cams that jump together, with the share of all jumps that is theirs."""

    title: str
    bank: int | None
    cams: tuple[Cam, ...]
    share: float


class ChainJumped:
    fault: FaultName = "chain_jumped"
    area: Area = "timing"
    hint = "A crank wheel moved the other way reads the same; where the pistons stand, or the marks, tells them apart."

    def prior(self, profile: EngineProfile) -> float:  # noqa: ARG002
        return numbers.PRIOR_CHAIN_JUMPED.value

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        """Whole pitches at the crank, on each bank, at each cam. Gears do not jump."""
        cams = [cam for cam in profile.cams if cam.edges]
        geared = profile.drive is not None and profile.drive.type not in ("chain", "belt")
        if not cams or geared:
            return ()
        found = [branch for group in _groups(profile, cams) for branch in _jumps(profile, group, len(cams))]
        total = sum(branch.share for branch in found)
        return tuple(replace(branch, share=branch.share / total) for branch in found)

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:
        count = abs(round(pitches or 0))
        way = "late" if (amount_deg or 0) > 0 else "early"
        head = place.title[0].upper() + place.title[1:]
        return f"{head} {count_words(count)} pitch{'' if count == 1 else 'es'} {way}"

    def opened(
        self, profile: EngineProfile, place: Place, amount_deg: float | None, pitches: float | None
    ) -> Opened | None:
        count = abs(round(pitches or 0))
        return Opened(
            see=f"{displaced(profile, place.cams, amount_deg)}: {count_words(count)} "
            f"{'tooth' if count == 1 else 'teeth'} on that sprocket. Tensioner or guide failed, or work done before.",
            false_if="All marks meet with the crank on its own mark and a piston proved at TDC.",
            together=drive_parts(profile),
        )


def _groups(profile: EngineProfile, cams: list[Cam]) -> list[_Group]:
    word = drive_word(profile)
    groups = [_Group(f"{word} jumped", None, tuple(cams), numbers.JUMP_AT_CRANK_SHARE.value)]
    banks = sorted({cam.bank for cam in cams})
    if len(banks) > 1:
        share = numbers.JUMP_AT_BANK_SHARE.value / len(banks)
        groups += [
            _Group(f"{word} of bank {bank} jumped", bank, tuple(c for c in cams if c.bank == bank), share)
            for bank in banks
        ]
    if len(cams) > 1:
        rest = (1.0 - sum(group.share for group in groups)) / len(cams)
        groups += [
            _Group(f"{word} jumped at the {cam_name(cam, profile).lower()}", cam.bank, (cam,), rest) for cam in cams
        ]
    return groups


def _jumps(profile: EngineProfile, group: _Group, of_cams: int) -> list[Branch]:
    ids = tuple(cam.id for cam in group.cams)
    place = Place(group.title, group.bank, ids, profile.whole_bank(group.bank))
    late = numbers.JUMP_LATE_SHARE.value
    found = []
    for pitch, width, chance in _pitch_sizes(profile, ids[0], len(ids) == of_cams and of_cams > 1):
        for count, weight in enumerate((entry.value for entry in numbers.JUMP_PITCH_WEIGHTS), start=1):
            for sign, side in ((1, late), (-1, 1.0 - late)):
                amount = sign * count * pitch
                # A drive that has jumped is seldom new: its cams stand off whole pitches by its wear.
                sd = max(count * width, numbers.JUMP_WEAR_SD_DEG.value)
                found.append(
                    Branch(
                        share=group.share * chance * weight * side,
                        state=EngineState(valves_deg=dict.fromkeys(ids, amount), worn=True),
                        place=place,
                        amount_deg=amount,
                        amount_sd=sd,
                        pitches=sign * float(count),
                        nudged=EngineState(valves_deg=dict.fromkeys(ids, amount + sd), worn=True),
                        covers_off=True,
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
