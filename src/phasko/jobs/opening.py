"""Opening jobs and keeping engine profiles."""

from __future__ import annotations

import hashlib

from pydantic import BaseModel, ConfigDict

from phasko.core.documents import EngineProfile, parse_document
from phasko.core.errors import DocumentError
from phasko.store import Database, jobs
from phasko.store.models import EngineVersion, Job

__all__ = [
    "EngineSummary",
    "JobSummary",
    "engine_profile",
    "engines",
    "open_job",
    "save_engine",
    "show_job",
    "summary_of",
]


class EngineSummary(BaseModel):
    """One engine profile as a list shows it."""

    model_config = ConfigDict(frozen=True)
    id: int
    name: str
    version: int


class JobSummary(BaseModel):
    """A job's own words and its engine."""

    model_config = ConfigDict(frozen=True)
    id: int
    vehicle: str
    make_model: str
    complaint: str
    codes: list[str]
    engine: EngineSummary
    interference: bool | None
    created_at: str


def save_engine(database: Database, document: bytes, place: str) -> EngineSummary:
    """Checks a profile and stores it as the newest version under its name. Raises DocumentError."""
    profile = parse_document(document, EngineProfile, place)
    text = document.decode("utf-8")
    with database.transaction() as session:
        stored = jobs.store_engine(session, profile.name, text, hashlib.sha256(document).hexdigest())
        return _engine(stored)


def engines(database: Database) -> list[EngineSummary]:
    """The newest version of every profile, by name."""
    with database.transaction() as session:
        return [_engine(version) for version in jobs.newest_engines(session)]


def engine_profile(database: Database, engine_id: int) -> EngineProfile:
    """One stored version of a profile. Raises NotFoundError."""
    with database.transaction() as session:
        version = jobs.engine_version(session, engine_id)
    return parse_document(version.document, EngineProfile, version.name)


def open_job(
    database: Database, *, vehicle: str, make_model: str, complaint: str, codes: list[str], engine_id: int
) -> JobSummary:
    """Opens a job. Raises DocumentError without a vehicle, NotFoundError without that engine."""
    if not vehicle.strip():
        raise DocumentError(
            "A job needs a vehicle",
            place="vehicle",
            kept="Nothing was opened",
            remedy="Give it the name the pool knows it by.",
        )
    with database.transaction() as session:
        words = " ".join(code.strip().upper() for code in codes if code.strip())
        job = jobs.add_job(session, vehicle.strip(), make_model.strip(), complaint.strip(), words, engine_id)
        return summary_of(job)


def show_job(database: Database, job_id: int) -> JobSummary:
    """Raises NotFoundError."""
    with database.transaction() as session:
        return summary_of(jobs.get_job(session, job_id))


def summary_of(job: Job) -> JobSummary:
    version = job.engine_version
    profile = parse_document(version.document, EngineProfile, version.name)
    return JobSummary(
        id=job.id,
        vehicle=job.vehicle.name,
        make_model=job.vehicle.make_model,
        complaint=job.complaint,
        codes=job.codes.split(),
        engine=_engine(version),
        interference=profile.interference,
        created_at=job.created_at,
    )


def _engine(version: EngineVersion) -> EngineSummary:
    return EngineSummary(id=version.id, name=version.name, version=version.version)
