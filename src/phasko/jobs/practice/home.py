"""The practice page: what somebody has done, how it went, and what comes next; and a class's results as a sheet."""

from __future__ import annotations

import csv
import io

from pydantic import BaseModel, ConfigDict

from phasko.core.handover import FAULT_SHORT
from phasko.core.practice import curve_of, topic
from phasko.core.practice.curve import Done
from phasko.jobs.practice.attempt import car_of, spent_of, steps_of
from phasko.jobs.practice.calling import Outcome
from phasko.store import Database
from phasko.store.attempts import attempts_of_class, attempts_of_person
from phasko.store.models import Attempt

__all__ = ["PracticeHome", "class_sheet", "practice_home"]


class AttemptLine(BaseModel):
    """One attempt in the list."""

    model_config = ConfigDict(frozen=True)
    job_id: int
    kind: str
    title: str
    class_name: str
    number: int
    topic: str
    points: float | None
    begun_at: str
    ended_at: str | None


class CurvePointOut(BaseModel):
    model_config = ConfigDict(frozen=True)
    number: int
    points: float
    mean: float


class TopicOut(BaseModel):
    model_config = ConfigDict(frozen=True)
    topic: str
    title: str
    attempts: int
    mean: float | None
    u95: float | None


class PracticeHome(BaseModel):
    """Attempts of one person, the newest first, with the curve over time (blind cars only) and by topic."""

    model_config = ConfigDict(frozen=True)
    person: str
    attempts: list[AttemptLine]
    curve: list[CurvePointOut]
    topics: list[TopicOut]
    next_number: int


def practice_home(database: Database, person: str, class_name: str) -> PracticeHome:
    """What that person has done; ``next_number``: the next car of that class."""
    with database.reading() as session:
        rows = list(attempts_of_person(session, person.strip()))
    ended = [row for row in rows if row.points is not None]
    curve = curve_of([Done(row.points or 0.0, row.topic) for row in ended if row.kind == "blind"])
    # Whoever made a car by hand knew what it was.
    every = curve_of([Done(row.points or 0.0, row.topic) for row in ended if row.kind != "made"])
    taken = [row.number for row in rows if row.kind == "blind" and row.class_name == class_name.strip()]
    return PracticeHome(
        person=person.strip(),
        attempts=[_line(row) for row in reversed(rows)],
        curve=[CurvePointOut(number=one.number, points=one.points, mean=one.mean) for one in curve.points],
        topics=[
            TopicOut(topic=one.topic, title=one.title, attempts=one.attempts, mean=one.mean, u95=one.u95)
            for one in every.topics
        ],
        next_number=max(taken, default=0) + 1,
    )


def _line(row: Attempt) -> AttemptLine:
    car = car_of(row)
    return AttemptLine(
        job_id=row.job_id,
        kind=row.kind,
        title=car.vehicle,
        class_name=row.class_name,
        number=row.number,
        # Which topic a car teaches would tell what is hidden in it.
        topic=topic(row.topic).title if row.ended_at is not None or row.kind == "lesson" else "",
        points=row.points,
        begun_at=row.begun_at,
        ended_at=row.ended_at,
    )


_COLUMNS = ("class", "number", "person", "truth", "called", "sure_percent", "covers", "decision", "right", "points")
_MORE = (
    "points_said",
    "points_decided",
    "points_spent",
    "minutes",
    "cheapest_minutes",
    "money",
    "begun_at",
    "ended_at",
)


def class_sheet(database: Database, class_name: str) -> bytes:
    """Results of a class as CSV: a row an attempt that has ended."""
    with database.reading() as session:
        rows = [
            row for row in attempts_of_class(session, class_name.strip()) if row.ended_at is not None and row.outcome
        ]
    sheet = io.StringIO()
    writer = csv.writer(sheet, lineterminator="\r\n")
    writer.writerow((*_COLUMNS, *_MORE))
    for row in rows:
        if row.kind == "lesson":
            continue
        car, outcome = car_of(row), Outcome.model_validate_json(row.outcome)
        _, money = spent_of(steps_of(row), car.told)
        said, decided, spent = (round(one.points, 1) for one in (outcome.said, outcome.decided, outcome.spent))
        writer.writerow(
            (
                _plain(row.class_name),
                row.number,
                _plain(row.person),
                FAULT_SHORT[car.hidden.fault],
                FAULT_SHORT[outcome.call.fault],
                round(100 * outcome.call.sure),
                outcome.call.covers,
                outcome.decision,
                "yes" if outcome.right else "no",
                round(outcome.points, 1),
                said,
                decided,
                spent,
                round(outcome.minutes),
                round(outcome.cheapest_minutes),
                money,
                row.begun_at,
                row.ended_at,
            )
        )
    return sheet.getvalue().encode()


def _plain(text: str) -> str:
    """A spreadsheet runs what begins with one of these (OWASP, CSV injection)."""
    return f"'{text}" if text.startswith(("=", "+", "-", "@")) else text
