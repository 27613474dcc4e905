"""Lessons: a picture to read by hand, the numbers that are asked, and how they were marked."""

from __future__ import annotations

import json
import random
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from phasko.bench.blind import BlindCar
from phasko.bench.blind.car import Hidden
from phasko.bench.lessons import LessonPicture, lesson_picture
from phasko.core.documents.job import JobDocument
from phasko.core.errors import DocumentError, NotFoundError
from phasko.core.practice import marked, topic
from phasko.core.practice.lessons import LESSONS, Lesson, lesson
from phasko.formats import CaptureFiles
from phasko.jobs.captures import import_capture
from phasko.jobs.practice.attempt import car_of, check_open, end, open_attempt
from phasko.store import Database, captures
from phasko.store.attempts import attempt_of
from phasko.store.models import Attempt

__all__ = [
    "Answers",
    "LessonAsked",
    "LessonLine",
    "LessonView",
    "answer_lesson",
    "begin_lesson",
    "lesson_view",
    "lessons",
]


class LessonLine(BaseModel):
    """One lesson in the list."""

    model_config = ConfigDict(frozen=True)
    id: str
    title: str
    topic: str
    trap: str


class LessonAsked(BaseModel):
    """Who learns; with a ``seed`` everybody gets the same picture, without one a new one."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    person: Annotated[str, Field(min_length=1, max_length=60)]
    seed: Annotated[int | None, Field(ge=0, le=2_000_000_000)] = None


class Answers(BaseModel):
    """The numbers that were read, by the name under which they are asked."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    answers: dict[str, Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]]


class AskedOut(BaseModel):
    """One number that is asked; once it was answered: the answer, whether it is right, and what is said of it."""

    model_config = ConfigDict(frozen=True)
    id: str
    words: str
    unit: str
    tolerance: float
    answer: float | None = None
    right: bool | None = None
    said: str = ""


class LessonView(BaseModel):
    """A lesson that was begun: its words for the engine of the day, its picture, what is asked."""

    model_config = ConfigDict(frozen=True)
    job_id: int
    capture_id: int
    lesson: str
    title: str
    topic: str
    trap: str
    text: list[str]
    how: list[str]
    asked: list[AskedOut]
    after: str
    points: float | None
    person: str


def lessons() -> list[LessonLine]:
    """All lessons, in the order of the trade."""
    return [LessonLine(id=one.id, title=one.title, topic=topic(one.topic).title, trap=one.trap) for one in LESSONS]


def _known(lesson_id: str) -> Lesson:
    try:
        return lesson(lesson_id)
    except KeyError:
        raise NotFoundError(f"There is no lesson {lesson_id!r}") from None


def begin_lesson(database: Database, lesson_id: str, asked: LessonAsked) -> LessonView:
    """Records the lesson's picture and begins. Raises NotFoundError, DocumentError without a name."""
    known, person = _known(lesson_id), asked.person.strip()
    if not person:
        raise DocumentError("A lesson needs a name", place="person", kept="Nothing was begun")
    seed = asked.seed if asked.seed is not None else random.randrange(1_000_000_000)
    picture = lesson_picture(lesson_id, seed)
    car = BlindCar(
        seed=seed,
        engine=picture.engine,
        vehicle=known.title,
        make_model="",
        hidden=Hidden(fault="none"),
        told=JobDocument.model_validate({"schema": "phasko.job/1"}),
    )
    made = Attempt(kind="lesson", person=person, topic=known.topic, lesson=lesson_id)
    view = open_attempt(database, made, car)
    import_capture(database, view.job_id, _files(picture))
    return lesson_view(database, view.job_id)


def _files(picture: LessonPicture) -> CaptureFiles:
    described, data = f"{picture.name}.capture.json", f"{picture.name}.csv"
    return CaptureFiles(described, picture.files[described], data, picture.files[data])


def lesson_view(database: Database, job_id: int) -> LessonView:
    """How it stands; the truth only of what was answered. Raises NotFoundError for a job that is no lesson."""
    with database.reading() as session:
        attempt = attempt_of(session, job_id)
        if attempt.kind != "lesson":
            raise NotFoundError("This is no lesson")
        seed = car_of(attempt).seed
        own = captures.measurable_captures(session, job_id)
        capture_id = own[0].id if own else 0
        given: dict[str, float] = json.loads(attempt.outcome) if attempt.outcome else {}
    known, picture = _known(attempt.lesson), lesson_picture(attempt.lesson, seed)
    words = dict(picture.words)
    asked = []
    for one in known.asked:
        line = AskedOut(id=one.id, words=one.words.format(**words), unit=one.unit, tolerance=one.tolerance)
        if one.id in given:
            mark = marked(one, given[one.id], picture.truth[one.id])
            line = line.model_copy(update={"answer": given[one.id], "right": mark.right, "said": mark.words})
        asked.append(line)
    ended = attempt.ended_at is not None
    return LessonView(
        job_id=job_id,
        capture_id=capture_id,
        lesson=known.id,
        title=known.title,
        topic=topic(known.topic).title,
        trap=known.trap,
        text=[one.format(**words) for one in known.text],
        how=[one.format(**words) for one in known.how],
        asked=asked,
        after=known.after.format(**words) if ended else "",
        points=attempt.points,
        person=attempt.person,
    )


def answer_lesson(database: Database, job_id: int, given: Answers) -> LessonView:
    """Marks the answers and ends the lesson: every right one is its share of a hundred points. Raises NotFoundError,
    RefusedError once it was answered, DocumentError where one is missing."""
    with database.reading() as session:
        attempt = attempt_of(session, job_id)
        check_open(attempt)
        seed = car_of(attempt).seed
    known, picture = _known(attempt.lesson), lesson_picture(attempt.lesson, seed)
    missing = [one.words.format(**picture.words) for one in known.asked if one.id not in given.answers]
    if missing:
        raise DocumentError(f"Still to answer: {missing[0]}", kept="Nothing was marked")
    right = sum(marked(one, given.answers[one.id], picture.truth[one.id]).right for one in known.asked)
    with database.transaction() as session:
        end(attempt_of(session, job_id), json.dumps(given.answers), 100.0 * right / len(known.asked))
    return lesson_view(database, job_id)
