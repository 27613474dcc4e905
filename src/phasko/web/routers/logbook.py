"""The logbook: found jobs, a vehicle's timeline, notes, who has it, copies, what closed jobs teach, carrying jobs."""

from __future__ import annotations

import mmap
import tempfile
from pathlib import Path
from typing import Annotated, Literal
from urllib.parse import quote

from fastapi import APIRouter, File, Query, Response, UploadFile
from fastapi.responses import FileResponse
from pydantic import BaseModel, ConfigDict, Field
from starlette.background import BackgroundTask

from phasko.core.documents.job import JobDocument
from phasko.formats import FileBytes
from phasko.jobs import progress
from phasko.jobs.board import LogbookPage, find_in_logbook
from phasko.jobs.captures import ImportedCapture, change_description
from phasko.jobs.carrying import TakenIn, export_jobs, import_jobs
from phasko.jobs.handing_over.workshop_name import WorkshopName, name_workshop, named_workshop
from phasko.jobs.logbook import closing
from phasko.jobs.logbook.copying import copy_job
from phasko.jobs.logbook.learning import Learning, learning, move_odds
from phasko.jobs.logbook.timeline import Timeline, timeline
from phasko.jobs.opening import JobSummary
from phasko.store.audit import NOBODY
from phasko.store.logbook import Asked
from phasko.web.workshop import DatabaseOf, LeadOf, PersonOf

router = APIRouter(prefix="/api", tags=["logbook"])

Day = Annotated[str, Field(pattern=r"^(\d{4}-\d{2}-\d{2})?$")]
Short = Annotated[str, Field(max_length=200)]


class Search(BaseModel):
    """Words, all of which occur, and filters; empty ones ask for every job."""

    model_config = ConfigDict(extra="forbid")
    text: Short = ""
    state: Literal["open", "closed", "every"] = "every"
    vehicle: Short = ""
    engine: Short = ""
    code: Annotated[str, Field(max_length=12)] = ""
    holder: Short = ""
    cause: Literal["", "confirmed", "refuted", "unknown"] = ""
    gate: Literal["", "go", "confirm_first", "no"] = ""
    since: Day = ""
    until: Day = ""
    begin: Annotated[int, Field(ge=0, le=1_000_000)] = 0
    most: Annotated[int, Field(ge=1, le=200)] = 50


@router.get("/logbook")
def get_logbook(database: DatabaseOf, search: Annotated[Search, Query()]) -> LogbookPage:
    """The jobs that were asked for, the newest first."""
    return find_in_logbook(database, Asked(**search.model_dump()))


@router.get("/jobs/{job_id}/timeline")
def get_timeline(job_id: int, database: DatabaseOf) -> Timeline:
    """Every job of the same vehicle, oldest first."""
    return timeline(database, job_id)


class NewNote(BaseModel):
    model_config = ConfigDict(extra="forbid")
    text: Annotated[str, Field(min_length=1, max_length=4000)]


@router.post("/jobs/{job_id}/notes", status_code=201, response_model_exclude_none=True)
def add_note(job_id: int, body: NewNote, database: DatabaseOf, person: PersonOf) -> JobDocument:
    by = "" if person.name == NOBODY else person.name
    return closing.add_note(database, job_id, body.text, by).document


class Desk(BaseModel):
    """Who has the job, and what it waits for."""

    model_config = ConfigDict(extra="forbid")
    holder: Annotated[str, Field(max_length=60)] = ""
    waiting_for: Annotated[str, Field(max_length=200)] = ""


@router.put("/jobs/{job_id}/desk", response_model_exclude_none=True)
def put_desk(job_id: int, body: Desk, database: DatabaseOf) -> JobDocument:
    return closing.hand_to(database, job_id, body.holder, body.waiting_for).document


class OfVehicle(BaseModel):
    """Of which vehicle the new job is; null: the same."""

    model_config = ConfigDict(extra="forbid")
    vehicle: Annotated[str, Field(max_length=200)] | None = None


@router.post("/jobs/{job_id}/copies", status_code=201)
def add_copy(job_id: int, body: OfVehicle, database: DatabaseOf) -> JobSummary:
    """A new job with this engine: wires, minutes, limit and costs come along, nothing that was measured."""
    return copy_job(database, job_id, body.vehicle)


class Title(BaseModel):
    model_config = ConfigDict(extra="forbid")
    title: Annotated[str, Field(max_length=120)]


@router.put("/captures/{capture_id}/title")
def put_title(capture_id: int, body: Title, database: DatabaseOf) -> ImportedCapture:
    """The name that a person gives a capture; empty: its file's name again."""
    return change_description(database, capture_id, {"title": body.title.strip()})


@router.get("/learning")
def get_learning(database: DatabaseOf) -> Learning:
    """Stated chances against what was found, of every closed job."""
    return learning(database)


class Moved(BaseModel):
    """Whether the workshop's own findings move the chances before measuring."""

    model_config = ConfigDict(extra="forbid")
    moved: bool


@router.put("/learning/odds")
def put_odds(body: Moved, database: DatabaseOf, lead: LeadOf) -> Learning:  # noqa: ARG001
    return move_odds(database, body.moved)


@router.get("/workshop-name")
def get_workshop_name(database: DatabaseOf) -> WorkshopName:
    return named_workshop(database)


@router.put("/workshop-name")
def put_workshop_name(body: WorkshopName, database: DatabaseOf, lead: LeadOf) -> WorkshopName:  # noqa: ARG001
    return name_workshop(database, body)


@router.get("/jobs/{job_id}/export", response_class=Response)
def get_job_export(job_id: int, database: DatabaseOf) -> Response:
    """One job with everything in it, and its hand-over, as open files in one zip."""
    return _archive(database, f"job-{job_id:04d}.jobs.zip", [job_id])


@router.get("/workshop/export", response_class=Response)
def get_workshop_export(database: DatabaseOf, lead: LeadOf) -> Response:  # noqa: ARG001
    """Every job and profile as open files in one zip."""
    return _archive(database, "workshop.jobs.zip", None)


def _archive(database: DatabaseOf, name: str, job_ids: list[int] | None) -> Response:
    """Written to the disk first, so that no archive lies in memory, and removed once it was sent."""
    with tempfile.NamedTemporaryFile(suffix=".zip", delete=False) as file:
        path = Path(file.name)
    export_jobs(database, path, job_ids)
    disposition = f"attachment; filename*=UTF-8''{quote(name)}"
    return FileResponse(
        path,
        media_type="application/zip",
        headers={"content-disposition": disposition},
        background=BackgroundTask(path.unlink, missing_ok=True),
    )


@router.post("/workshop/import", status_code=201)
def import_archive(archive: Annotated[UploadFile, File()], database: DatabaseOf) -> TakenIn:
    """Takes the jobs of an archive in; those that are here already are left alone."""
    with progress.in_line(progress.begin(None)):
        return import_jobs(database, archive.filename or "archive", _content(archive))


_MAPPED_FROM = 4 << 20


def _content(upload: UploadFile) -> FileBytes:
    if (upload.size or 0) < _MAPPED_FROM:
        return upload.file.read()
    return mmap.mmap(upload.file.fileno(), 0, access=mmap.ACCESS_READ)
