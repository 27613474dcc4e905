"""What closed jobs teach: stated chances held against what was found, and the workshop's own odds, moved only when
somebody asks."""

from __future__ import annotations

from datetime import UTC, datetime

from pydantic import BaseModel, ConfigDict
from sqlalchemy import select

from phasko.core import numbers
from phasko.core.calibration import Calibration, ClosedCall, OwnPrior, calibration, closed_call, own_priors
from phasko.core.call.hypotheses import prior_chances, single_hypotheses
from phasko.core.documents import EngineProfile, parse_document
from phasko.core.documents.fault_name import FaultName
from phasko.core.errors import DocumentError, RefusedError
from phasko.core.handover import FAULT_SHORT
from phasko.jobs.logbook.own_odds import ODDS, OwnOdds, own_odds
from phasko.jobs.told import job_told
from phasko.store import Database
from phasko.store.models import Job
from phasko.store.settings import put_setting

__all__ = ["ClosedRow", "Learning", "learning", "move_odds"]


class ClosedRow(BaseModel):
    """One closed job: what was called and how surely, what was found, and whether the call was right."""

    model_config = ConfigDict(frozen=True)
    job_id: int
    vehicle: str
    closed_at: str
    called: str
    chance: float
    found: str
    right: bool | None
    needless: bool
    missed: bool
    minutes: float | None
    sample: bool


class Learning(BaseModel):
    """The page: the workshop's own closed jobs; sample jobs stand in a table of their own and teach nothing."""

    model_config = ConfigDict(frozen=True)
    own: Calibration
    samples: Calibration
    rows: list[ClosedRow]
    proposed: list[OwnPrior]
    names: dict[FaultName, str]
    needed_jobs: int
    known_jobs: int
    odds: OwnOdds


def learning(database: Database) -> Learning:
    """Everything that closed jobs teach now."""
    with database.reading() as session:
        closed = session.scalars(select(Job).where(Job.closed_at.is_not(None), Job.removed_at.is_(None))).all()
        calls = [(job, call) for job in closed if (call := _call(job)) is not None]
        before = {job.id: _before(job) for job, _ in calls if not job.sample}
        rows = [_row(job, call) for job, call in calls]
        odds = own_odds(session)
    own = [call for job, call in calls if not job.sample]
    return Learning(
        own=calibration(own),
        samples=calibration([call for job, call in calls if job.sample]),
        rows=sorted(rows, key=lambda row: row.closed_at, reverse=True),
        proposed=own_priors(own, before),
        names=dict(FAULT_SHORT),
        needed_jobs=int(numbers.LEARN_LEAST_JOBS.value),
        known_jobs=sum(call.truth is not None for call in own),
        odds=odds,
    )


def move_odds(database: Database, moved: bool) -> Learning:
    """Accepts the proposed factors from now on, or sets all back to the table's. Every call is then judged anew; the
    gate leaves them out, as everything that is only typical. Raises RefusedError while there is nothing to accept."""
    found = learning(database)
    if moved and not found.proposed:
        raise RefusedError(
            f"{found.known_jobs} closed jobs with a known cause are too few",
            kept="The chances before measuring are as they were",
            remedy=f"From {found.needed_jobs} on they can be moved; sample jobs do not count.",
        )
    made = OwnOdds()
    if moved:
        made = OwnOdds(
            factors={one.fault: round(one.factor, 3) for one in found.proposed},
            at=datetime.now(UTC).isoformat(timespec="seconds"),
            by=database.who,
            jobs=found.known_jobs,
        )
    with database.transaction() as session:
        put_setting(session, ODDS, made.model_dump_json())
    return learning(database)


def _call(job: Job) -> ClosedCall | None:
    try:
        told = job_told(job)
    except DocumentError:
        return None
    return closed_call(job.id, told.repair, told.closing) if told.closing is not None else None


def _before(job: Job) -> dict[FaultName, float]:
    """The chances before measuring of a job's engine; none where its profile cannot be read."""
    version = job.engine_version
    try:
        profile = parse_document(version.document, EngineProfile, version.name)
    except DocumentError:
        return {}
    # The table's chances, not those already moved: else the same findings would move them twice.
    chances = prior_chances(profile, single_hypotheses(profile).hypotheses)
    return {fault: chances[fault] for fault in FAULT_SHORT if fault in chances}


def _row(job: Job, call: ClosedCall) -> ClosedRow:
    found = ", ".join(FAULT_SHORT[fault] for fault in sorted(call.found))
    if not found:
        found = {"confirmed": "as called", "refuted": "something else", "unknown": "not known"}[call.cause]
    return ClosedRow(
        job_id=job.id,
        vehicle=job.vehicle.name,
        closed_at=job.closed_at or "",
        called=FAULT_SHORT[call.leader] if call.leader is not None else "nothing",
        chance=call.chance,
        found=found,
        right=call.right,
        needless=call.needless,
        missed=call.missed,
        minutes=call.minutes,
        sample=job.sample,
    )
