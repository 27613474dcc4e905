"""Stored looks and road tests of a job; what is taken out stays and can come back."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TypeVar

from sqlalchemy import select
from sqlalchemy.orm import Session, undefer

from phasko.core.errors import ConflictError, NotFoundError
from phasko.store.models import Look, RoadTest, utc_now

__all__ = ["add_look", "add_road_test", "looks_of", "removed", "restored", "road_test_names", "road_tests_of"]

Kept = TypeVar("Kept", Look, RoadTest)


def looks_of(session: Session, job_id: int) -> Sequence[Look]:
    """Those that stand, oldest first."""
    return session.scalars(select(Look).where(Look.job_id == job_id, Look.removed_at.is_(None)).order_by(Look.id)).all()


def add_look(session: Session, job_id: int, document: str) -> Look:
    made = Look(job_id=job_id, document=document)
    session.add(made)
    session.flush()
    return made


def road_tests_of(session: Session, job_id: int) -> Sequence[RoadTest]:
    """Those that stand, with their bytes, oldest first."""
    standing = select(RoadTest).where(RoadTest.job_id == job_id, RoadTest.removed_at.is_(None)).order_by(RoadTest.id)
    return session.scalars(standing.options(undefer(RoadTest.data))).all()


def road_test_names(session: Session, job_id: int) -> Sequence[str]:
    """Names of those that stand, oldest first."""
    standing = select(RoadTest.name).where(RoadTest.job_id == job_id, RoadTest.removed_at.is_(None))
    return session.scalars(standing.order_by(RoadTest.id)).all()


def add_road_test(session: Session, job_id: int, name: str, sha256: str, data: bytes) -> RoadTest:
    """Raises ConflictError for a log that the job has already; one that was taken out comes back."""
    same = session.scalar(select(RoadTest).where(RoadTest.job_id == job_id, RoadTest.sha256 == sha256))
    if same is not None and same.removed_at is None:
        raise ConflictError(f"This log is already in the job, as {same.name}", kept="Nothing was stored twice")
    if same is not None:
        same.removed_at = None
        return same
    made = RoadTest(job_id=job_id, name=name, sha256=sha256, data=data)
    session.add(made)
    session.flush()
    return made


def removed(session: Session, kind: type[Kept], number: int) -> Kept:
    """Takes it out; raises NotFoundError."""
    found = _get(session, kind, number)
    found.removed_at = utc_now()
    return found


def restored(session: Session, kind: type[Kept], number: int) -> Kept:
    """Brings it back; raises NotFoundError."""
    found = _get(session, kind, number)
    found.removed_at = None
    return found


def _get(session: Session, kind: type[Kept], number: int) -> Kept:
    found = session.get(kind, number)
    if found is None:
        raise NotFoundError("There is no such entry in this workshop")
    return found
