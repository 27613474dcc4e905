"""The four pillars of an engine: it seals, it breathes, it sparks in time, it gets fuel. Nothing is assumed right
because nobody looked."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

from phasko.core import numbers
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.analysis import PillarResult
from phasko.core.evidence import JobEvidence
from phasko.core.looks import told_answer

__all__ = ["pillars"]

State = Literal["proven", "suspect", "not_looked_at"]
Told = tuple[bool, str]
"""(whether it is right, in a few words)."""


def pillars(job: JobEvidence) -> list[PillarResult]:
    """Each pillar with what was seen of it; one bad sign makes it suspect."""
    return [
        _pillar("seals", [*_seals(job)]),
        _pillar("breathes", [*_breathes(job)]),
        _pillar("sparks", [*_sparks(job)]),
        _pillar("fuel", [*_fuel(job)]),
    ]


def _pillar(name: Literal["seals", "breathes", "sparks", "fuel"], told: list[Told]) -> PillarResult:
    if not told:
        return PillarResult(pillar=name, state="not_looked_at", text="Nobody has looked yet")
    bad = [words for right, words in told if not right]
    state: State = "suspect" if bad else "proven"
    return PillarResult(pillar=name, state=state, text=(bad or [words for _, words in told])[0])


def _looked(job: JobEvidence, *questions: str) -> Iterable[tuple[str, str, str]]:
    """(question, answer, title of the answer) of the looks at those questions."""
    for look in job.looks:
        answer = told_answer(look, job.looks, job.profile)
        if look.question in questions and answer is not None:
            yield look.question, answer.id, answer.title


def _seals(job: JobEvidence) -> Iterable[Told]:
    for capture in job.captures:
        one = capture.compression
        if one is None:
            continue
        low = [*one.dead, *one.weak]
        if low:
            yield False, f"Cylinder {', '.join(map(str, sorted(low)))} low while cranking"
        elif one.identified_by is not None and all(c.state == "good" for c in one.cylinders):
            yield True, f"All {len(one.cylinders)} cylinders even while cranking"
        elif one.identified_by is None and (one.events_per_cycle or 0) < one.expected_events:
            yield False, f"{one.events_per_cycle} of {one.expected_events} compressions counted"
    for felt in (one for capture in job.captures for one in capture.felt):
        if felt.state == "dead":
            yield False, f"Cylinder {felt.cylinder} does not compress"
        elif felt.expected_bar is not None:
            words = f"Cylinder {felt.cylinder} reaches {felt.peak_bar:.1f} bar"
            yield felt.peak_bar >= numbers.LEVEL_SOUND_SHARE.value * felt.expected_bar, words
    for question, answer, title in _looked(job, "gauge", "leak_down"):
        name = "Gauge" if question == "gauge" else "Leak-down"
        yield answer in ("fine", "tight"), f"{name}: {title.lower()}"


def _breathes(job: JobEvidence) -> Iterable[Told]:
    for capture in job.captures:
        for one in capture.manifolds:
            yield one.state in ("sucks", "free"), _MANIFOLD[one.state]
        for pulses in capture.pulses:
            yield not pulses.odd, "A breathing pulse is odd" if pulses.odd else "All breathing pulses alike"
    for road in job.roads:
        if road.state != "unknown":
            yield (
                road.state == "breathes",
                "Road test: " + ("breathes" if road.state == "breathes" else "too little air"),
            )
    for question, answer, title in _looked(job, "throttle_hand", "exhaust_opened", "intake_opened", "manifold"):
        right = answer in ("pulls", "same")
        yield right, f"{_LOOKS[question]}: {title.lower()}"
    yield from _valves(job.captures)


def _valves(captures: Iterable[CaptureMeasurement]) -> Iterable[Told]:
    """Valves far out of time breathe badly; valves in time prove nothing about the ways."""
    for capture in captures:
        far = [
            r.cam.id
            for r in capture.cams
            if r.offset is not None and abs(r.offset.offset.value) >= numbers.CAUTION_LEAST_DEG.value
        ]
        if far and capture.recording.description.phasers not in ("active", "sweep"):
            yield False, f"Cam {', '.join(far)} far out of time"


_MANIFOLD = {
    "sucks": "It sucks at the throttle",
    "pushes": "It pushes at the throttle",
    "neither": "It neither sucks nor pushes",
    "back_pressure": "Pressure in the exhaust",
    "free": "The exhaust is free",
}
_LOOKS = {
    "throttle_hand": "Hand over the throttle",
    "exhaust_opened": "Exhaust opened",
    "intake_opened": "Intake opened",
    "manifold": "Manifold pressure",
}


def _sparks(job: JobEvidence) -> Iterable[Told]:
    for capture in job.captures:
        for firing in capture.firings:
            if firing.state in ("early", "late"):
                yield False, f"Spark too {firing.state} while cranking"
            elif firing.state == "none":
                yield False, "No spark in the capture"
            elif firing.state == "in":
                yield True, "Spark inside its window"
    for _, answer, title in _looked(job, "spark", "coil_swapped"):
        yield answer in ("present", "stayed"), f"Spark: {title.lower()}"


def _fuel(job: JobEvidence) -> Iterable[Told]:
    for question, answer, title in _looked(job, "fuel_pressure", "fuel_by_hand", "injector"):
        right = answer in ("right", "nothing", "present")
        words = {"fuel_pressure": "Fuel pressure", "fuel_by_hand": "Fuel by hand", "injector": "Injector pulse"}
        yield right, f"{words[question]}: {title.lower()}"
