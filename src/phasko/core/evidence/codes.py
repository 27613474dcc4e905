"""Trouble codes by their public meaning. A code is the same evidence as the signal it is set by: it counts only where
that signal was not measured."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

from phasko.core import numbers
from phasko.core.documents.engine import Cam, EngineProfile
from phasko.core.documents.job import Code
from phasko.core.engine.state import EngineState
from phasko.core.evidence.cylinder_compression import pressed, relative_pressures
from phasko.core.evidence.observable import JobEvidence, NotCounted, Observed, Word

__all__ = ["CodeMeaning", "Codes", "code_meaning"]


@dataclass(frozen=True, slots=True)
class CodeMeaning:
    """What a public code is about: ``about`` which bank's which shaft's cam, or which cylinder."""

    about: Literal["correlation", "crank_sensor", "cam_sensor", "phaser", "misfire"]
    bank: int | None = None
    shaft: Literal["intake", "exhaust"] | None = None
    cylinder: int | None = None


_CAMS: dict[str, tuple[Literal["correlation", "cam_sensor", "phaser"], int, Literal["intake", "exhaust"]]] = {
    **{f"P00{n}": ("correlation", 1 + (n > 17), "intake" if n % 2 == 0 else "exhaust") for n in range(16, 20)},
    **{f"P00{n}": ("phaser", 1, "intake") for n in (10, 11, 12)},
    **{f"P00{n}": ("phaser", 1, "exhaust") for n in (13, 14, 15)},
    **{f"P00{n}": ("phaser", 2, "intake") for n in (20, 21, 22)},
    **{f"P00{n}": ("phaser", 2, "exhaust") for n in (23, 24, 25)},
    **{f"P03{n}": ("cam_sensor", 1, "intake") for n in range(40, 45)},
    **{f"P03{n}": ("cam_sensor", 2, "intake") for n in range(45, 50)},
    **{f"P03{n}": ("cam_sensor", 1, "exhaust") for n in range(65, 70)},
    **{f"P03{n}": ("cam_sensor", 2, "exhaust") for n in range(90, 95)},
}
"""Public titles of SAE J2012: cam A is the intake or left, cam B the exhaust or right one; from memory."""


def code_meaning(code: str) -> CodeMeaning | None:
    """What a code says about timing, signals or cylinders; ``None`` for all others (SAE J2012, from memory)."""
    name = code.strip().upper()
    if name in _CAMS:
        about, bank, shaft = _CAMS[name]
        return CodeMeaning(about, bank, shaft)
    if re.fullmatch(r"P033[5-9]", name):
        return CodeMeaning("crank_sensor")
    if re.fullmatch(r"P03(0[1-9]|1[0-2])", name):
        return CodeMeaning("misfire", cylinder=int(name[3:]))
    return None


class Codes:
    name = "codes"
    title = "Codes"
    second_kind = False

    def observe(self, job: JobEvidence) -> Observed:
        found: dict[str, Word] = {}
        left = []
        measured = _measured(job)
        for code in job.told.codes if job.told is not None else ():
            meaning = code_meaning(code.code)
            reason = _not_counted(code, meaning, job.profile, measured)
            if reason is not None or meaning is None:
                left.append(NotCounted(f"Code {code.code.upper()}", reason or "it says nothing about timing"))
                continue
            cam = _cam(meaning, job.profile)
            subject = f"{meaning.about}:{cam.id if cam else meaning.cylinder or ''}"
            found.setdefault(
                subject,
                Word(
                    kind=self.name,
                    key=code.code.upper(),
                    subject=meaning.about,
                    answer="set" if code.status != "history" else "history",
                    words=f"Code {code.code.upper()} ({code.status})",
                    cylinder=meaning.cylinder,
                    cam=cam.id if cam else None,
                ),
            )
        return Observed((), tuple(found.values()), tuple(left))

    def chance(self, word: Word, state: EngineState, profile: EngineProfile) -> float:
        shown, otherwise = (0.6, 0.03) if word.answer == "set" else (0.4, 0.1)
        return shown if _sets(word, state, profile) else otherwise


def _sets(word: Word, state: EngineState, profile: EngineProfile) -> bool:
    """Whether an engine in that state would set the code."""
    if word.subject == "misfire":
        low = relative_pressures(pressed(state, profile)).get(word.cylinder or 0, 1.0) < numbers.GAUGE_LOW_SHARE.value
        return low or word.cylinder in state.still or word.cylinder in state.worn_lobes or state.outside
    if word.subject == "crank_sensor":
        return "crank" in state.signals
    cams = (word.cam,) if word.cam is not None else tuple(cam.id for cam in profile.cams)
    apart = any(abs(state.reading_of(cam)) >= numbers.OUT_OF_STEP_DEG.value for cam in cams) or not state.cams_turn
    if word.subject == "phaser":
        return apart or any(cam in state.phaser_deg for cam in cams)
    return apart or any(cam in state.signals for cam in cams)


def _cam(meaning: CodeMeaning, profile: EngineProfile) -> Cam | None:
    return next(
        (c for c in profile.cams if c.bank == meaning.bank and c.shaft in (meaning.shaft, "single")),
        None,
    )


def _measured(job: JobEvidence) -> set[str]:
    """What was measured: signals that were hooked up, cams whose offset is known, cylinders with a compression."""
    found: set[str] = set()
    for capture in job.captures:
        found |= {f"signal:{c.description.cam}" for c in capture.recording.with_role("cam")}
        found |= {"signal:crank"} if capture.recording.with_role("crank") else set()
        found |= {f"offset:{reading.cam.id}" for reading in capture.cams if reading.offset is not None}
        if capture.compression is not None and capture.compression.identified_by is not None:
            found |= {f"cylinder:{c.cylinder}" for c in capture.compression.cylinders}
    return found


def _not_counted(code: Code, meaning: CodeMeaning | None, profile: EngineProfile, measured: set[str]) -> str | None:
    if meaning is None:
        return "it says nothing about timing, signals or cylinders"
    if code.returned is False:
        return "it did not come back after clearing"
    cam = _cam(meaning, profile)
    same = "it is the same evidence as the signal that was measured"
    if meaning.about == "crank_sensor" and "signal:crank" in measured:
        return same
    if cam is not None and meaning.about == "cam_sensor" and f"signal:{cam.id}" in measured:
        return same
    if cam is not None and meaning.about in ("correlation", "phaser") and f"offset:{cam.id}" in measured:
        return same
    return same if meaning.cylinder is not None and f"cylinder:{meaning.cylinder}" in measured else None
