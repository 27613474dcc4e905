"""Engine profiles: the list, one document, a new version."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, File, UploadFile

from phasko.core.documents import EngineProfile
from phasko.jobs import opening
from phasko.jobs.opening import EngineSummary
from phasko.web.workshop import DatabaseOf

router = APIRouter(prefix="/api/engines", tags=["engines"])


@router.get("")
def list_engines(database: DatabaseOf) -> list[EngineSummary]:
    return opening.engines(database)


@router.post("", status_code=201)
def add_engine(profile: Annotated[UploadFile, File()], database: DatabaseOf) -> EngineSummary:
    """Stores a profile; under a name that exists it becomes the next version, older jobs keep theirs."""
    return opening.save_engine(database, profile.file.read(), profile.filename or "profile")


@router.get("/{engine_id}")
def get_engine(engine_id: int, database: DatabaseOf) -> EngineProfile:
    return opening.engine_profile(database, engine_id)
