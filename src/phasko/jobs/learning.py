"""Making an engine profile of what one capture taught."""

from __future__ import annotations

from phasko.core.errors import RefusedError
from phasko.core.phase.learning import learnt_profile
from phasko.jobs.engine_profiles import EngineSummary, save_engine
from phasko.jobs.measured import measured_capture
from phasko.store import Database, captures, jobs

__all__ = ["save_learnt_engine"]


def save_learnt_engine(database: Database, capture_id: int, name: str) -> EngineSummary:
    """Stores a new profile under ``name`` with the wheel and cam patterns that this capture showed, and moves the job
    to it. The index is left out: no crank or cam signal tells it. Raises NotFoundError, and RefusedError where the
    capture taught nothing that its profile did not say.
    """
    measured, profile = measured_capture(database, capture_id)
    if measured.learnt is None or (measured.learnt.wheel is None and not measured.learnt.cams):
        raise RefusedError("This capture taught nothing that the engine profile does not say already")
    made = learnt_profile(profile, measured.learnt, name.strip() or f"{profile.name}, learnt", measured.recording.file)
    saved = save_engine(database, made.model_dump_json(by_alias=True, exclude_none=True).encode(), made.name)
    with database.transaction() as session:
        capture = captures.get_capture(session, capture_id)
        jobs.get_job(session, capture.job_id).engine_version_id = saved.id
    return saved
