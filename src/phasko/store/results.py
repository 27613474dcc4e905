"""Stored results: written once, found again by their key."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import asdict, dataclass

from sqlalchemy import func, or_, select, update
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session

from phasko.store.models import Job, Result

__all__ = [
    "NewResult",
    "called_otherwise",
    "find_result",
    "jobs_called_after",
    "let_stand",
    "newest_number",
    "newest_result",
    "result_key",
    "results_of",
    "standing_result",
    "store_result",
]


@dataclass(frozen=True, slots=True, kw_only=True)
class NewResult:
    """A result to be stored: its document with the head that lists show, the key of all it rests on, the key of the
    same without the ``software`` and its ``numbers`` that made it; ``standing`` unless it waits to be taken over."""

    job_id: int
    key: str
    document: str
    head: str = ""
    rests: str = ""
    software: str = ""
    numbers: str = ""
    standing: bool = True


def result_key(job_id: int, captures: Sequence[str], engine: str, numbers: str, software: str) -> str:
    """Hash over all a result depends on: captures and profile by content, number table by
    content, software by version."""
    parts = [str(job_id), *captures, engine, numbers, software]
    return hashlib.sha256("\n".join(parts).encode()).hexdigest()


def find_result(session: Session, key: str) -> Result | None:
    return session.scalar(select(Result).where(Result.key == key))


def newest_result(session: Session, job_id: int) -> Result | None:
    """The last result of a job that stands, whether or not it is stale by now."""
    own = select(Result).where(Result.job_id == job_id, Result.standing)
    return session.scalar(own.order_by(Result.id.desc()).limit(1))


def standing_result(session: Session, job_id: int, rests: str) -> Result | None:
    """The last result that stands and rests on the same, whichever version made it."""
    own = select(Result).where(Result.job_id == job_id, Result.rests == rests, Result.standing)
    return session.scalar(own.order_by(Result.id.desc()).limit(1))


def called_otherwise(session: Session, software: str, numbers: str) -> Sequence[Job]:
    """Jobs, not taken out, whose last standing result was made by another version or with other numbers; the newest
    first. Results of versions that kept neither are read anew by themselves."""
    last = select(func.max(Result.id)).where(Result.job_id == Job.id, Result.standing).correlate(Job).scalar_subquery()
    other = or_(Result.software != software, Result.numbers != numbers)
    asked = select(Job).join(Result, Result.id == last).where(Job.removed_at.is_(None), Result.rests != "", other)
    return session.scalars(asked.order_by(Job.id.desc())).all()


def results_of(session: Session, job_id: int) -> Sequence[Result]:
    """All results of a job, the newest first; what was once shown stays."""
    return session.scalars(select(Result).where(Result.job_id == job_id).order_by(Result.id.desc())).all()


def let_stand(session: Session, key: str) -> bool:
    """Shows the result of that key from now on; whether there was one that waited."""
    held = find_result(session, key)
    if held is None or held.standing:
        return False
    held.standing = True
    # The search reads a job's words from the result that stands.
    session.execute(update(Job).where(Job.id == held.job_id).values(indexed=False))
    return True


def newest_number(session: Session) -> int:
    """The number of the last result of any job; 0 before the first."""
    return session.scalar(select(func.max(Result.id))) or 0


def jobs_called_after(session: Session, number: int) -> dict[int, int]:
    """The results after that number, each with its job."""
    return {row.id: row.job_id for row in session.execute(select(Result.id, Result.job_id).where(Result.id > number))}


def store_result(session: Session, new: NewResult) -> Result:
    """Stores it unless another tab was faster; the first one stays. One that waited stands once it is stored to."""
    session.execute(insert(Result).values(**asdict(new)).on_conflict_do_nothing())
    held = find_result(session, new.key)
    assert held is not None
    held.standing = held.standing or new.standing
    return held
