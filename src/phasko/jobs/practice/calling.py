"""The learner's call, its score, and the truth with the machine's call after each test beside it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from phasko.bench.blind import BlindCar
from phasko.core.call import call
from phasko.core.documents.analysis import Verdict
from phasko.core.documents.fault_name import FaultName
from phasko.core.errors import DocumentError, RefusedError
from phasko.core.evidence import JobEvidence
from phasko.core.handover import FAULT_SHORT
from phasko.core.hookup import hook_up_question
from phasko.core.looks import Look
from phasko.core.looks import question as look_question
from phasko.core.practice import LearnersCall, Score, score_of
from phasko.core.road import judge_road_test
from phasko.core.words import chance_words
from phasko.formats import read_scan_log
from phasko.jobs.measured import job_state, measured_captures
from phasko.jobs.practice.attempt import (
    CURRENCY,
    Step,
    attempt_view,
    car_of,
    check_open,
    choices,
    end,
    spent_of,
    steps_of,
)
from phasko.jobs.practice.on_the_stand import CarOnTheStand, StandTest, cheapest_way, truth_of
from phasko.jobs.told import job_told, readable_looks
from phasko.store import Database, jobs, looks
from phasko.store.attempts import attempt_of

__all__ = ["CallAsked", "TruthView", "make_call", "truth"]


class CallAsked(BaseModel):
    """The learner's call: the explanation, how sure (0 to 1), and whether the covers come off."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    fault: FaultName
    sure: Annotated[float, Field(ge=0, le=1)]
    covers: Literal["off", "on"]


class JudgedOut(BaseModel):
    model_config = ConfigDict(frozen=True)
    points: float
    most: float
    words: str


class MachineCall(BaseModel):
    """What the machine would have called after a test: its leader, how likely, and the gate. ``parted``: from here on
    it and the learner's call went different ways."""

    model_config = ConfigDict(frozen=True)
    after: str
    fault: FaultName
    words: str
    chance: str
    gate: str
    right: bool


class Outcome(BaseModel):
    """What came of an attempt, as it is kept."""

    model_config = ConfigDict(frozen=True)
    call: CallAsked
    right: bool
    decision: Literal["right", "either", "torn_down", "driven_on"]
    said: JudgedOut
    decided: JudgedOut
    spent: JudgedOut
    points: float
    minutes: float
    cheapest_minutes: float
    cheapest: list[str]


class TruthView(BaseModel):
    """What it was, what the learner called, what the machine would have called after each test, and the cheapest way
    that was found (minutes, money)."""

    model_config = ConfigDict(frozen=True)
    fault: FaultName
    title: str
    size: str
    where: str
    when: str
    also: list[str]
    herrings: list[str]
    covers: str
    outcome: Outcome
    called: str
    machine: list[MachineCall]
    parted: str
    cheapest_money: float
    money: float
    currency: str


def make_call(database: Database, job_id: int, asked: CallAsked) -> TruthView:
    """Scores the call and ends the attempt. Raises NotFoundError, RefusedError once it has ended, DocumentError for an
    explanation that this engine cannot have."""
    with database.reading() as session:
        attempt = attempt_of(session, job_id)
        check_open(attempt)
        car, steps = car_of(attempt), steps_of(attempt)
    able = choices(car)
    if asked.fault not in {one.fault for one in able}:
        raise DocumentError("This engine cannot have that fault", place="fault", kept="Nothing was called")
    # Outside any transaction: it records and judges the car several times over.
    way = cheapest_way(CarOnTheStand(car))
    minutes, _ = spent_of(steps, car.told)
    # Where the machine itself never gets there, nobody is told that he was dearer than it.
    cheapest = way.minutes if way.right else max(way.minutes, minutes)
    said = LearnersCall(asked.fault, asked.sure, asked.covers)
    score = score_of(said, truth_of(car), len(able), minutes, cheapest)
    outcome = _outcome(asked, score, minutes, cheapest, [_named(one) for one in way.tests] if way.right else [])
    with database.transaction() as session:
        end(attempt_of(session, job_id), outcome.model_dump_json(), score.points)
    return truth(database, job_id)


def _outcome(asked: CallAsked, score: Score, minutes: float, cheapest: float, tests: list[str]) -> Outcome:
    parts = {
        name: JudgedOut(points=one.points, most=one.most, words=one.words)
        for name, one in (("said", score.said), ("decided", score.decided), ("spent", score.spent))
    }
    return Outcome(
        call=asked,
        right=score.right,
        decision=score.decision,
        points=score.points,
        minutes=minutes,
        cheapest_minutes=cheapest,
        cheapest=tests,
        **parts,
    )


