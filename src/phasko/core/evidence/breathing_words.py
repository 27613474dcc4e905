"""How the engine breathes while it is cranked: odd pulses, push or suck at the throttle, back pressure."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.breathing import odd_words
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.cylinder import FeltCylinder
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.evidence.cylinder_compression import pressed, relative_pressures
from phasko.core.evidence.observable import JobEvidence, Observed, Word, condition_of

__all__ = ["ManifoldPressure", "Pulses", "push_chance"]


class ManifoldPressure:
    name = "manifold"
    title = "Manifold"
    second_kind = False

    def observe(self, job: JobEvidence) -> Observed:
        """Mean pressures in intake and exhaust; one word a place."""
        found: dict[str, Word] = {}
        for number, capture in enumerate(job.captures):
            for one in capture.manifolds:
                size = f"{1000 * one.mean_bar:+.0f} ± {1000 * one.u95_bar:.0f} mbar"
                words = {
                    "pushes": f"The engine pushes at the throttle ({size}) instead of sucking",
                    "sucks": f"The engine sucks at the throttle ({size})",
                    "neither": f"The intake neither sucks nor pushes ({size})",
                    "back_pressure": f"The exhaust stands under pressure while cranking ({size})",
                    "free": f"The exhaust is free while cranking ({size})",
                }[one.state]
                found.setdefault(
                    one.place,
                    Word(
                        kind=self.name,
                        key=f"{number}:{one.place}",
                        subject=one.place,
                        answer=one.state,
                        words=words,
                        condition=condition_of(capture, False),
                    ),
                )
            for felt in capture.felt:
                for word in _felt_words(felt, number, capture):
                    found.setdefault(word.subject, word)
        return Observed((), tuple(found.values()))

    def chance(self, word: Word, state: EngineState, profile: EngineProfile) -> float:
        if word.subject == "exhaust stroke":
            shown = (numbers.EXHAUST_STROKE_SHOWN if state.exhaust_blocked else numbers.BACK_PRESSURE_BY_CHANCE).value
            return shown if word.answer == "back_pressure" else 1.0 - shown
        if word.subject == "intake stroke":
            shown = (numbers.INTAKE_STROKE_SHOWN if state.intake_blocked else numbers.INTAKE_STROKE_BY_CHANCE).value
            return shown if word.answer == "held_back" else 1.0 - shown
        if word.subject == "exhaust":
            blocked = state.exhaust_blocked > 0.0
            shown = (numbers.BACK_PRESSURE_SHOWN if blocked else numbers.BACK_PRESSURE_BY_CHANCE).value
            return shown if word.answer == "back_pressure" else 1.0 - shown
        push = push_chance(state, profile)
        if word.answer == "pushes":
            return push
        neither = 0.3 if state.intake_blocked == 0.0 else 0.1
        return (1.0 - push) * (neither if word.answer == "neither" else 1.0 - neither)


def _felt_words(felt: FeltCylinder, number: int, capture: CaptureMeasurement) -> list[Word]:
    """What the strokes with an open valve say of the ways: pulses of the others that stand in a blocked exhaust, an
    intake stroke that is held back although the throttle is open."""
    if felt.exhaust_top_bar is None or felt.intake_bar is None:
        return []
    running = felt.segment == "running"
    most = (numbers.EXHAUST_TOP_RUNNING_MOST_BAR if running else numbers.EXHAUST_TOP_MOST_BAR).value
    stands = felt.exhaust_top_bar - felt.stroke_u95_bar > most
    size = f"{1000 * felt.exhaust_top_bar:+.0f} ± {max(1.0, 1000 * felt.stroke_u95_bar):.0f} mbar"
    told = "The exhaust stands under pressure" if stands else "The exhaust is free"
    where = f"felt in cylinder {felt.cylinder}"
    answers = [("exhaust stroke", "back_pressure" if stands else "free", f"{told}, {where} ({size})")]
    if not running and capture.recording.description.throttle == "open":
        held = felt.intake_bar + felt.stroke_u95_bar < numbers.INTAKE_STROKE_LEAST_BAR.value
        size = f"{1000 * felt.intake_bar:+.0f} mbar"
        told = "The intake stroke is held back" if held else "The intake stroke is free"
        answers.append(("intake stroke", "held_back" if held else "free", f"{told}, {where} ({size})"))
    return [
        Word(
            kind=ManifoldPressure.name,
            key=f"{number}:{felt.segment}:{felt.cylinder}:{subject}",
            subject=subject,
            answer=answer,
            words=words,
            condition=condition_of(capture, running),
        )
        for subject, answer, words in answers
    ]


def push_chance(state: EngineState, profile: EngineProfile) -> float:
    """Chance that a cranked engine pushes back at the throttle: valves far out of time; less often a blocked exhaust,
    or an intake valve that leaks."""
    far = max((abs(state.valves_of(cam.id)) for cam in profile.cams), default=0.0)
    if far >= numbers.PUSH_BACK_LEAST_DEG.value:
        return numbers.PUSH_SHOWN.value
    leaking = any(left < numbers.COMPRESSION_DEAD_BELOW.value for left in state.seal.values())
    if state.exhaust_blocked or leaking or state.outside:
        return numbers.PUSH_BLOCKED.value
    return numbers.PUSH_BY_CHANCE.value


class Pulses:
    name = "pulses"
    title = "Pulses"
    second_kind = False

    def observe(self, job: JobEvidence) -> Observed:
        """The clearest odd pulse with whose it can be, or that all are alike; one word for the job."""
        for number, capture in enumerate(job.captures):
            for pulses in capture.pulses:
                for odd, words in zip(pulses.odd, odd_words(pulses), strict=True):
                    if odd.suspects and odd.suspects[0][1] >= numbers.PULSE_BLAMED.value:
                        return Observed((), (self._word(number, capture, odd.suspects[0][0], words.rstrip(".")),))
        for number, capture in enumerate(job.captures):
            if capture.pulses:
                return Observed((), (self._word(number, capture, None, "All breathing pulses are alike"),))
        return Observed()

    def _word(self, number: int, capture: CaptureMeasurement, cylinder: int | None, words: str) -> Word:
        return Word(
            kind=self.name,
            key=str(number),
            subject="pulses",
            answer="odd" if cylinder is not None else "alike",
            words=words,
            cylinder=cylinder,
            condition=condition_of(capture, False),
        )

    def chance(self, word: Word, state: EngineState, profile: EngineProfile) -> float:
        """A valve that stands still, a worn lobe and a leak make their own cylinder's pulse odd; so may a bank out of
        time."""
        relative = relative_pressures(pressed(state, profile))
        odd_ones = {c for c, p in relative.items() if p < 0.6} | set(state.still) | set(state.worn_lobes)
        own = numbers.PULSE_SHOWN.value if odd_ones else numbers.PULSE_BY_CHANCE.value
        if state.unknown_seal_sd or state.outside or not state.cams_turn:
            own, odd_ones = 0.4, set(profile.firing_order)
        if word.answer == "alike":
            return 1.0 - own
        hit = word.cylinder in odd_ones
        others = len(profile.firing_order)
        # One odd pulse may be blamed on a neighbour: a tenth of what is shown falls on the others.
        return own * (0.9 / len(odd_ones) if hit else 0.1 / others) if odd_ones else own / others
