"""Attempts at practice cars and lessons, as they are stored."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from phasko.core.errors import NotFoundError
from phasko.store.models import Attempt

__all__ = ["attempt_of", "attempts_of_class", "attempts_of_person"]


def attempt_of(session: Session, job_id: int) -> Attempt:
    """The attempt that this job is done in. Raises NotFoundError."""
    found = session.scalar(select(Attempt).where(Attempt.job_id == job_id))
    if found is None:
        raise NotFoundError("This is no practice job", remedy="Begin one on the practice page.")
    return found


def attempts_of_person(session: Session, person: str) -> Sequence[Attempt]:
    """All of that person, the oldest first."""
    return session.scalars(select(Attempt).where(Attempt.person == person).order_by(Attempt.id)).all()


def attempts_of_class(session: Session, class_name: str) -> Sequence[Attempt]:
    """All of that class, by person and number."""
    asked = select(Attempt).where(Attempt.class_name == class_name)
    return session.scalars(asked.order_by(Attempt.person, Attempt.number, Attempt.id)).all()
