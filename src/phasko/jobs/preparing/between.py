"""What changed from one capture of a job to another."""

from __future__ import annotations

from phasko.core.capture.between import changes_between
from phasko.core.documents.repair_results import ChangeResult
from phasko.core.errors import RefusedError
from phasko.jobs.measured import measured_capture
from phasko.store import Database, captures

__all__ = ["captures_between"]


def captures_between(database: Database, job_id: int, before_id: int, after_id: int) -> list[ChangeResult]:
    """Raises NotFoundError, and RefusedError for captures of another job."""
    with database.reading() as session:
        if {captures.get_capture(session, one).job_id for one in (before_id, after_id)} != {job_id}:
            raise RefusedError("These captures are not both of this job", remedy="Choose two of its captures.")
    before, profile = measured_capture(database, before_id)
    after, _ = measured_capture(database, after_id)
    return list(changes_between(before, after, profile))
