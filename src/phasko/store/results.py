"""Stored results: written once, found again by their key."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence

from sqlalchemy import func, select
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session

from phasko.store.models import Result

__all__ = ["find_result", "jobs_called_after", "newest_number", "newest_result", "result_key", "store_result"]


def result_key(job_id: int, captures: Sequence[str], engine: str, numbers: str, software: str) -> str:
    """Hash over all a result depends on: captures and profile by content, number table by
    content, software by version."""
    parts = [str(job_id), *captures, engine, numbers, software]
    return hashlib.sha256("\n".join(parts).encode()).hexdigest()


def find_result(session: Session, key: str) -> Result | None:
    return session.scalar(select(Result).where(Result.key == key))


def newest_result(session: Session, job_id: int) -> Result | None:
    """The last result of a job, whether or not it is stale by now."""
    return session.scalar(select(Result).where(Result.job_id == job_id).order_by(Result.id.desc()).limit(1))


def newest_number(session: Session) -> int:
    """The number of the last result of any job; 0 before the first."""
    return session.scalar(select(func.max(Result.id))) or 0


def jobs_called_after(session: Session, number: int) -> dict[int, int]:
    """The results after that number, each with its job."""
    return {row.id: row.job_id for row in session.execute(select(Result.id, Result.job_id).where(Result.id > number))}


def store_result(session: Session, job_id: int, key: str, document: str, head: str = "") -> Result:
    """Stores it, with what lists show of it, unless another tab was faster; the first one stays."""
    new = insert(Result).values(job_id=job_id, key=key, document=document, head=head)
    session.execute(new.on_conflict_do_nothing())
    held = find_result(session, key)
    assert held is not None
    return held
