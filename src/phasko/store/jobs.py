"""Stored jobs, their vehicles and engine versions."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from phasko.core.errors import NotFoundError, OutdatedError
from phasko.store.models import EngineVersion, Job, Vehicle, utc_now

__all__ = [
    "add_job",
    "all_engine_versions",
    "all_jobs",
    "engine_version",
    "engine_versions",
    "forget_engine",
    "forget_job",
    "get_job",
    "jobs_with",
    "newest_engines",
    "remove_job",
    "restore_job",
    "store_engine",
]


def store_engine(
    session: Session, name: str, document: str, sha256: str, made_from: int | None = None
) -> EngineVersion:
    """The engine version with that content; a changed document becomes the next version under its name. Raises
    OutdatedError where it was ``made_from`` a version after which another one was stored."""
    same = session.scalar(select(EngineVersion).where(EngineVersion.name == name, EngineVersion.sha256 == sha256))
    if same is not None:
        return same
    newest = session.scalar(select(func.max(EngineVersion.version)).where(EngineVersion.name == name)) or 0
    if made_from is not None and made_from != newest:
        raise OutdatedError(
            f"Version {newest} of {name} was stored meanwhile", changed=("engine profile",), version=newest
        )
    made = EngineVersion(name=name, version=newest + 1, sha256=sha256, document=document)
    session.add(made)
    session.flush()
    return made


def newest_engines(session: Session) -> Sequence[EngineVersion]:
    """The newest version of every engine profile, by name."""
    newest = select(EngineVersion.name, func.max(EngineVersion.version).label("v")).group_by(EngineVersion.name)
    of = newest.subquery()
    joined = select(EngineVersion).join(of, (EngineVersion.name == of.c.name) & (EngineVersion.version == of.c.v))
    return session.scalars(joined.order_by(EngineVersion.name)).all()


def all_engine_versions(session: Session) -> Sequence[EngineVersion]:
    """Every version of every profile, in the order in which they were stored."""
    return session.scalars(select(EngineVersion).order_by(EngineVersion.id)).all()


def engine_version(session: Session, engine_version_id: int) -> EngineVersion:
    found = session.get(EngineVersion, engine_version_id)
    if found is None:
        raise NotFoundError(f"There is no engine profile number {engine_version_id}")
    return found


def engine_versions(session: Session, name: str) -> Sequence[EngineVersion]:
    """Every version under that name, the newest first."""
    of = select(EngineVersion).where(EngineVersion.name == name)
    return session.scalars(of.order_by(EngineVersion.version.desc())).all()


def forget_engine(session: Session, name: str) -> None:
    """Removes every version of a profile."""
    for version in engine_versions(session, name):
        session.delete(version)


def jobs_with(session: Session, name: str) -> Sequence[Job]:
    """Jobs that are read with any version of the profile of that name."""
    return session.scalars(
        select(Job).join(Job.engine_version).where(EngineVersion.name == name).order_by(Job.id)
    ).all()


def add_job(session: Session, vehicle: str, make_model: str, complaint: str, codes: str, engine_id: int) -> Job:
    job = Job(
        vehicle=Vehicle(name=vehicle, make_model=make_model),
        engine_version=engine_version(session, engine_id),
        complaint=complaint,
        codes=codes,
    )
    session.add(job)
    session.flush()
    return job


def forget_job(session: Session, job_id: int) -> None:
    """Removes a job that holds nothing yet, and its vehicle. Raises NotFoundError."""
    job = get_job(session, job_id)
    session.delete(job)
    session.flush()
    session.delete(job.vehicle)


def get_job(session: Session, job_id: int) -> Job:
    """Raises NotFoundError."""
    found = session.get(Job, job_id)
    if found is None:
        raise NotFoundError(f"There is no job number {job_id}", remedy="It may have been opened from an old link.")
    return found


def all_jobs(session: Session) -> Sequence[Job]:
    """All jobs but those that were taken out, the newest last."""
    return session.scalars(select(Job).where(Job.removed_at.is_(None)).order_by(Job.id)).all()


def remove_job(session: Session, job_id: int) -> Job:
    """Takes it off the board with everything in it, so that it can come back. Raises NotFoundError."""
    job = get_job(session, job_id)
    job.removed_at = job.removed_at or utc_now()
    return job


def restore_job(session: Session, job_id: int) -> Job:
    """Undoes ``remove_job``. Raises NotFoundError."""
    job = get_job(session, job_id)
    job.removed_at = None
    return job
