"""What was taken out of a workshop, and erasing it for good."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from phasko.store import Database, erasing

__all__ = ["TakenOut", "TakenOutCapture", "TakenOutJob", "erase_capture", "erase_job", "taken_out"]


class TakenOutJob(BaseModel):
    """A job that was taken off the board."""

    model_config = ConfigDict(frozen=True)
    id: int
    vehicle: str
    removed_at: str


class TakenOutCapture(BaseModel):
    """A capture that was taken out of a job that is still on the board."""

    model_config = ConfigDict(frozen=True)
    id: int
    job_id: int
    name: str
    removed_at: str


class TakenOut(BaseModel):
    """Everything that can still be brought back, or erased."""

    model_config = ConfigDict(frozen=True)
    jobs: list[TakenOutJob]
    captures: list[TakenOutCapture]


def taken_out(database: Database) -> TakenOut:
    """The newest first."""
    with database.reading() as session:
        jobs, captures = erasing.taken_out(session)
        return TakenOut(
            jobs=[TakenOutJob(id=j.id, vehicle=j.vehicle.name, removed_at=j.removed_at or "") for j in jobs],
            captures=[
                TakenOutCapture(
                    id=c.id,
                    job_id=c.job_id,
                    name=c.name.removesuffix(".capture.json"),
                    removed_at=c.removed_at or "",
                )
                for c in captures
            ],
        )


def erase_capture(database: Database, capture_id: int) -> TakenOut:
    """Erases a capture that was taken out, its bytes and the results that rest on it; nothing brings it back but a copy
    that was made before. Raises NotFoundError, and ConflictError for one that is still in its job."""
    erasing.erase_capture(database, capture_id)
    return taken_out(database)


def erase_job(database: Database, job_id: int) -> TakenOut:
    """The same for a whole job with its vehicle. Raises NotFoundError, and ConflictError for one on the board."""
    erasing.erase_job(database, job_id)
    return taken_out(database)
