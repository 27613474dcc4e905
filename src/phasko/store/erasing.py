"""Erasing for good what was taken out: rows, bytes and results. The log keeps that it was done, and nothing of what
it was."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import delete, select, update
from sqlalchemy.orm import Session

from phasko.core.errors import ConflictError
from phasko.store.arriving import forget_capture
from phasko.store.audit import note
from phasko.store.captures import get_capture
from phasko.store.database import Database
from phasko.store.jobs import get_job
from phasko.store.logbook import forget_words
from phasko.store.models import Capture, Job, Look, Photo, Result, RoadTest, Vehicle

__all__ = ["erase_capture", "erase_job", "taken_out"]


def taken_out(session: Session) -> tuple[Sequence[Job], Sequence[Capture]]:
    """Jobs that were taken out, and captures that were taken out of jobs which were not, the newest first."""
    jobs = session.scalars(select(Job).where(Job.removed_at.is_not(None)).order_by(Job.removed_at.desc())).all()
    loose = (
        select(Capture)
        .join(Job, Job.id == Capture.job_id)
        .where(Capture.removed_at.is_not(None), Capture.arrived_at.is_not(None), Job.removed_at.is_(None))
        .order_by(Capture.removed_at.desc())
    )
    return jobs, session.scalars(loose).all()


def erase_capture(database: Database, capture_id: int) -> None:
    """Erases a capture that was taken out, and every result of its job, which may speak of it. From the first of its
    transactions on nobody sees it; a kill after that leaves the rest to the next start. Raises NotFoundError, and
    ConflictError for one that was not taken out first."""
    with database.transaction() as session:
        capture = get_capture(session, capture_id)
        if capture.removed_at is None:
            raise ConflictError(
                "This capture is still in its job", kept="Nothing was erased", remedy="Take it out of the job first."
            )
        _hide(session, capture.job_id, [capture_id])
        note(session, "erased", f"capture {capture_id}", job_id=capture.job_id, capture_id=capture_id)
    forget_capture(database, capture_id)
    with database.transaction() as session:
        forget_words(session)
    database.write_back()


def erase_job(database: Database, job_id: int) -> None:
    """Erases a job that was taken out, with its vehicle, captures, looks, drives and results; a kill in the middle
    leaves it taken out and empty. Raises NotFoundError, and ConflictError for one that was not taken out first."""
    with database.transaction() as session:
        job = get_job(session, job_id)
        if job.removed_at is None:
            raise ConflictError(
                "This job is still on the board", kept="Nothing was erased", remedy="Take it out first."
            )
        vehicle_id = job.vehicle_id
        own = session.scalars(select(Capture.id).where(Capture.job_id == job_id)).all()
        _hide(session, job_id, own)
        for table in (Look, RoadTest, Photo):
            session.execute(delete(table).where(table.job_id == job_id))
        note(session, "erased", f"job {job_id}", job_id=job_id)
    for capture_id in own:
        forget_capture(database, capture_id)
    with database.transaction() as session:
        session.execute(delete(Job).where(Job.id == job_id))
        session.execute(delete(Vehicle).where(Vehicle.id == vehicle_id))
        forget_words(session)
    database.write_back()


def _hide(session: Session, job_id: int, capture_ids: Sequence[int]) -> None:
    """As if they had never arrived; results of their job go with them."""
    session.execute(delete(Result).where(Result.job_id == job_id))
    session.execute(update(Capture).where(Capture.id.in_(capture_ids)).values(arrived_at=None))
