"""The bay board and the logbook: jobs with where they stand, found by words and filters."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict

from phasko.jobs.analysing import newest_analysis
from phasko.jobs.logbook.heads import ResultHead, head_of, read_head
from phasko.jobs.logbook.words import index_jobs
from phasko.store import Database
from phasko.store.logbook import Asked, FoundJob, find_jobs

__all__ = ["BoardRow", "JobLine", "LogbookPage", "board", "find_in_logbook"]

Status = Literal["no_capture", "to_call", "to_prove", "closed"]


class JobLine(BaseModel):
    """A job's own words, as a list shows them."""

    model_config = ConfigDict(frozen=True)
    id: int
    vehicle: str
    make_model: str
    complaint: str
    codes: list[str]
    engine: str
    created_at: str
    holder: str
    waiting_for: str
    repaired_at: str | None
    closed_at: str | None
    cause: str | None
    sample: bool


class BoardRow(ResultHead):
    """One job with the measurement and the call of its last result. ``status``: no capture yet, to be called, repaired
    and to be proved, closed. ``changed_at``: when anything of it was changed last."""

    job: JobLine
    captures: int
    status: Status
    changed_at: str


class LogbookPage(BaseModel):
    """Some of the jobs that were asked for, and how many there are in all."""

    model_config = ConfigDict(frozen=True)
    total: int
    rows: list[BoardRow]


def board(database: Database) -> list[BoardRow]:
    """All jobs that were not taken out, the newest first; reads stored heads only, so that the list is fast."""
    return find_in_logbook(database, Asked()).rows


def find_in_logbook(database: Database, asked: Asked) -> LogbookPage:
    """The jobs that were asked for, the newest first. What changed since the last search is read first."""
    if asked.text:
        index_jobs(database)
    with database.reading() as session:
        found, total = find_jobs(session, asked)
        lines = [(one, _line(one)) for one in found]
    return LogbookPage(total=total, rows=[_row(database, one, line) for one, line in lines])


def _line(found: FoundJob) -> JobLine:
    job = found.job
    return JobLine(
        id=job.id,
        vehicle=job.vehicle.name,
        make_model=job.vehicle.make_model,
        complaint=job.complaint,
        codes=job.codes.split(),
        engine=job.engine_version.name,
        created_at=job.created_at,
        holder=job.holder,
        waiting_for=job.waiting_for,
        repaired_at=job.repaired_at,
        closed_at=job.closed_at,
        cause=job.cause,
        sample=job.sample,
    )


def _row(database: Database, found: FoundJob, line: JobLine) -> BoardRow:
    head = read_head(found.head)
    if head is None and found.result_id is not None:
        # Stored by a version that had no heads.
        analysis = newest_analysis(database, line.id)
        head = head_of(analysis) if analysis is not None else None
    return BoardRow(
        **(head or ResultHead()).model_dump(),
        job=line,
        captures=found.captures,
        status=_status(line, found.captures),
        changed_at=found.changed_at,
    )


def _status(line: JobLine, captures: int) -> Status:
    if line.closed_at is not None:
        return "closed"
    if line.repaired_at is not None:
        return "to_prove"
    return "to_call" if captures else "no_capture"
