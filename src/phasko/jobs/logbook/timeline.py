"""A vehicle over the years: every job of it, oldest first."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from phasko.core.errors import DocumentError
from phasko.core.handover import FAULT_WORDS, PART_WORDS
from phasko.jobs.board import BoardRow, find_in_logbook
from phasko.jobs.told import job_told
from phasko.store import Database, jobs
from phasko.store.logbook import Asked

__all__ = ["Timeline", "TimelineEntry", "timeline"]


class TimelineEntry(BaseModel):
    """One job of the vehicle: its line, the distance then, what was found and replaced."""

    model_config = ConfigDict(frozen=True)
    row: BoardRow
    distance_km: float | None
    found: list[str]
    replaced: list[str]


class Timeline(BaseModel):
    """Jobs of one vehicle by its name, whatever its letters' case."""

    model_config = ConfigDict(frozen=True)
    vehicle: str
    entries: list[TimelineEntry]


def timeline(database: Database, job_id: int) -> Timeline:
    """The vehicle of that job. Raises NotFoundError."""
    with database.reading() as session:
        vehicle = jobs.get_job(session, job_id).vehicle.name
    found = find_in_logbook(database, Asked(vehicle=vehicle)).rows
    rows = sorted(found, key=lambda row: (row.job.created_at, row.job.id))
    return Timeline(vehicle=vehicle, entries=[_entry(database, row) for row in rows])


def _entry(database: Database, row: BoardRow) -> TimelineEntry:
    try:
        with database.reading() as session:
            told = job_told(jobs.get_job(session, row.job.id))
    except DocumentError:
        return TimelineEntry(row=row, distance_km=None, found=[], replaced=[])
    repair = told.repair
    found = repair.found if repair is not None else []
    replaced = repair.replaced if repair is not None else []
    return TimelineEntry(
        row=row,
        distance_km=told.complaint.distance_km if told.complaint is not None else None,
        found=[one.text or FAULT_WORDS.get(one.fault or "something_else", "") for one in found],
        replaced=[one.text or PART_WORDS[one.part] for one in replaced],
    )
