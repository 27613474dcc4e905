"""Opening jobs, and which engine profile they are read with."""

from __future__ import annotations

import json
from contextlib import suppress
from itertools import chain, count
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from phasko.core.documents import EngineProfile, parse_document
from phasko.core.engine.firing_words import firing_order_of
from phasko.core.errors import DocumentError, RefusedError
from phasko.core.phase.learning import learnt_profile
from phasko.jobs.engine_profiles import EngineSummary, engine_summary, engines, save_engine
from phasko.jobs.measured import measured_capture
from phasko.jobs.preparing.job_defaults import begun_document
from phasko.jobs.preparing.planned import HookUpNote, hook_up_note
from phasko.jobs.told import job_told, kept_document
from phasko.store import Database, captures, jobs
from phasko.store.audit import check_version
from phasko.store.models import Job

__all__ = [
    "JobSummary",
    "NewEngine",
    "engine_for",
    "open_job",
    "put_engine",
    "remove_job",
    "rename_job",
    "restore_job",
    "save_learnt_engine",
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
    version: int
    removed_at: str | None
    holder: str
    waiting_for: str
    repaired_at: str | None
    closed_at: str | None
    cause: str | None
    hook_up: HookUpNote = HookUpNote()


def open_job(
    database: Database, *, vehicle: str, make_model: str, complaint: str, codes: list[str], engine_id: int
) -> JobSummary:
    """Opens a job, with the limit and the costs that the workshop's jobs begin with. Raises DocumentError without a
    vehicle, NotFoundError without that engine."""
    _check_vehicle(vehicle, "Nothing was opened")
    with database.transaction() as session:
        words = " ".join(code.strip().upper() for code in codes if code.strip())
        job = jobs.add_job(session, vehicle.strip(), make_model.strip(), complaint.strip(), words, engine_id)
        begun = begun_document(session)
        if begun is not None:
            job.told = kept_document(begun)
        return summary_of(job)


class NewEngine(BaseModel):
    """The least that an engine needs: cylinders and firing order; everything else is learnt or filled in later. Without
    a name it is called after the vehicle."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    name: Annotated[str, Field(max_length=150)] = ""
    cylinders: Annotated[int, Field(ge=1, le=16)]
    firing_order: Annotated[str, Field(min_length=1, max_length=120)]


def engine_for(database: Database, new: NewEngine, vehicle: str) -> EngineSummary:
    """Stores a profile that knows nothing but cylinders and firing order; the kind of its sensors is read off their
    signals. Under a name that exists a number is added: it is another engine. Raises DocumentError."""
    _check_vehicle(vehicle, "Nothing was opened")
    order = firing_order_of(new.firing_order, new.cylinders)
    wanted = new.name.strip() or f"Engine of {vehicle.strip()}"
    taken = {engine.name for engine in engines(database)}
    numbered = (f"{wanted}, {k}" for k in count(2))
    name = next(n for n in chain([wanted], numbered) if n not in taken)
    document = {
        "schema": "phasko.engine/1",
        "name": name,
        "cylinders": new.cylinders,
        "firing_order": order,
        "crank": {"sensor": "unknown"},
    }
    return save_engine(database, json.dumps(document, indent=1).encode(), name)


def show_job(database: Database, job_id: int) -> JobSummary:
    """Raises NotFoundError."""
    with database.reading() as session:
        return summary_of(jobs.get_job(session, job_id))


def put_engine(database: Database, job_id: int, engine_id: int, made_from: int | None = None) -> JobSummary:
    """Reads the job with that version of a profile from now on; its older results stay stored. Raises NotFoundError,
    and OutdatedError where it was chosen from an older version of the job."""
    with database.transaction() as session:
        job = jobs.get_job(session, job_id)
        check_version(session, job, made_from, {"engine profile"})
        job.engine_version = jobs.engine_version(session, engine_id)
        session.flush()
        return summary_of(job)


def rename_job(database: Database, job_id: int, vehicle: str, make_model: str) -> JobSummary:
    """Another name of the vehicle, or of its make and model. Raises NotFoundError, and DocumentError without a name."""
    _check_vehicle(vehicle, "The name is as it was")
    with database.transaction() as session:
        job = jobs.get_job(session, job_id)
        job.vehicle.name, job.vehicle.make_model = vehicle.strip(), make_model.strip()
        session.flush()
        return summary_of(job)


def _check_vehicle(vehicle: str, kept: str) -> None:
    if not vehicle.strip():
        raise DocumentError(
            "A job needs a vehicle", place="vehicle", kept=kept, remedy="Give it the name the pool knows it by."
        )


def remove_job(database: Database, job_id: int) -> None:
    """Takes a job off the board; ``restore_job`` brings it back whole. Raises NotFoundError."""
    with database.transaction() as session:
        jobs.remove_job(session, job_id)


def restore_job(database: Database, job_id: int) -> JobSummary:
    """Undoes ``remove_job``. Raises NotFoundError."""
    with database.transaction() as session:
        return summary_of(jobs.restore_job(session, job_id))


def summary_of(job: Job) -> JobSummary:
    version = job.engine_version
    interference, note = None, HookUpNote()
    # The job is listed all the same where its profile or document cannot be read; what needs them says so.
    with suppress(DocumentError):
        profile = parse_document(version.document, EngineProfile, version.name)
        interference = profile.interference
        note = hook_up_note(profile, job_told(job))
    return JobSummary(
        id=job.id,
        vehicle=job.vehicle.name,
        make_model=job.vehicle.make_model,
        complaint=job.complaint,
        codes=job.codes.split(),
        engine=engine_summary(version),
        interference=interference,
        created_at=job.created_at,
        version=job.version,
        removed_at=job.removed_at,
        holder=job.holder,
        waiting_for=job.waiting_for,
        repaired_at=job.repaired_at,
        closed_at=job.closed_at,
        cause=job.cause,
        hook_up=note,
    )


def save_learnt_engine(database: Database, capture_id: int, name: str) -> EngineSummary:
    """Stores a new profile under ``name`` with the wheel and cam patterns that this capture showed, and moves the job
    to it. The index is left out: no crank or cam signal tells it. Raises NotFoundError, and RefusedError where the
    capture taught nothing that its profile did not say.
    """
    measured, profile = measured_capture(database, capture_id)
    if measured.learnt is None or (measured.learnt.wheel is None and not measured.learnt.cams):
        raise RefusedError("This capture taught nothing that the engine profile does not say already")
    made = learnt_profile(profile, measured.learnt, name.strip() or f"{profile.name}, learnt", measured.recording.file)
    saved = save_engine(database, made.model_dump_json(by_alias=True, exclude_none=True).encode(), made.name)
    with database.transaction() as session:
        capture = captures.get_capture(session, capture_id)
        jobs.get_job(session, capture.job_id).engine_version_id = saved.id
    return saved
