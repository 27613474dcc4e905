"""Whether every signal is whole: lost pulses, silence, pulses added, and codes that the same signals set."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from phasko.core import numbers
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import Condition, EngineState
from phasko.core.evidence.observable import JobEvidence, NotCounted, Observed, Word, condition_of
from phasko.core.words import cam_name, lower_first

__all__ = ["SignalHealthKind", "whole_signals"]

_WORST = ("lost", "erratic", "extra", "whole")


@dataclass(frozen=True, slots=True)
class _Heard:
    """What one capture says of one signal."""

    signal: str
    answer: str
    words: str
    condition: Condition
    count: int = 0


class SignalHealthKind:
    name = "signals"
    title = "Signals"
    second_kind = False

    def observe(self, job: JobEvidence) -> Observed:
        """One word per signal, of the capture in which it is worst: lost again in another capture is no new witness.
        Whole signals from while the car behaved clear nothing. While the crank rocks its teeth are miscounted and
        nothing is said of any sensor."""
        heard: dict[str, list[_Heard]] = {}
        left: list[NotCounted] = []
        for capture in job.captures:
            for one in _heard(capture, job.profile):
                if one.answer == "whole" and one.condition.symptom == "absent":
                    left.append(NotCounted(one.words, "the symptom was absent: that clears nothing"))
                else:
                    heard.setdefault(one.signal, []).append(one)
            if capture.rocks:
                left.append(NotCounted("Odd crank pulses", "the crank turns so slowly that it rocks"))
        words = [_worst(every) for every in heard.values()]
        return Observed((), tuple(words), tuple(dict.fromkeys(left)))

    def chance(self, word: Word, state: EngineState, profile: EngineProfile) -> float:  # noqa: ARG002
        """Sound signals are nearly always whole; a bad one shows it unless it comes and goes. Cams that nothing drives
        stand still, or turn freely."""
        sound = _BY_CHANCE[word.answer]
        if not state.cams_turn and word.subject != "crank":
            flat = numbers.FLAT_CAMS_SHARE.value
            # Turning freely it gives pulses, but hardly all of every cycle.
            return {"lost": flat, "whole": 0.02 * (1.0 - flat), "erratic": 0.78 * (1.0 - flat)}.get(word.answer, 0.01)
        bad = state.signal_of(word.subject, word.condition)
        if bad is None:
            # The more odd pulses, the less they are by chance.
            return sound * min(1.0, numbers.DISTURBED_LEAST_PULSES.value / word.value) if word.value else sound
        unseen = numbers.SIGNAL_INTERMITTENT.value
        if word.condition.symptom == "unknown" and state.only_with_symptom:
            unseen = 0.5
        seen = 1.0 - unseen
        return unseen if word.answer == "whole" else seen * _SHOWN[bad][word.answer]


_ANSWERS = ("whole", "erratic", "lost", "extra")
_BY_CHANCE = {name: entry.value for name, entry in zip(_ANSWERS, numbers.SIGNAL_CHANCES, strict=True)}
"""How a sound signal is found."""
_SHOWN = {
    "lost": {"lost": 0.85, "erratic": 0.14, "extra": 0.01},
    "erratic": {"lost": 0.25, "erratic": 0.71, "extra": 0.04},
    "extra": {"lost": 0.01, "erratic": 0.04, "extra": 0.95},
}
"""How a poor one is, where it shows at all."""


def whole_signals(job: JobEvidence) -> tuple[str, ...]:
    """Signals that were measured and never found poor."""
    words = SignalHealthKind().observe(job).words
    return tuple(word.subject for word in words if word.answer == "whole")


def _worst(every: Sequence[_Heard]) -> Word:
    worst = min(every, key=lambda one: _WORST.index(one.answer))
    return Word(
        kind=SignalHealthKind.name,
        key=worst.signal,
        subject=worst.signal,
        answer=worst.answer,
        words=worst.words,
        cam=None if worst.signal == "crank" else worst.signal,
        condition=worst.condition,
        value=float(worst.count),
    )


def _heard(capture: CaptureMeasurement, profile: EngineProfile) -> Iterable[_Heard]:
    condition = condition_of(capture, capture.recording.description.condition in ("idle", "running", "snap"))
    hooked = {c.description.cam or "" for c in capture.recording.with_role("cam")}
    no_crank = any(problem.code == "no_crank_signal" for problem in capture.problems)
    turns = capture.turned or (no_crank and bool(hooked - set(capture.silent_cams)))
    if no_crank and turns:
        yield _Heard("crank", "lost", "The crank signal is flat although the engine turns", condition)
    for cam_id in sorted(hooked):
        name = _name(cam_id, profile)
        if cam_id in capture.silent_cams:
            if turns:
                yield _Heard(cam_id, "lost", f"{name} gives no pulses although the crank turns", condition)
        elif capture.turned and not capture.rocks:
            yield _counted(cam_id, name, capture, condition)
    if capture.turned and not capture.rocks:
        yield _counted("crank", "The crank signal", capture, condition)


def _counted(signal: str, name: str, capture: CaptureMeasurement, condition: Condition) -> _Heard:
    """Pulses lost and added of a signal that is there; one or two odd ones are noise. A further wheel counts with the
    shaft it turns with."""
    own = [event for event in capture.events if _shaft(event.signal, capture.engine) == signal]
    silent = [event for event in own if event.kind == "silent"]
    lost = sum(event.count for event in own if event.kind == "missing")
    added = sum(event.count for event in own if event.kind == "extra")
    least = numbers.DISTURBED_LEAST_PULSES.value
    if silent:
        gone = sum(event.to_s - event.time_s for event in silent)
        return _Heard(signal, "erratic", f"{name} is gone for {gone:.2f} s", condition)
    if lost >= least and lost >= added:
        return _Heard(signal, "erratic", f"{name} loses pulses, {lost} in this capture", condition, lost)
    if added >= least:
        return _Heard(signal, "extra", f"{name} has {added} pulses too many", condition, added)
    return _Heard(signal, "whole", f"{name} is whole", condition)


def _shaft(signal: str, engine: EngineProfile) -> str:
    return next((wheel.turns_with for wheel in engine.aux_wheels if wheel.id == signal), signal)


def _name(cam_id: str, profile: EngineProfile) -> str:
    cam = profile.cam(cam_id)
    return f"The {lower_first(cam_name(cam, profile))} signal" if cam else f"Signal {cam_id}"
