"""What the owner and the car's papers tell: symptoms, when they come, distance, what was replaced and by what effect.
They move the odds a little, never the decision."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from phasko.core import numbers
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.job import JobDocument, Replaced
from phasko.core.engine.state import EngineState
from phasko.core.evidence.holds import holds
from phasko.core.evidence.observable import JobEvidence, Observed, Word
from phasko.core.looks import Speaks

__all__ = ["History"]


@dataclass(frozen=True, slots=True)
class _Told:
    """One thing that was told: what it speaks about, how often that shows it, and how often others do."""

    words: str
    speaks: Speaks
    shown: float
    otherwise: float


def _told(document: JobDocument) -> Iterator[tuple[str, _Told]]:
    complaint = document.complaint
    if complaint is not None:
        for symptom in complaint.symptoms:
            if symptom in _SYMPTOMS:
                yield symptom, _SYMPTOMS[symptom]
        for when in complaint.when:
            if when in _WHEN:
                yield when, _WHEN[when]
        far = numbers.DISTANCE_WORN_KM.value
        if complaint.distance_km is not None and complaint.distance_km >= far:
            yield "distance", _Told(f"It has run {complaint.distance_km:.0f} km", "a worn timing drive", 0.6, 0.4)
    for one in document.replaced:
        told = _replaced(one)
        if told is not None:
            yield f"replaced:{one.part}", told
    events = [b for b in document.background if b.what in _EVENTS and b.when != "after_symptom"]
    if events:
        # However many there were, a loom is either hurt or not: they are one witness.
        words = f"{_EVENTS[events[0].what]} before it began" if events[0].when != "unknown" else _EVENTS[events[0].what]
        shown, otherwise = (chance.value for chance in numbers.LOOM_HURT_CHANCES)
        yield "background", _Told(words, "a sensor or its wiring", shown, otherwise)


_SYMPTOMS: Mapping[str, _Told] = {
    "no_start": _Told("It does not start", "signals that do not agree", 0.4, 0.2),
    "rattle": _Told("It rattles", "a worn timing drive", 0.4, 0.12),
    "lack_of_power": _Told("It lacks power", "valves out of time", 0.4, 0.25),
    "overheated": _Told("It was overheated", "one weak cylinder", 0.1, 0.03),
    "misfire": _Told("It misfires", "one weak cylinder", 0.5, 0.25),
}
"""Gentle weights, common practice without a published source."""

_WHEN: Mapping[str, _Told] = {
    "after_repair": _Told("It began after work on the engine", "a drive put together wrong", 0.3, 0.06),
    "intermittent": _Told("It comes and goes", "a sensor or its wiring", 0.4, 0.15),
}

_EVENTS: Mapping[str, str] = {
    "accident": "An accident",
    "fire": "A fire",
    "wiring_work": "Work on the wiring",
    "water": "Water in it",
}

_DRIVE_PARTS = ("drive", "phaser", "cam", "head", "crank_pulley", "distributor")
_SENSOR_PARTS = ("crank_sensor", "cam_sensor", "wiring")


def _replaced(one: Replaced) -> _Told | None:
    """A part fitted just before the symptom is the first suspect; one fitted in vain later is not."""
    name = one.part.replace("_", " ")
    if one.part in _DRIVE_PARTS and one.when == "before_symptom":
        return _Told(f"{name.capitalize()} was renewed just before", "a drive put together wrong", 0.4, 0.06)
    if one.part in _SENSOR_PARTS and one.when == "before_symptom":
        return _Told(f"{name.capitalize()} was renewed just before", "a part fitted wrong", 0.4, 0.08)
    if one.part in _SENSOR_PARTS and one.when == "after_symptom" and one.effect == "none":
        return _Told(f"{name.capitalize()} was renewed in vain", "a sensor or its wiring", 0.08, 0.24)
    if one.part in ("coil", "injector", "fuel_pump") and one.when == "after_symptom" and one.effect == "none":
        return _Told(f"{name.capitalize()} was renewed in vain", "a fault outside this list, such as fuel", 0.2, 0.35)
    return None


class History:
    name = "history"
    title = "History"
    second_kind = False

    def observe(self, job: JobEvidence) -> Observed:
        if job.told is None:
            return Observed()
        return Observed(
            (),
            tuple(
                Word(
                    kind=self.name,
                    key=key,
                    subject="told",
                    answer="told",
                    words=told.words,
                    speaks=(told.speaks, told.shown, told.otherwise),
                )
                for key, told in dict(_told(job.told)).items()
            ),
        )

    def chance(self, word: Word, state: EngineState, profile: EngineProfile) -> float:
        assert word.speaks is not None
        speaks, shown, otherwise = word.speaks
        return shown if holds(speaks, state, profile) else otherwise
