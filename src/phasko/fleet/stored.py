"""Jobs of a workshop as units of a fleet. Nothing is written to the workshop."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from phasko.core.documents import CaptureDescription, parse_document
from phasko.core.errors import PhaskoError
from phasko.fleet.rows import Judged
from phasko.fleet.units import Bad, Unit
from phasko.jobs.analysing import judged_anew, result_key_of
from phasko.jobs.told import job_told
from phasko.store import Database, captures, jobs

__all__ = ["judged_job", "stored_units"]


def stored_units(database: Database, folder: Path) -> Iterator[Unit | Bad]:
    """Every job of the workshop in that folder that has captures to measure."""
    with database.reading() as session:
        for row in jobs.all_jobs(session):
            own = captures.measurable_captures(session, row.id)
            if row.removed_at is not None or not own:
                continue
            name = f"job {row.id}, {row.vehicle.name}"
            try:
                key = result_key_of(session, row.id)
            except PhaskoError as error:
                yield Bad(name, str(error))
                continue
            if key is not None:
                yield Unit(key, name, tuple(one.name for one in own), workshop=str(folder), job_id=row.id)


def judged_job(database: Database, job_id: int) -> Judged:
    """One job, measured and judged as it would be now. Raises PhaskoError where it cannot be read."""
    analysis, profile = judged_anew(database, job_id)
    with database.reading() as session:
        row = jobs.get_job(session, job_id)
        own = captures.measurable_captures(session, job_id)
        told = job_told(row)
        return Judged(
            analysis=analysis,
            profile=profile,
            descriptions=tuple(parse_document(one.description, CaptureDescription, one.name) for one in own),
            vehicle=row.vehicle.name,
            complaint=told.complaint,
            known_good=tuple(one.known_good_at is not None for one in own),
        )
