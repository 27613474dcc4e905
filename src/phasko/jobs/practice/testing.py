"""What a learner does with a practice car, and what it costs: looks that the car answers, recordings, the scan tool, a
drive."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import BaseModel, ConfigDict

from phasko.bench.blind import BlindCar, answer_of
from phasko.bench.drive_log import Drive, drive_log_csv
from phasko.bench.pool import pool_engine
from phasko.core import numbers
from phasko.core.call.technician_tests import TESTS
from phasko.core.documents.job import Look
from phasko.core.errors import NotFoundError, RefusedError
from phasko.core.hookup import hook_up_question, question_of_test
from phasko.core.looks import question as look_question
from phasko.core.words import lower_first
from phasko.jobs.looking import note_look, noted_as
from phasko.jobs.practice.attempt import AttemptView, Step, add_step, attempt_view, car_of, check_open, steps_of
from phasko.jobs.road_testing import add_road_test
from phasko.store import Database
from phasko.store.attempts import attempt_of

__all__ = [
    "LookAsked",
    "drive",
    "look",
    "look_minutes",
    "recorded",
    "recording_minutes",
    "runs",
    "scanned",
    "shown_look",
]

_USUAL_LOOK_MINUTES = 8.0
_ON_THE_WIRES_MINUTES = 3.0
"""Recording once more with everything still hooked up."""
_SCAN_MINUTES = 4.0
_USUAL_RECORDING_MINUTES = 15.0


class LookAsked(BaseModel):
    """What is looked at; ``cylinder`` where the question is asked of one."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    question: str
    cylinder: int | None = None


def look_minutes(question: str) -> float:
    """What a look costs (minutes)."""
    return next((test.minutes.value for test in TESTS if test.answered_by == question), _USUAL_LOOK_MINUTES)


def recording_minutes(question: str, done: Sequence[Step]) -> float:
    """What a recording with the hook-up for this question costs (minutes); less where the leads are still on."""
    if done and done[-1].kind == "capture" and done[-1].test == question:
        return _ON_THE_WIRES_MINUTES
    own = [test.minutes.value for test in TESTS if question_of_test(test.test) == question]
    return min(own, default=_USUAL_RECORDING_MINUTES)


def look(database: Database, job_id: int, asked: LookAsked) -> AttemptView:
    """Looks: the car answers as it would, the answer is noted as any look is, and its minutes are on the clock. Raises
    NotFoundError for a question that nobody knows, RefusedError for one that was asked or has no answer here."""
    known = look_question(asked.question)
    if known is None:
        raise NotFoundError("There is no such thing to look at")
    with database.reading() as session:
        attempt = attempt_of(session, job_id)
        check_open(attempt)
        car, done = car_of(attempt), steps_of(attempt)
    if any(one.kind == "look" and (one.test, one.cylinder) == (asked.question, asked.cylinder) for one in done):
        raise RefusedError(
            "You looked at that already", kept="The answer stands", remedy="It would show the same again."
        )
    noted = shown_look(car, asked.question, asked.cylinder)
    if noted is None:
        raise RefusedError("This car has no answer to that", kept="Nothing was put on the clock")
    looking = note_look(database, job_id, noted)
    number, words = noted_as(looking, noted)
    step = Step(
        kind="look",
        test=asked.question,
        title=known.title,
        minutes=look_minutes(asked.question),
        shown=words,
        cylinder=asked.cylinder,
        look_id=number,
    )
    return add_step(database, job_id, step)


def shown_look(car: BlindCar, question: str, cylinder: int | None) -> Look | None:
    """What that look shows on that car, as it would be noted; ``None`` where the car has no answer."""
    shown = answer_of(car, pool_engine(car.engine), question, cylinder)
    if shown is None:
        return None
    return Look(
        question=question,
        answer=shown.answer,
        cylinder=cylinder,
        cam=shown.cam,
        amount_deg=shown.amount_deg,
        value=shown.value,
    )


def recorded(database: Database, job_id: int, question: str, capture_id: int) -> AttemptView:
    """A recording was begun with the hook-up for this question."""
    with database.reading() as session:
        attempt = attempt_of(session, job_id)
        done = steps_of(attempt)
    asked = hook_up_question(question)
    step = Step(
        kind="capture",
        test=question,
        title=asked.title if asked is not None else "Recording",
        minutes=recording_minutes(question, done),
        capture_id=capture_id,
    )
    return add_step(database, job_id, step)


def scanned(database: Database, job_id: int) -> AttemptView:
    """The scan tool was read: once more costs nothing more."""
    view = attempt_view(database, job_id)
    if any(step.kind == "scan" for step in view.steps):
        return view
    return add_step(database, job_id, Step(kind="scan", test="scan", title="Codes read", minutes=_SCAN_MINUTES))


def drive(database: Database, job_id: int) -> AttemptView:
    """A road test with the scan tool's log. Raises RefusedError for a car that does not run, or was driven already."""
    with database.reading() as session:
        attempt = attempt_of(session, job_id)
        check_open(attempt)
        car, done = car_of(attempt), steps_of(attempt)
    if any(step.kind == "drive" for step in done):
        raise RefusedError("It was driven already", kept="The log stands")
    if not runs(car):
        raise RefusedError("This car does not start", kept="Nothing was put on the clock")
    name = f"{lower_first(car.vehicle).replace(' ', '-')}-drive.csv"
    log = drive_log_csv(pool_engine(car.engine), _breathing(car), car.seed)
    add_road_test(database, job_id, name, log)
    minutes = numbers.MINUTES_ROAD.value
    return add_step(database, job_id, Step(kind="drive", test="road_test", title="Road test", minutes=minutes))


def runs(car: BlindCar) -> bool:
    """Whether its engine starts and runs."""
    hidden = car.hidden
    far = max((abs(deg) for deg in hidden.valves_deg.values()), default=0.0)
    return hidden.fault != "drive_broken" and hidden.signals.get("crank") != "lost" and far < _DOES_NOT_START_DEG


_DOES_NOT_START_DEG = 40.0


def _breathing(car: BlindCar) -> Drive:
    """How it fills its cylinders: with late or early intake valves less, and less with something in the way."""
    hidden = car.hidden
    shafts = {cam.id: cam.shaft for cam in pool_engine(car.engine).cams}
    intake = max((abs(deg) for cam, deg in hidden.valves_deg.items() if shafts[cam] != "exhaust"), default=0.0)
    return Drive(
        best_fill=max(0.3, 0.88 - 0.011 * intake),
        intake_blocked=0.35 if hidden.fault == "intake_restricted" else 0.0,
        exhaust_blocked=0.35 if hidden.fault == "exhaust_restricted" else 0.0,
    )
