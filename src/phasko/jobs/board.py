"""The bay board: every job with where it stands."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict

from phasko.jobs.analysing import newest_analysis
from phasko.jobs.opening import JobSummary, summary_of
from phasko.store import Database, captures, jobs

__all__ = ["BoardRow", "board"]


class BoardRow(BaseModel):
    """One job with the measurement and the call of its last result."""

    model_config = ConfigDict(frozen=True)
    job: JobSummary
    captures: int
    station: Literal["captures", "phase", "call"]
    finding: str | None
    emphasis: str | None
    leader: str | None
    leader_probability: float | None
    undecided: bool
    teardown: Literal["go", "confirm_first", "no"] | None
    stop_cranking: bool


def board(database: Database) -> list[BoardRow]:
    """All jobs, the newest first; reads stored results only, so that the list is fast."""
    with database.reading() as session:
        rows = [(summary_of(job), len(captures.captures_of(session, job.id))) for job in jobs.all_jobs(session)]
    return [_row(database, summary, count) for summary, count in reversed(rows)]


def _row(database: Database, summary: JobSummary, count: int) -> BoardRow:
    analysis = newest_analysis(database, summary.id)
    finding = analysis.finding if analysis else None
    called = analysis is not None and analysis.verdict.measured and bool(analysis.verdict.faults)
    leader = analysis.verdict.faults[0] if analysis and called else None
    return BoardRow(
        job=summary,
        captures=count,
        station="captures" if not count else "phase",
        finding=finding.text if finding else None,
        emphasis=finding.emphasis if finding else None,
        leader=leader.title if leader else None,
        leader_probability=leader.probability if leader else None,
        undecided=analysis.verdict.undecided if analysis else False,
        teardown=analysis.verdict.teardown if analysis else None,
        stop_cranking=analysis is not None and "stop_cranking" in analysis.verdict.cautions,
    )
