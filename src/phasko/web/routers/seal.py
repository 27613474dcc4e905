"""Sealing and breathing of a capture, and what a person says about it there."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field

from phasko.jobs import seal_station
from phasko.jobs.analysing import SealPicture, seal_picture
from phasko.jobs.captures import ImportedCapture
from phasko.jobs.opening import JobSummary
from phasko.jobs.seal_station import FiringOrderView
from phasko.web.errors import OUTDATED
from phasko.web.workshop import DatabaseOf, MadeFrom

router = APIRouter(prefix="/api", tags=["seal"])

Seconds = Annotated[float | None, Field(ge=-1e7, le=1e7, allow_inf_nan=False)]


@router.get("/captures/{capture_id}/seal")
def get_seal(capture_id: int, database: DatabaseOf) -> SealPicture | None:
    """Relative compression and breathing as a picture; null where the capture shows none."""
    return seal_picture(database, capture_id)


class Span(BaseModel):
    """The stretch to judge sealing from, in s; null at both ends: the settled cycles."""

    model_config = ConfigDict(extra="forbid")
    from_s: Seconds = None
    to_s: Seconds = None


@router.put("/captures/{capture_id}/seal-span", responses=OUTDATED)
def put_span(capture_id: int, body: Span, database: DatabaseOf, made_from: MadeFrom) -> ImportedCapture:
    return seal_station.set_span(database, capture_id, body.from_s, body.to_s, made_from)


class TakenOut(BaseModel):
    """The cylinder whose compression was taken out on purpose; null: none."""

    model_config = ConfigDict(extra="forbid")
    cylinder: Annotated[int | None, Field(ge=1, le=24)]


@router.put("/captures/{capture_id}/taken-out", responses=OUTDATED)
def put_taken_out(capture_id: int, body: TakenOut, database: DatabaseOf, made_from: MadeFrom) -> ImportedCapture:
    return seal_station.set_taken_out(database, capture_id, body.cylinder, made_from)


@router.get("/jobs/{job_id}/firing-order")
def get_firing_order(job_id: int, database: DatabaseOf) -> FiringOrderView:
    """The firing order as captures with a cylinder taken out tell it."""
    return seal_station.firing_order(database, job_id)


@router.post("/jobs/{job_id}/firing-order", status_code=201)
def save_firing_order(job_id: int, database: DatabaseOf) -> JobSummary:
    """Writes that firing order into a new version of the profile, and reads the job with it."""
    return seal_station.save_firing_order(database, job_id)
