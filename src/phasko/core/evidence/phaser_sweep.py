"""The sweep test: whether a phaser follows its command to both stops and comes back."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.evidence.observable import JobEvidence, NotCounted, Observed, Word, condition_of
from phasko.core.phasers import PhaserSweep, sweep_words
from phasko.core.words import cam_name

__all__ = ["PhaserSweepKind"]

_ANSWERS = ("full", "lacking", "stuck", "slow", "short")


class PhaserSweepKind:
    name = "phaser_sweep"
    title = "Phaser sweep"
    second_kind = False

    def observe(self, job: JobEvidence) -> Observed:
        """One word per cam, of its newest sweep. A sweep clears or accuses the phaser and nothing else: a cam that has
        jumped, slipped, or whose wheel sits wrong has both stops moved and its whole travel. Where its range is not
        known, or no stop was seen, only that it moves is told, and does not count."""
        found: dict[str, Word] = {}
        left: list[NotCounted] = []
        for number, capture in enumerate(job.captures):
            for sweep in capture.sweeps:
                answer = _answer(sweep)
                words = sweep_words(sweep, capture.engine)
                if answer is None:
                    why = _why_not(sweep)
                    left.append(NotCounted(f"Sweep of the {cam_name(sweep.cam, job.profile).lower()}", why))
                    continue
                found[sweep.cam.id] = Word(
                    kind=self.name,
                    key=f"{number}:{sweep.cam.id}",
                    subject="sweep",
                    answer=answer,
                    words=words,
                    cam=sweep.cam.id,
                    value=sweep.swept_deg,
                    condition=condition_of(capture, running=True),
                )
        return Observed((), tuple(found.values()), tuple(left))

    def chance(self, word: Word, state: EngineState, profile: EngineProfile) -> float:  # noqa: ARG002
        """A phaser that rests off its park lacks that much of its travel, or does not move at all."""
        cam = word.cam or ""
        if cam in state.poor_phasers:
            chances = numbers.SWEEP_OF_POOR
        elif abs(state.coming_and_going_deg(cam, word.condition)[0]) >= numbers.SHIFT_MIN_DEG.value and (
            cam in state.phaser_deg
        ):
            chances = numbers.SWEEP_OFF_PARK
        elif state.outside:
            chances = numbers.SWEEP_OUTSIDE
        else:
            chances = numbers.SWEEP_USUAL
        return chances[_ANSWERS.index(word.answer)].value


def _why_not(sweep: PhaserSweep) -> str:
    if not sweep.whole_drive:
        return "nobody drove it to its stop: the control unit moves it by any part of its travel"
    return "the profile does not say how far it goes" if sweep.stop_seen else "no stop was seen"


def _answer(sweep: PhaserSweep) -> str | None:
    if not sweep.whole_drive:
        return None
    if sweep.state in ("stuck", "slow"):
        return sweep.state
    if sweep.short_deg is None:
        return None
    side = sweep.short_side
    return {"park": "lacking", "far": "short"}[side] if side is not None else "full"
