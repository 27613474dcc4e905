"""Engine profiles: the list, one with its versions, a draft, a new version."""

from __future__ import annotations

from typing import Annotated
from urllib.parse import quote

from fastapi import APIRouter, File, Response, UploadFile
from pydantic import JsonValue

from phasko.core.documents import EngineProfile
from phasko.jobs import engine_profiles
from phasko.jobs.engine_profiles import DraftReading, EnginePage, EngineRow, EngineSummary
from phasko.web.errors import OUTDATED
from phasko.web.workshop import DatabaseOf, MadeFrom

router = APIRouter(prefix="/api/engines", tags=["engines"])


@router.get("")
def list_engines(database: DatabaseOf) -> list[EngineRow]:
    """The newest version of every profile, by name."""
    return engine_profiles.engine_rows(database)


@router.post("", status_code=201, responses=OUTDATED)
def add_engine(profile: Annotated[UploadFile, File()], database: DatabaseOf, made_from: MadeFrom) -> EngineSummary:
    """Stores a profile; under a name that exists it becomes the next version, older jobs keep theirs."""
    return engine_profiles.save_engine(database, profile.file.read(), profile.filename or "profile", made_from)


@router.post("/draft")
def read_draft(document: dict[str, JsonValue]) -> DraftReading:
    """Judges and draws a profile that is being written; stores nothing."""
    return engine_profiles.read_draft(document)


@router.get("/{engine_id}")
def get_engine(engine_id: int, database: DatabaseOf) -> EngineProfile:
    return engine_profiles.engine_profile(database, engine_id)


@router.delete("/{engine_id}", status_code=204)
def remove_engine(engine_id: int, database: DatabaseOf) -> None:
    """Removes the profile with all its versions; refused while any job is read with it."""
    engine_profiles.remove_engine(database, engine_id)


@router.get("/{engine_id}/page")
def get_engine_page(engine_id: int, database: DatabaseOf) -> EnginePage:
    """The profile with its drawing, all its versions and the jobs that use them."""
    return engine_profiles.engine_page(database, engine_id)


@router.get("/{engine_id}/file", response_class=Response)
def get_engine_file(engine_id: int, database: DatabaseOf) -> Response:
    """The profile as a file, the very bytes that were stored."""
    name, text = engine_profiles.engine_file(database, engine_id)
    disposition = f"attachment; filename*=UTF-8''{quote(name)}"
    return Response(text, media_type="application/json", headers={"content-disposition": disposition})
