"""What a new version says of the jobs that an older one called."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends, Request
from pydantic import BaseModel, ConfigDict, Field

from phasko.jobs.rejudging import (
    EarlierResult,
    OlderCalls,
    Rejudged,
    Rejudging,
    count_older_calls,
    earlier_results,
    take_over,
)
from phasko.web.workshop import DatabaseOf

router = APIRouter(prefix="/api", tags=["rejudging"])


class TakenOver(BaseModel):
    """The jobs of which the newer version's call stands from now on."""

    model_config = ConfigDict(extra="forbid")
    jobs: Annotated[list[int], Field(max_length=100_000)]


def _rejudging(request: Request) -> Rejudging:
    held: Rejudging = request.app.state.rejudging
    return held


RejudgingOf = Annotated[Rejudging, Depends(_rejudging)]


@router.get("/rejudging")
def get_rejudging(rejudging: RejudgingOf) -> Rejudged:
    """Jobs called by an older version: what this one would say, as far as they were read anew."""
    return rejudging.now()


@router.get("/rejudging/count")
def get_older_calls(database: DatabaseOf) -> OlderCalls:
    """How many jobs an older version called."""
    return count_older_calls(database)


@router.post("/rejudging", status_code=202)
def start_rejudging(rejudging: RejudgingOf) -> Rejudged:
    """Reads them anew; nothing that stands is replaced."""
    rejudging.start()
    return rejudging.now()


@router.post("/rejudging/taken-over")
def put_taken_over(body: TakenOver, rejudging: RejudgingOf, database: DatabaseOf) -> Rejudged:
    """What this version says of these jobs stands from now on; the older results stay stored."""
    take_over(database, body.jobs)
    return rejudging.now()


@router.get("/jobs/{job_id}/results")
def get_results(job_id: int, database: DatabaseOf) -> list[EarlierResult]:
    """All results of a job, the newest first."""
    return earlier_results(database, job_id)
