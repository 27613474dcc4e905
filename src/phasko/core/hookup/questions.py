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
        id="timing",
        title="Are the cams in time, and does every cylinder seal?",
        short="Timing and seal",
        turns="cranking",
        length_s=6.0,
        repeat="One burst of six seconds, then a rest of as long as it took",
    ),
    HookUpQuestion(
        id="seal",
        title="Which cylinder does not seal?",
        short="Seal",
        turns="cranking",
        length_s=6.0,
        repeat="One burst of six seconds, then a rest",
    ),
    HookUpQuestion(
        id="running",
        title="Are the cams in time while it runs?",
        short="Running",
        turns="idle",
        length_s=10.0,
        repeat="Ten seconds of idle, cold and hot if it can be",
    ),
    HookUpQuestion(
        id="sweep",
        title="Does the phaser move, and come back?",
        short="Phaser",
        turns="idle",
        length_s=20.0,
        repeat="Driven for two seconds, off for two, three times",
        possible=_has_phaser,
    ),
    HookUpQuestion(
        id="pressure",
        title="What do valves and pistons of a cylinder do?",
        short="Pressure",
        turns="cranking",
        length_s=6.0,
        repeat="One burst of six seconds, then a rest",
    ),
    HookUpQuestion(
        id="spark",
        title="Is the spark there, and in time?",
        short="Spark",
        turns="cranking",
        length_s=6.0,
        repeat="One burst of six seconds, then a rest",
        possible=_has_spark,
    ),
    HookUpQuestion(
        id="injector",
        title="Does the control unit inject, and when?",
        short="Injector",
        turns="cranking",
        length_s=6.0,
        repeat="One burst of six seconds",
    ),
    HookUpQuestion(
        id="harness",
        title="Is it the sensor, or the wiring behind it?",
        short="Harness",
        turns="cranking",
        length_s=6.0,
        repeat="One burst; then minutes while loom and plugs are moved",
    ),
    HookUpQuestion(
        id="symptom",
        title="Which signal fails at the moment it happens?",
        short="Symptom",
        turns="running",
        length_s=600.0,
        repeat="Minutes, until it has happened; press M at that moment",
    ),
    HookUpQuestion(
        id="sensor",
        title="Does the sensor itself die, warm or moved?",
        short="Sensor",
        turns="bench",
        length_s=600.0,
        repeat="Minutes: cold, warmed up, and cold again, a healthy one beside it",
    ),
    HookUpQuestion(
        id="sync",
        title="Is the distributor or sync drive clocked right?",
        short="Sync drive",
        turns="idle",
        length_s=120.0,
        repeat="While it is turned, tightened and revved",
        possible=_is_clocked,
    ),
    HookUpQuestion(
        id="breathing",
        title="Does it breathe in and out alike?",
        short="Breathing",
        turns="cranking",
        length_s=6.0,
        repeat="One burst of six seconds, then a rest",
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
