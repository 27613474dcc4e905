"""Cams that move inside a capture although nobody commands them: steps and drifts."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.evidence.observable import JobEvidence, Observed, Word, condition_of
from phasko.core.words import cam_name

__all__ = ["Changes"]


class Changes:
    name = "changes"
    title = "Steps and drifts"
    second_kind = False

    def observe(self, job: JobEvidence) -> Observed:
        """One word per cam: whether it keeps its place within a capture. Phasers that may be commanded say nothing."""
        found: dict[str, Word] = {}
        for number, capture in enumerate(job.captures):
            about = capture.recording.description
            for reading in capture.cams:
                commanded = (
                    reading.cam.phaser is not None
                    and reading.segment == "running"
                    and about.phasers not in ("parked", "unplugged")
                )
                if reading.offset is None or reading.swapped or commanded or about.phasers == "sweep":
                    continue
                moves = reading.offset.state == "unsteady"
                name = cam_name(reading.cam, job.profile)
                words = f"{name} moves inside a capture" if moves else f"{name} keeps its place inside a capture"
                held = found.get(reading.cam.id)
                if held is None or (moves and held.answer == "keeps"):
                    found[reading.cam.id] = Word(
                        kind=self.name,
                        key=f"{number}:{reading.cam.id}",
                        subject=reading.cam.id,
                        answer="moves" if moves else "keeps",
                        words=words,
                        cam=reading.cam.id,
                        condition=condition_of(capture, reading.segment == "running"),
                    )
        return Observed((), tuple(w for w in found.values() if w.answer == "moves"))

    def chance(self, word: Word, state: EngineState, profile: EngineProfile) -> float:  # noqa: ARG002
        cam = word.cam or ""
        loose = cam in state.slack_deg or cam in state.phaser_deg or state.outside
        broken = not state.cams_turn or cam in state.signals
        worn = state.worn and bool(state.valves_deg)
        moves = numbers.CHANGES_SHOWN.value if loose or broken else numbers.CHANGES_BY_CHANCE.value * (5 if worn else 1)
        return moves
