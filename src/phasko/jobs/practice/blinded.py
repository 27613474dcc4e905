"""What a station may show of a practice car before the learner has called: measurements, and no judgement."""

from __future__ import annotations

from phasko.core.call import call
from phasko.core.errors import RefusedError
from phasko.core.evidence import JobEvidence
from phasko.core.hookup import hook_up_question
from phasko.jobs.analysing import JobAnalysis, analyse_stored_job
from phasko.jobs.measured import job_state
from phasko.jobs.practice.attempt import car_of, check_open
from phasko.jobs.practice.testing import runs
from phasko.jobs.told import job_document
from phasko.store import Database
from phasko.store.attempts import attempt_of

__all__ = ["blinded_analysis", "check_called", "check_may_record", "is_called"]


def is_called(database: Database, job_id: int) -> bool:
    """Whether the learner has called. Raises NotFoundError for a job that is no attempt."""
    with database.reading() as session:
        return attempt_of(session, job_id).ended_at is not None


def check_called(database: Database, job_id: int) -> None:
    """Raises RefusedError before the learner has called."""
    if not is_called(database, job_id):
        raise RefusedError(
            "That would tell the machine's call",
            kept="The clock stands as it was",
            remedy="Make your own call first; then everything is shown.",
        )


def blinded_analysis(database: Database, job_id: int) -> JobAnalysis | None:
    """The job's result; before the learner has called with the chances before measuring in place of the call. Raises
    NotFoundError."""
    called = is_called(database, job_id)
    found = analyse_stored_job(database, job_id)
    if found is None or called:
        return found
    with database.reading() as session:
        profile = job_state(session, job_id).profile
    verdict = call(JobEvidence(profile)).model_copy(
        update={"undecided": True, "undecided_because": "The call is yours.", "next_test": None, "cautions": []}
    )
    shown = found.analysis.model_copy(update={"verdict": verdict, "before_repair": None})
    return JobAnalysis(capture_ids=found.capture_ids, analysis=shown)


def check_may_record(database: Database, job_id: int) -> str:
    """The hook-up's question under which a recording goes on the clock. Raises RefusedError once the learner has
    called, or where the car does not start and the question needs it to run."""
    told = job_document(database, job_id)
    with database.reading() as session:
        attempt = attempt_of(session, job_id)
        check_open(attempt)
        car = car_of(attempt)
    question = told.hook_up.question if told.hook_up is not None else ""
    asked = hook_up_question(question)
    if asked is not None and asked.turns in ("idle", "running") and not runs(car):
        raise RefusedError("This car does not start", kept="Nothing was recorded", remedy="Record it cranking.")
    return question
