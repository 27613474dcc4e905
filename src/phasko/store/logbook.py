"""The workshop's jobs as lists: found by words and filters, with the head of each one's newest result."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from sqlalchemy import ColumnElement, Integer, Select, func, literal_column, select, text
from sqlalchemy.orm import Session

from phasko.store.models import Capture, EngineVersion, Job, LogEntry, Result, Vehicle

__all__ = ["Asked", "FoundJob", "JobWords", "find_jobs", "forget_words", "jobs_to_index", "put_words"]

State = Literal["open", "closed", "every"]


@dataclass(frozen=True, slots=True)
class JobWords:
    """Everything of one job that is searched, by where it stands."""

    vehicle: str
    engine: str
    complaint: str
    codes: str
    finding: str
    words: str


@dataclass(frozen=True, slots=True)
class Asked:
    """Which jobs are wanted; empty entries want every one. ``text``: words that all occur, the last may be begun."""

    text: str = ""
    state: State = "every"
    vehicle: str = ""
    engine: str = ""
    code: str = ""
    holder: str = ""
    cause: str = ""
    gate: str = ""
    since: str = ""
    until: str = ""
    begin: int = 0
    most: int | None = None


@dataclass(frozen=True, slots=True)
class FoundJob:
    """A job, the head of its newest result as JSON (empty where there is none, or it has none), how many captures it
    holds, and when anything of it was changed last."""

    job: Job
    head: str
    result_id: int | None
    captures: int
    changed_at: str


def find_jobs(session: Session, asked: Asked) -> tuple[Sequence[FoundJob], int]:
    """The jobs that were asked for, the newest first, and how many there are in all; those taken out never."""
    wanted = _wanted(asked)
    total = session.scalar(_of_jobs(select(func.count(Job.id))).where(*wanted)) or 0
    newest = (
        select(func.max(Result.id)).where(Result.job_id == Job.id, Result.standing).correlate(Job).scalar_subquery()
    )
    held = (
        select(func.count(Capture.id))
        .where(Capture.job_id == Job.id, Capture.removed_at.is_(None), Capture.arrived_at.is_not(None))
        .correlate(Job)
        .scalar_subquery()
    )
    touched = select(func.max(LogEntry.at)).where(LogEntry.job_id == Job.id).correlate(Job).scalar_subquery()
    listed = (
        _of_jobs(select(Job, Result.head, Result.id, held, touched))
        .outerjoin(Result, Result.id == newest)
        .where(*wanted)
        .order_by(Job.id.desc())
        .offset(asked.begin)
        .limit(asked.most)
    )
    rows = session.execute(listed).all()
    return [
        FoundJob(job, head or "", number, count, at or job.created_at) for job, head, number, count, at in rows
    ], total


def _of_jobs(asked: Select) -> Select:  # type: ignore[type-arg]
    return (
        asked.select_from(Job)
        .join(Vehicle, Vehicle.id == Job.vehicle_id)
        .join(EngineVersion, EngineVersion.id == Job.engine_version_id)
    )


def _wanted(asked: Asked) -> list[ColumnElement[bool]]:
    wanted: list[ColumnElement[bool]] = [Job.removed_at.is_(None)]
    if asked.state != "every":
        wanted.append(Job.closed_at.is_(None) if asked.state == "open" else Job.closed_at.is_not(None))
    if asked.vehicle:
        wanted.append(func.lower(Vehicle.name) == asked.vehicle.lower())
    if asked.engine:
        wanted.append(EngineVersion.name == asked.engine)
    if asked.code:
        wanted.append((" " + Job.codes + " ").contains(f" {asked.code.upper()} ", autoescape=True))
    if asked.holder:
        wanted.append(func.lower(Job.holder) == asked.holder.lower())
    if asked.cause:
        wanted.append(Job.cause == asked.cause)
    if asked.gate:
        newest = (
            select(func.max(Result.id)).where(Result.job_id == Job.id, Result.standing).correlate(Job).scalar_subquery()
        )
        gate = select(Job.id).join(Result, Result.id == newest)
        wanted.append(
            Job.id.in_(gate.where(func.json_extract(Result.head, "$.teardown") == asked.gate, Result.head != ""))
        )
    if asked.since:
        wanted.append(Job.created_at >= asked.since)
    if asked.until:
        wanted.append(Job.created_at < f"{asked.until}~")
    match = _match(asked.text)
    if match:
        hits: Select[int] = select(literal_column("rowid", Integer)).select_from(text("job_words"))
        wanted.append(Job.id.in_(hits.where(text("job_words MATCH :words").bindparams(words=match))))
    return wanted


def _match(words: str) -> str:
    """The query of the index: every word, the last one begun; marks of its language have no meaning."""
    found = re.findall(r"\w+", words)[:24]
    return " ".join(f'"{one}"*' if one is found[-1] or len(one) > 2 else f'"{one}"' for one in found)


def jobs_to_index(session: Session, most: int = 500) -> Sequence[int]:
    """Numbers of jobs that changed since the search last read them."""
    return session.scalars(select(Job.id).where(Job.indexed.is_(False)).order_by(Job.id).limit(most)).all()


def put_words(session: Session, job_id: int, words: JobWords) -> None:
    """What the search finds a job by, in place of what it was."""
    session.execute(text("DELETE FROM job_words WHERE rowid = :id"), {"id": job_id})
    session.execute(
        text(
            "INSERT INTO job_words (rowid, vehicle, engine, complaint, codes, finding, words) "
            "VALUES (:id, :vehicle, :engine, :complaint, :codes, :finding, :words)"
        ),
        {
            "id": job_id,
            "vehicle": words.vehicle,
            "engine": words.engine,
            "complaint": words.complaint,
            "codes": words.codes,
            "finding": words.finding,
            "words": words.words,
        },
    )
    session.execute(text("UPDATE jobs SET indexed = 1 WHERE id = :id"), {"id": job_id})


def forget_words(session: Session) -> None:
    """Nothing stays in the index of jobs that are gone, nor of what stood in one before."""
    session.execute(text("DELETE FROM job_words WHERE rowid IN (SELECT id FROM jobs WHERE indexed = 0)"))
    session.execute(text("INSERT INTO job_words (job_words) VALUES ('optimize')"))
