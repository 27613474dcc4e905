"""Look and listen, road tests."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, File, UploadFile

from phasko.core.looks import Look
from phasko.jobs import looking, road_testing
from phasko.jobs.looking import Looking
from phasko.jobs.road_testing import RoadTestView
from phasko.web.workshop import DatabaseOf

router = APIRouter(prefix="/api", tags=["looking"])


@router.get("/jobs/{job_id}/looks")
def get_looks(job_id: int, database: DatabaseOf) -> Looking:
    return looking.look_and_listen(database, job_id)


@router.post("/jobs/{job_id}/looks", status_code=201)
def add_look(job_id: int, body: Look, database: DatabaseOf) -> Looking:
    """Notes an answer or a reading; one about the same thing noted before makes way."""
    return looking.note_look(database, job_id, body)


@router.delete("/looks/{look_id}")
def forget_look(look_id: int, database: DatabaseOf) -> Looking:
    return looking.forget_look(database, look_id)


@router.post("/looks/{look_id}/restoration")
def restore_look(look_id: int, database: DatabaseOf) -> Looking:
    return looking.restore_look(database, look_id)


@router.get("/jobs/{job_id}/road-tests")
def get_road_tests(job_id: int, database: DatabaseOf) -> list[RoadTestView]:
    return road_testing.road_tests(database, job_id)


@router.post("/jobs/{job_id}/road-tests", status_code=201)
def add_road_test(job_id: int, log: Annotated[UploadFile, File()], database: DatabaseOf) -> list[RoadTestView]:
    """A scan tool's log (CSV)."""
    return road_testing.add_road_test(database, job_id, log.filename or "log.csv", log.file.read())


@router.delete("/road-tests/{road_test_id}")
def remove_road_test(road_test_id: int, database: DatabaseOf) -> list[RoadTestView]:
    return road_testing.remove_road_test(database, road_test_id)


@router.post("/road-tests/{road_test_id}/restoration")
def restore_road_test(road_test_id: int, database: DatabaseOf) -> list[RoadTestView]:
    return road_testing.restore_road_test(database, road_test_id)
