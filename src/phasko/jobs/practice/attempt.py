"""An attempt at a practice car: begun from a seed, what was done in it with its minutes and money, how it stands."""

from __future__ import annotations

import json
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy.orm import Session

from phasko.bench.blind import ABLE, BlindCar, drawn_car, is_able
from phasko.bench.pool import pool_engine
from phasko.core.documents.fault_name import FaultName
from phasko.core.documents.job import HookUp, JobDocument
from phasko.core.errors import DocumentError, RefusedError
from phasko.core.handover import FAULT_SHORT
from phasko.core.practice import topic_of
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.opening import open_job
from phasko.jobs.told import kept_document
from phasko.store import Database, jobs
from phasko.store.attempts import attempt_of
from phasko.store.made_cars import class_key, made_car_of
from phasko.store.models import Attempt, utc_now

__all__ = [
    "AttemptView",
    "Begin",
    "Choice",
    "Step",
    "add_step",
    "attempt_view",
    "begin_blind",
    "car_of",
    "choices",
    "open_attempt",
    "seed_of",
    "spent_of",
    "steps_of",
]

Kind = Literal["blind", "made", "lesson"]


class Begin(BaseModel):
    """Who practises, in which class (whatever was agreed: it is the seed), and which of its cars, from 1."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    person: Annotated[str, Field(min_length=1, max_length=60)]
    class_name: Annotated[str, Field(min_length=1, max_length=60)]
    number: Annotated[int, Field(ge=1, le=10_000)]


class Step(BaseModel):
    """One thing that was done. ``test``: its name among the technician's tests, or the hook-up's question; ``look_id``,
    ``capture_id``: what came of it."""

    model_config = ConfigDict(frozen=True)
    kind: Literal["capture", "look", "scan", "drive"]
    test: str
    title: str
    minutes: float
    shown: str = ""
    cylinder: int | None = None
    look_id: int | None = None
    capture_id: int | None = None


class Choice(BaseModel):
    """An explanation that may be called."""

    model_config = ConfigDict(frozen=True)
    fault: FaultName
    title: str


class AttemptView(BaseModel):
    """How an attempt stands: the clock (minutes), the bill, what was done, and whether it has ended."""

    model_config = ConfigDict(frozen=True)
    job_id: int
    kind: Kind
    person: str
    class_name: str
    number: int
    lesson: str
    minutes: float
    money: float
    currency: str
    steps: list[Step]
    choices: list[Choice]
    points: float | None
    ended_at: str | None


LABOUR_PER_HOUR = 70.0
CURRENCY = "crowns"


def seed_of(class_name: str, number: int) -> int:
    """The seed of a class's car; the same wherever that class is held."""
    made = 0
    # Not the language's own hash: that differs from one start to the next.
    for letter in f"{class_key(class_name)}/{number}".encode():
        made = (made * 131 + letter) % 2_147_483_647
    return made


def begin_blind(database: Database, asked: Begin) -> AttemptView:
    """Begins at a car of a class, or goes on with the attempt that this person has begun at it. Raises RefusedError
    where it has ended already."""
    person, class_name = asked.person.strip(), asked.class_name.strip()
    if not person or not class_name:
        raise DocumentError("Practice needs a name and a class", kept="Nothing was begun")
    with database.reading() as session:
        before = _begun(session, person, class_name, asked.number)
    if before is not None and before.ended_at is not None:
        raise RefusedError(
            f"Car {asked.number} of {class_name} is done already",
            kept="Your call and its points are kept",
            remedy=f"Take car {asked.number + 1}, or another class.",
        )
    if before is not None:
        return attempt_view(database, before.job_id)
    car = _car_of_class(database, class_name, asked.number)
    made = Attempt(kind="blind", person=person, class_name=class_name, number=asked.number)
    return open_attempt(database, made, car)


def _car_of_class(database: Database, class_name: str, number: int) -> BlindCar:
    """The car that somebody made by hand for that number, or the one that the class's name draws."""
    with database.reading() as session:
        made = made_car_of(session, class_name, number)
        return drawn_car(seed_of(class_name, number)) if made is None else BlindCar.model_validate_json(made.car)


