"""What a hook-up is to answer, and which question stands next."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from phasko.core.codes import code_meaning
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.job import JobDocument
from phasko.core.hookup.leads import EngineState

__all__ = ["HOOK_UPS", "HookUpQuestion", "hook_up_question", "hook_ups_of", "proposed_question", "question_of_test"]


@dataclass(frozen=True, slots=True)
class HookUpQuestion:
    """A question, in which state of the engine it is answered, and for how long one records (s). ``possible``: this
    engine has what it is about."""

    id: str
    title: str
    short: str
    turns: EngineState
    length_s: float
    repeat: str
    possible: Callable[[EngineProfile], bool] = lambda profile: True  # noqa: ARG005


def _has_phaser(profile: EngineProfile) -> bool:
    return any(cam.phaser is not None for cam in profile.cams)


def _has_spark(profile: EngineProfile) -> bool:
    return profile.ignition is None or profile.ignition.type != "none"


def _is_clocked(profile: EngineProfile) -> bool:
    driven = profile.drive is not None and profile.drive.type == "distributor_gear"
    return driven or (profile.ignition is not None and profile.ignition.type == "distributor")


HOOK_UPS: tuple[HookUpQuestion, ...] = (
    HookUpQuestion(
        "timing",
        "Are the cams in time, and does every cylinder seal?",
        "Timing and seal",
        "cranking",
        6.0,
        "One burst of six seconds, then a rest of as long as it took",
    ),
    HookUpQuestion(
        "seal", "Which cylinder does not seal?", "Seal", "cranking", 6.0, "One burst of six seconds, then a rest"
    ),
    HookUpQuestion(
        "running",
        "Are the cams in time while it runs?",
        "Running",
        "idle",
        10.0,
        "Ten seconds of idle, cold and hot if it can be",
    ),
    HookUpQuestion(
        "sweep",
        "Does the phaser move, and come back?",
        "Phaser",
        "idle",
        20.0,
        "Driven for two seconds, off for two, three times",
        _has_phaser,
    ),
    HookUpQuestion(
        "pressure",
        "What do valves and pistons of a cylinder do?",
        "Pressure",
        "cranking",
        6.0,
        "One burst of six seconds, then a rest",
    ),
    HookUpQuestion(
        "spark",
        "Is the spark there, and in time?",
        "Spark",
        "cranking",
        6.0,
        "One burst of six seconds, then a rest",
        _has_spark,
    ),
    HookUpQuestion(
        "injector", "Does the control unit inject, and when?", "Injector", "cranking", 6.0, "One burst of six seconds"
    ),
    HookUpQuestion(
        "harness",
        "Is it the sensor, or the wiring behind it?",
        "Harness",
        "cranking",
        6.0,
        "One burst; then minutes while loom and plugs are moved",
    ),
    HookUpQuestion(
        "symptom",
        "Which signal fails at the moment it happens?",
        "Symptom",
        "running",
        600.0,
        "Minutes, until it has happened; press M at that moment",
    ),
    HookUpQuestion(
        "sensor",
        "Does the sensor itself die, warm or moved?",
        "Sensor",
        "bench",
        600.0,
        "Minutes: cold, warmed up, and cold again, a healthy one beside it",
    ),
    HookUpQuestion(
        "sync",
        "Is the distributor or sync drive clocked right?",
        "Sync drive",
        "idle",
        120.0,
        "While it is turned, tightened and revved",
        _is_clocked,
    ),
    HookUpQuestion(
        "breathing",
        "Does it breathe in and out alike?",
        "Breathing",
        "cranking",
        6.0,
        "One burst of six seconds, then a rest",
    ),
)

_OF_TEST: Mapping[str, str] = {
    "capture_cranking": "timing",
    "relative_compression": "seal",
    "capture_running": "running",
    "phaser_sweep": "sweep",
    "cylinder_pressure": "pressure",
    "second_cylinder_pressure": "pressure",
    "spark_turned": "spark",
    "wiggle": "harness",
    "heat_sensor": "sensor",
    "sync_adjust": "sync",
    "known_good": "timing",
}


def hook_up_question(question_id: str) -> HookUpQuestion | None:
    """The question of that name; ``None`` where there is none."""
    return next((one for one in HOOK_UPS if one.id == question_id), None)


def hook_ups_of(profile: EngineProfile) -> tuple[HookUpQuestion, ...]:
    """The questions that this engine has."""
    return tuple(one for one in HOOK_UPS if one.possible(profile))


def question_of_test(test: str | None) -> str | None:
    """Which hook-up a test needs; ``None`` for a test without a capture."""
    return None if test is None else _OF_TEST.get(test)


def proposed_question(profile: EngineProfile, told: JobDocument, planned: Sequence[str]) -> HookUpQuestion:
    """The question to begin with: that of the first ``planned`` test (best first) that needs a capture, else by the
    complaint and codes."""
    possible = {one.id: one for one in hook_ups_of(profile)}
    for test in planned:
        asked = question_of_test(test)
        if asked in possible:
            return possible[asked]
    about = {meaning.about for code in told.codes if (meaning := code_meaning(code.code)) is not None}
    symptoms = set(told.complaint.symptoms) if told.complaint is not None else set()
    comes_and_goes = told.complaint is not None and "intermittent" in told.complaint.when
    if about & {"crank_sensor", "cam_sensor"} and (comes_and_goes or "stalls" in symptoms):
        return possible["symptom"]
    if about <= {"misfire", "misfire_random"} and about:
        return possible["seal"]
    return possible["timing"]
