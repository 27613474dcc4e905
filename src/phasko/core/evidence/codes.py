"""Trouble codes by their public meaning. A code is the same evidence as the signal it is set by: it counts only where
that signal was not measured."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.codes import CodeMeaning, cam_of, code_meaning
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.job import Code
from phasko.core.engine.state import EngineState
from phasko.core.evidence.cylinder_compression import pressed, relative_pressures
from phasko.core.evidence.observable import JobEvidence, NotCounted, Observed, Word

__all__ = ["Codes"]


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
            cam = cam_of(meaning, job.profile)
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


_NOT_TIMING = {
    "solenoid": "it says the solenoid's circuit is at fault, nothing of where the cam stands",
    "coil": "it says the coil's circuit is at fault, nothing of the spark's time",
    "misfire_random": "it names no cylinder",
    "not_learned": "it follows from work that was done",
}


def _not_counted(code: Code, meaning: CodeMeaning | None, profile: EngineProfile, measured: set[str]) -> str | None:
    if meaning is None:
        return "it says nothing about timing, signals or cylinders"
    if meaning.about in _NOT_TIMING:
        return _NOT_TIMING[meaning.about]
    if code.returned is False:
        return "it did not come back after clearing"
    return "it is the same evidence as the signal that was measured" if _same(meaning, profile, measured) else None


def _same(meaning: CodeMeaning, profile: EngineProfile, measured: set[str]) -> bool:
    """Whether what sets the code was measured itself."""
    if meaning.about == "crank_sensor":
        return "signal:crank" in measured
    cam = cam_of(meaning, profile)
    if meaning.about == "cam_sensor":
        return cam is not None and f"signal:{cam.id}" in measured
    if meaning.about in ("correlation", "phaser"):
        cams = [cam] if cam is not None else [c for c in profile.cams if meaning.bank in (None, c.bank)]
        return any(f"offset:{c.id}" in measured for c in cams)
    return f"cylinder:{meaning.cylinder}" in measured
