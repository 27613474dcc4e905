"""Jobs: the board, one job, its call."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Response
from pydantic import BaseModel, ConfigDict, Field

from phasko.core.documents import Analysis
from phasko.core.documents.job import JobDocument
from phasko.core.errors import DocumentError, NotFoundError
from phasko.core.why import Why
from phasko.jobs import analysing, opening
from phasko.jobs.analysing import JobAnalysis
from phasko.jobs.board import BoardRow, board
from phasko.jobs.opening import JobSummary, NewEngine
from phasko.jobs.told import tell, told_document
from phasko.web.errors import OUTDATED
from phasko.web.workshop import DatabaseOf, MadeFrom, tag

router = APIRouter(prefix="/api/jobs", tags=["jobs"])


class NewJob(BaseModel):
    model_config = ConfigDict(extra="forbid")
    vehicle: str = Field(max_length=200)
    make_model: str = Field(default="", max_length=200)
    complaint: str = Field(default="", max_length=4000)
    codes: list[Annotated[str, Field(max_length=40)]] = Field(default_factory=list, max_length=50)
    engine_id: int | None = None
    new_engine: NewEngine | None = None


@router.get("")
def get_board(database: DatabaseOf) -> list[BoardRow]:
    return board(database)


@router.post("", status_code=201)
def open_job(body: NewJob, database: DatabaseOf) -> JobSummary:
    """With an engine that is here, or with a new one of which nothing is known but cylinders and firing order."""
    if (body.engine_id is None) == (body.new_engine is None):
        raise DocumentError("needs an engine: choose one, or tell cylinders and firing order", place="Engine")
    engine_id = body.engine_id
    if body.new_engine is not None:
        engine_id = opening.engine_for(database, body.new_engine, body.vehicle).id
    assert engine_id is not None
    return opening.open_job(
        database,
        vehicle=body.vehicle,
        make_model=body.make_model,
        complaint=body.complaint,
        codes=body.codes,
        engine_id=engine_id,
    )


@router.get("/{job_id}")
def get_job(job_id: int, database: DatabaseOf) -> JobSummary:
    return opening.show_job(database, job_id)


@router.get("/{job_id}/document", response_model_exclude_none=True)
def get_document(job_id: int, database: DatabaseOf, response: Response) -> JobDocument:
    """What a person knows of the job, as the public document that the command line reads. Its ETag is the version of
    the job; sent back as If-Match it keeps a change from going over somebody else's."""
    told = told_document(database, job_id)
    tag(response, told.version)
    return told.document


@router.put("/{job_id}/document", response_model_exclude_none=True, responses=OUTDATED)
def put_document(
    job_id: int, body: JobDocument, database: DatabaseOf, made_from: MadeFrom, response: Response
) -> JobDocument:
    """Keeps what was told; looks and road tests in it are left alone, they have their own ways in."""
    told = tell(database, job_id, body, made_from)
    tag(response, told.version)
    return told.document


class Named(BaseModel):
    model_config = ConfigDict(extra="forbid")
    vehicle: str = Field(max_length=200)
    make_model: str = Field(default="", max_length=200)


@router.put("/{job_id}/vehicle")
def put_vehicle(job_id: int, body: Named, database: DatabaseOf) -> JobSummary:
    """Another name of the vehicle, its make and model."""
    return opening.rename_job(database, job_id, body.vehicle, body.make_model)


class ReadWith(BaseModel):
    model_config = ConfigDict(extra="forbid")
    engine_id: int


@router.put("/{job_id}/engine", responses=OUTDATED)
def put_engine(job_id: int, body: ReadWith, database: DatabaseOf, made_from: MadeFrom) -> JobSummary:
    """Another profile, or another version of it, for this job; its captures are read anew."""
    return opening.put_engine(database, job_id, body.engine_id, made_from)


@router.delete("/{job_id}", status_code=204)
def remove_job(job_id: int, database: DatabaseOf) -> None:
    """Takes the job off the board; everything in it stays and can be brought back."""
    opening.remove_job(database, job_id)


@router.post("/{job_id}/restoration")
def restore_job(job_id: int, database: DatabaseOf) -> JobSummary:
    return opening.restore_job(database, job_id)


@router.get("/{job_id}/analysis")
def get_analysis(job_id: int, database: DatabaseOf) -> JobAnalysis | None:
    """The result with the numbers of the captures it speaks about; null while the job has no captures."""
    return analysing.analyse_stored_job(database, job_id)


@router.get("/{job_id}/why")
def get_why(job_id: int, database: DatabaseOf) -> list[Why]:
    """Formula, parts, source and cycles of every number that judges."""
    return analysing.job_whys(database, job_id)


@router.get("/{job_id}/result", response_model_exclude_none=False)
def get_result(job_id: int, database: DatabaseOf) -> Analysis:
    """The result document alone, the same as the command line gives."""
    analysed = analysing.analyse_stored_job(database, job_id)
    if analysed is None:
        raise NotFoundError("This job has no captures yet", remedy="Add one first.")
    return analysed.analysis
