"""Opening jobs, and which engine profile they are read with."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from phasko.core.documents import EngineProfile, parse_document
from phasko.core.errors import DocumentError
from phasko.jobs.engine_profiles import EngineSummary, engine_summary
from phasko.store import Database, jobs
from phasko.store.models import Job

__all__ = [
    "JobSummary",
    "open_job",
    "put_engine",
    "show_job",
    "summary_of",
]


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


def put_engine(database: Database, job_id: int, engine_id: int) -> JobSummary:
    """Reads the job with that version of a profile from now on; its older results stay stored. Raises NotFoundError."""
    with database.transaction() as session:
        job = jobs.get_job(session, job_id)
        job.engine_version = jobs.engine_version(session, engine_id)
        session.flush()
        return summary_of(job)


def summary_of(job: Job) -> JobSummary:
    version = job.engine_version
    try:
        interference = parse_document(version.document, EngineProfile, version.name).interference
    except DocumentError:
        # The job is listed all the same; what needs its profile says that it cannot be read.
        interference = None
    return JobSummary(
        id=job.id,
        vehicle=job.vehicle.name,
        make_model=job.vehicle.make_model,
        complaint=job.complaint,
        codes=job.codes.split(),
        engine=engine_summary(version),
        interference=interference,
        created_at=job.created_at,
    )
