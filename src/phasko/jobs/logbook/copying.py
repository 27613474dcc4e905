"""A new job from an old one: same vehicle and engine, with what is known of the car and nothing that was measured."""

from __future__ import annotations

from phasko.core.documents.job import HookUp, JobDocument
from phasko.jobs.opening import JobSummary, open_job, show_job
from phasko.jobs.told import job_document, tell
from phasko.store import Database

__all__ = ["copy_job"]


def copy_job(database: Database, job_id: int, vehicle: str | None = None) -> JobSummary:
    """A new job with this engine, of the same vehicle or of another one. Wires, minutes, limit and costs belong to the
    car and the shop and come along; complaint, codes, captures and looks do not. Raises NotFoundError."""
    old = show_job(database, job_id)
    told = job_document(database, job_id)
    same = vehicle is None or vehicle.strip().casefold() == old.vehicle.casefold()
    made = open_job(
        database,
        vehicle=old.vehicle if vehicle is None else vehicle,
        make_model=old.make_model if same else "",
        complaint="",
        codes=[],
        engine_id=old.engine.id,
    )
    hook_up = None
    if told.hook_up is not None:
        hook_up = HookUp(channels=told.hook_up.channels, wires=told.hook_up.wires, fuel_off=told.hook_up.fuel_off)
    kept = JobDocument.model_validate({"schema": "phasko.job/1"}).model_copy(
        update={"hook_up": hook_up, "minutes": told.minutes, "limit": told.limit, "costs": told.costs}
    )
    tell(database, made.id, kept)
    return show_job(database, made.id)
