"""What a measurement is compared with: the library of known goods, what it teaches a profile; and sweeps of phasers."""

from __future__ import annotations

from typing import Annotated
from urllib.parse import quote

from fastapi import APIRouter, File, Response, UploadFile
from pydantic import BaseModel, ConfigDict, Field

from phasko.core.documents.capture import Command, HowGood, KnownGoodOf
from phasko.core.phasers import SweepPicture
from phasko.jobs import library
from phasko.jobs.analysing import note_commands, phaser_sweeps
from phasko.jobs.captures import ImportedCapture
from phasko.jobs.engine_profiles import EngineSummary
from phasko.jobs.library.known_good import KnownGoodLibrary
from phasko.jobs.library.refining import EngineProposal
from phasko.jobs.opening import JobSummary
from phasko.web.errors import OUTDATED
from phasko.web.workshop import DatabaseOf, MadeFrom

router = APIRouter(prefix="/api", tags=["standards"])


class KnownGood(BaseModel):
    """Whether a capture is of a sound engine, with which others of its kind are compared; how that is known, and in
    whose words."""

    model_config = ConfigDict(extra="forbid")
    good: bool
    how: HowGood = "said"
    note: Annotated[str, Field(max_length=300)] = ""


@router.put("/captures/{capture_id}/known-good", responses=OUTDATED)
def put_known_good(capture_id: int, body: KnownGood, database: DatabaseOf, made_from: MadeFrom) -> ImportedCapture:
    about = KnownGoodOf(how=body.how, note=body.note) if body.good else None
    return library.keep_as_known_good(database, capture_id, about, made_from)


@router.get("/jobs/{job_id}/known-good")
def get_library(job_id: int, database: DatabaseOf) -> KnownGoodLibrary:
    """The known good captures of the job's kind of engine, and which of them it is compared with."""
    return library.library_of_job(database, job_id)


@router.get("/captures/{capture_id}/sweeps")
def get_sweeps(capture_id: int, database: DatabaseOf) -> list[SweepPicture]:
    """Every phaser that was driven in the capture, as a picture."""
    return phaser_sweeps(database, capture_id)


class Commands(BaseModel):
    """When a scan tool drove which phaser, on the capture's own clock."""

    model_config = ConfigDict(extra="forbid")
    commands: Annotated[list[Command], Field(max_length=200)]


@router.put("/captures/{capture_id}/commands", responses=OUTDATED)
def put_commands(capture_id: int, body: Commands, database: DatabaseOf, made_from: MadeFrom) -> ImportedCapture:
    return note_commands(database, capture_id, body.commands, made_from)


@router.get("/engines/{engine_id}/proposal")
def get_proposal(engine_id: int, database: DatabaseOf) -> EngineProposal:
    """What the known good engines of this kind say beyond the profile."""
    return library.proposal_for(database, engine_id)


class Accepted(BaseModel):
    """Which parts of a proposal are taken over: cams by id, ``index``."""

    model_config = ConfigDict(extra="forbid")
    keep: Annotated[list[Annotated[str, Field(max_length=60)]], Field(min_length=1, max_length=50)]


@router.post("/engines/{engine_id}/proposal", status_code=201, responses=OUTDATED)
def post_proposal(engine_id: int, body: Accepted, database: DatabaseOf, made_from: MadeFrom) -> EngineSummary:
    """Stores the profile with what was accepted as its next version."""
    return library.accept_proposal(database, engine_id, body.keep, made_from)


@router.get("/engines/{engine_id}/library", response_class=Response)
def get_engine_library(engine_id: int, database: DatabaseOf) -> Response:
    """Every known good capture of this engine in one file, without anything about the owners."""
    name, content = library.export_library(database, engine_id)
    disposition = f"attachment; filename*=UTF-8''{quote(name)}"
    return Response(content, media_type="application/zip", headers={"content-disposition": disposition})


@router.post("/libraries", status_code=201)
def post_library(file: Annotated[UploadFile, File()], database: DatabaseOf) -> list[JobSummary]:
    """Takes a library in: every capture in a job of its own, kept as known good."""
    return library.import_library(database, file.filename or "library", file.file.read())