def _named(test: StandTest) -> str:
    """As a learner did it."""
    from_title = Step(kind="look" if test.kind == "look" else "capture", test=test.name, title="", minutes=0.0)
    return title_of(from_title) + (f", cylinder {test.cylinder}" if test.cylinder is not None else "")


def title_of(step: Step) -> str:
    """What was done, in words."""
    if step.kind == "look":
        known = look_question(step.test)
        return known.title if known is not None else step.test
    asked = hook_up_question(step.test)
    return f"Recording for {asked.short.lower()}" if asked is not None else step.title


def truth(database: Database, job_id: int) -> TruthView:
    """What it was. Raises RefusedError before the learner has called."""
    view = attempt_view(database, job_id)
    with database.reading() as session:
        attempt = attempt_of(session, job_id)
        car = car_of(attempt)
        if attempt.ended_at is None:
            raise RefusedError("The truth comes after your call", kept="The clock stands as it was")
        outcome = Outcome.model_validate_json(attempt.outcome)
    machine = machine_calls(database, job_id, car, view.steps)
    hidden = car.hidden
    _, cheapest_money = spent_of([Step(kind="look", test="", title="", minutes=outcome.cheapest_minutes)], car.told)
    return TruthView(
        fault=hidden.fault,
        title=FAULT_SHORT[hidden.fault],
        size=hidden.size,
        where=_where(car),
        when=_WHEN[hidden.present],
        also=[FAULT_SHORT[one] for one in hidden.also],
        herrings=[one.what for one in car.herrings],
        covers={"off": "had to come off", "on": "stay on", "either": "either way is good work"}[hidden.covers],
        outcome=outcome,
        called=FAULT_SHORT[outcome.call.fault],
        machine=machine,
        parted=_parted(outcome, machine),
        cheapest_money=cheapest_money,
        money=view.money,
        currency=CURRENCY,
    )


_WHEN = {
    "always": "always there",
    "cold": "only when it is cold",
    "hot": "only when it is hot",
    "cranking": "only while cranking",
    "running": "only when it runs",
    "not_today": "not there today",
}


def _where(car: BlindCar) -> str:
    hidden = car.hidden
    cams = f"cam {', '.join(hidden.cams)}" if hidden.cams else ""
    cylinders = f"cylinder {', '.join(str(one) for one in hidden.cylinders)}" if hidden.cylinders else ""
    return "; ".join(part for part in (cams, cylinders) if part)


def _parted(outcome: Outcome, machine: list[MachineCall]) -> str:
    """Where the learner's call and the machine's went different ways."""
    if not machine:
        return "Nothing was tested."
    last = machine[-1]
    if last.fault == outcome.call.fault:
        return "You and the machine say the same."
    first = next((one for one in machine if one.right), None)
    if first is not None:
        return f"After {first.after} the machine had it; your call is another."
    if outcome.right:
        return "You had it, the machine had not."
    return "Neither you nor the machine had it from what was tested."


def machine_calls(database: Database, job_id: int, car: BlindCar, steps: list[Step]) -> list[MachineCall]:
    """The machine's call after each test, from what the learner had then."""
    with database.reading() as session:
        state = job_state(session, job_id)
        row = jobs.get_job(session, job_id)
        told = job_told(row)
        seen = dict(readable_looks([(one.id, one.document) for one in looks.looks_of(session, job_id)]))
        roads = [(one.name, one.data) for one in looks.road_tests_of(session, job_id)]
    measured = dict(zip([one.id for one in state.captures], measured_captures(database, state), strict=True))
    driven = tuple(judge_road_test(read_scan_log(data, name), name, state.profile) for name, data in roads)
    found = []
    for count in range(1, len(steps) + 1):
        done = steps[:count]
        captures = [measured[one.capture_id] for one in done if one.capture_id in measured]
        noted: list[Look] = [seen[one.look_id] for one in done if one.look_id in seen]
        drives = driven if any(one.kind == "drive" for one in done) else ()
        verdict = call(JobEvidence(state.profile, captures, noted, drives, told))
        found.append(_machine_call(steps[count - 1], verdict, car))
    return found


_GATE = {"go": "open up", "confirm_first": "confirm first", "no": "covers on"}


def _machine_call(step: Step, verdict: Verdict, car: BlindCar) -> MachineCall:
    leader = verdict.faults[0]
    return MachineCall(
        after=title_of(step) if step.kind in ("look", "capture") else step.title,
        fault=leader.fault,
        words=FAULT_SHORT[leader.fault],
        chance=chance_words(leader.probability),
        gate=_GATE[verdict.teardown],
        right=leader.fault in truth_of(car).right,
    )
