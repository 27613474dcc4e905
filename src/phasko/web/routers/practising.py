"""Practice: cars with a hidden fault, tests that they answer, the learner's call and the truth."""

from __future__ import annotations

from typing import Annotated
from urllib.parse import quote

from fastapi import APIRouter, Query, Response

from phasko.jobs import practice
from phasko.jobs.practice import (
    Answers,
    AttemptView,
    Begin,
    BenchAsked,
    BenchEngine,
    BenchPicture,
    CallAsked,
    ForClass,
    ForMyself,
    LessonAsked,
    LessonLine,
    LessonView,
    LookAsked,
    PracticeHome,
    PutInClass,
    TruthView,
)
from phasko.web.workshop import PracticeOf

router = APIRouter(prefix="/api/practice", tags=["practice"])

Named = Annotated[str, Query(min_length=1, max_length=60)]


@router.get("")
def get_practice(database: PracticeOf, person: Named, class_name: Named) -> PracticeHome:
    """What somebody has done, and how it went."""
    return practice.practice_home(database, person, class_name)


@router.post("/cars", status_code=201)
def begin_car(body: Begin, database: PracticeOf) -> AttemptView:
    """Begins at a car of a class, or goes on with it."""
    return practice.begin_blind(database, body)


@router.get("/sheet", response_class=Response)
def get_class_sheet(database: PracticeOf, class_name: Named) -> Response:
    """Results of a class as CSV."""
    name = quote(f"practice-{class_name}.csv")
    headers = {"content-disposition": f"attachment; filename*=UTF-8''{name}"}
    return Response(practice.class_sheet(database, class_name), media_type="text/csv; charset=utf-8", headers=headers)


@router.get("/bench")
def get_bench() -> list[BenchEngine]:
    """Every engine of the pool, with its faults and what can be turned at them."""
    return practice.bench_engines()


@router.post("/bench/picture")
def picture_bench(body: BenchAsked) -> BenchPicture:
    """One cycle of a car as its sliders stand."""
    return practice.bench_picture(body)


@router.post("/bench/jobs", status_code=201)
def take_made_car(body: ForMyself, database: PracticeOf) -> AttemptView:
    """Makes a car by hand, and begins at it."""
    return practice.take_made(database, body)


@router.post("/bench/cars", status_code=201)
def put_car_in_class(body: ForClass, database: PracticeOf) -> PutInClass:
    """Makes a car by hand for everybody of a class."""
    return practice.put_in_class(database, body)


@router.get("/lessons")
def get_lessons() -> list[LessonLine]:
    """All lessons, in the order of the trade."""
    return practice.lessons()


@router.post("/lessons/{lesson}", status_code=201)
def begin_lesson(lesson: str, body: LessonAsked, database: PracticeOf) -> LessonView:
    """Records a lesson's picture, and begins it."""
    return practice.begin_lesson(database, lesson, body)


@router.get("/jobs/{job_id}/lesson")
def get_lesson(job_id: int, database: PracticeOf) -> LessonView:
    """A lesson that was begun."""
    return practice.lesson_view(database, job_id)


@router.post("/jobs/{job_id}/answers", status_code=201)
def answer_lesson(job_id: int, body: Answers, database: PracticeOf) -> LessonView:
    """Marks what was read."""
    return practice.answer_lesson(database, job_id, body)


@router.get("/jobs/{job_id}")
def get_attempt(job_id: int, database: PracticeOf) -> AttemptView:
    """Clock, bill, and what was done."""
    return practice.attempt_view(database, job_id)


@router.post("/jobs/{job_id}/looks", status_code=201)
def look_at_car(job_id: int, body: LookAsked, database: PracticeOf) -> AttemptView:
    """Looks, and the car answers."""
    return practice.look(database, job_id, body)


@router.post("/jobs/{job_id}/drive", status_code=201)
def drive_car(job_id: int, database: PracticeOf) -> AttemptView:
    """Drives it with the scan tool on."""
    return practice.drive(database, job_id)


@router.post("/jobs/{job_id}/call", status_code=201)
def call_car(job_id: int, body: CallAsked, database: PracticeOf) -> TruthView:
    """The learner's call, and then the truth."""
    return practice.make_call(database, job_id, body)


@router.get("/jobs/{job_id}/truth")
def get_truth(job_id: int, database: PracticeOf) -> TruthView:
    """What it was; only after the call."""
    return practice.truth(database, job_id)
