"""Stored results: written once, found again by their key."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import asdict, dataclass

from sqlalchemy import and_, func, or_, select, update
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session, aliased

from phasko.store.models import EngineVersion, Job, Result, Vehicle

__all__ = [
    "NewResult",
    "OlderCall",
    "find_result",
    "get_result",
    "jobs_called_after",
    "let_stand",
    "newest_number",
    "newest_result",
    "older_calls",
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


@dataclass(frozen=True, slots=True)
class OlderCall:
    """A job that another version called: the number of the result that stands, and of what this version says of the
    same, once that was read."""

    job_id: int
    vehicle: str
    engine: str
    closed: bool
    standing: int
    waiting: int | None


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


def older_calls(session: Session, software: str, numbers: str) -> list[OlderCall]:
    """Jobs, not taken out, whose last standing result was made by another version or with other numbers; the newest
    first. Results of versions that kept neither are read anew by themselves."""
    last = select(func.max(Result.id)).where(Result.job_id == Job.id, Result.standing).correlate(Job).scalar_subquery()
    waiting = aliased(Result)
    this_version = (waiting.software == software, waiting.numbers == numbers, waiting.standing.is_(False))
    asked = (
        select(Job.id, Vehicle.name, EngineVersion.name, Job.closed_at, Result.id, func.max(waiting.id))
        .join(Vehicle, Vehicle.id == Job.vehicle_id)
        .join(EngineVersion, EngineVersion.id == Job.engine_version_id)
        .join(Result, Result.id == last)
        .outerjoin(waiting, and_(waiting.job_id == Job.id, waiting.rests == Result.rests, *this_version))
        .where(Job.removed_at.is_(None), Result.rests != "")
        .where(or_(Result.software != software, Result.numbers != numbers))
        .group_by(Job.id)
        .order_by(Job.id.desc())
    )
    return [
        OlderCall(job, vehicle, engine, closed is not None, standing, found)
        for job, vehicle, engine, closed, standing, found in session.execute(asked)
    ]


def get_result(session: Session, number: int) -> Result | None:
    return session.get(Result, number)


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