def _begun(session: Session, person: str, class_name: str, number: int) -> Attempt | None:
    asked = session.query(Attempt).filter_by(person=person, class_name=class_name, number=number)
    return asked.order_by(Attempt.id.desc()).first()


def open_attempt(database: Database, made: Attempt, car: BlindCar) -> AttemptView:
    """The job of an attempt, with what is told of the car; what is hidden stands beside it, where no page reads it."""
    profile = pool_engine(car.engine)
    document = profile.model_dump_json(by_alias=True, exclude_none=True, indent=1)
    engine = save_engine(database, document.encode(), f"{car.engine}.json")
    complaint = car.told.complaint.text if car.told.complaint is not None else ""
    job = open_job(
        database,
        vehicle=car.vehicle,
        make_model=car.make_model,
        complaint=complaint,
        codes=[code.code for code in car.told.codes],
        engine_id=engine.id,
    )
    with database.transaction() as session:
        row = jobs.get_job(session, job.id)
        # A hook-up is begun with: what would be proposed tells what the machine would test.
        row.told = kept_document(car.told.model_copy(update={"hook_up": HookUp(question="timing")}))
        row.simulated_car = json.dumps(car.simulated())
        row.holder = made.person
        made.job_id, made.car = job.id, car.model_dump_json()
        made.topic = made.topic or topic_of(car.hidden.fault).id
        session.add(made)
    return attempt_view(database, job.id)


def attempt_view(database: Database, job_id: int) -> AttemptView:
    """How it stands. Raises NotFoundError for a job that is no attempt."""
    with database.reading() as session:
        attempt = attempt_of(session, job_id)
        car, steps = car_of(attempt), steps_of(attempt)
    minutes, money = spent_of(steps, car.told)
    return AttemptView(
        job_id=job_id,
        kind=attempt.kind,
        person=attempt.person,
        class_name=attempt.class_name,
        number=attempt.number,
        lesson=attempt.lesson,
        minutes=minutes,
        money=money,
        currency=CURRENCY,
        steps=steps,
        choices=choices(car),
        points=attempt.points,
        ended_at=attempt.ended_at,
    )


def choices(car: BlindCar) -> list[Choice]:
    """Every explanation that an engine of this kind can have."""
    profile = pool_engine(car.engine)
    return [Choice(fault=fault, title=FAULT_SHORT[fault]) for fault in ABLE if is_able(fault, profile)]


def car_of(attempt: Attempt) -> BlindCar:
    """What is hidden."""
    return BlindCar.model_validate_json(attempt.car)


def steps_of(attempt: Attempt) -> list[Step]:
    """What was done, in order."""
    return [Step.model_validate(one) for one in json.loads(attempt.steps)]


def spent_of(steps: list[Step], told: JobDocument) -> tuple[float, float]:
    """(Minutes, money in the workshop's currency) of these steps."""
    minutes = sum(step.minutes for step in steps)
    costs = told.costs
    rate = costs.labour_per_hour if costs is not None and costs.labour_per_hour is not None else LABOUR_PER_HOUR
    return minutes, round(minutes / 60.0 * rate, 2)


def add_step(database: Database, job_id: int, step: Step) -> AttemptView:
    """Puts what was done on the clock and the bill. Raises RefusedError once the attempt has ended."""
    with database.transaction() as session:
        attempt = attempt_of(session, job_id)
        check_open(attempt)
        attempt.steps = json.dumps([one.model_dump(mode="json") for one in (*steps_of(attempt), step)])
    return attempt_view(database, job_id)


def check_open(attempt: Attempt) -> None:
    """Raises RefusedError for an attempt that has ended."""
    if attempt.ended_at is not None:
        raise RefusedError(
            "This car was called already", kept="Everything stands as it was", remedy="Take the next one."
        )


def end(attempt: Attempt, outcome: str, points: float) -> None:
    """Ends it with what came of it."""
    check_open(attempt)
    attempt.outcome, attempt.points, attempt.ended_at = outcome, points, utc_now()
