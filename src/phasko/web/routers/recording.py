"""Recording: started, watched, marked, stopped; the scan tool read."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends, Query, Request
from pydantic import BaseModel, ConfigDict, Field

from phasko.core.documents.capture import Mark
from phasko.jobs.recording import Recordings, RecordingView, StartRecording, StripView
from phasko.jobs.recording.recordings import EngineSaid
from phasko.jobs.recording.scanning import Scan
from phasko.web.workshop import DatabaseOf, workshop_of

router = APIRouter(prefix="/api/jobs/{job_id}", tags=["recording"])


def _recordings(request: Request) -> Recordings:
    return workshop_of(request).recordings


RecordingsOf = Annotated[Recordings, Depends(_recordings)]


class MarkText(BaseModel):
    model_config = ConfigDict(extra="forbid")
    text: Annotated[str, Field(max_length=120)] = ""


class Turned(BaseModel):
    """Where the simulated sync drive is turned to, crank degrees, late positive."""

    model_config = ConfigDict(extra="forbid")
    sync_deg: Annotated[float, Field(ge=-60, le=60, allow_inf_nan=False)]


@router.post("/recording", status_code=201)
def start_recording(job_id: int, body: StartRecording, database: DatabaseOf, recordings: RecordingsOf) -> RecordingView:
    """Begins to record a round of the planned hook-up, once every caution is ticked."""
    return recordings.start(database, job_id, body)


@router.get("/recording")
def get_recording(job_id: int, recordings: RecordingsOf) -> RecordingView | None:
    """How the job's recording stands, and what it reads so far."""
    return recordings.view(job_id)


@router.get("/recording/strip")
def get_recording_strip(
    job_id: int,
    recordings: RecordingsOf,
    seconds: Annotated[float, Query(gt=0.01, le=6)] = 0.8,
    points: Annotated[int, Query(ge=10, le=2000)] = 400,
) -> StripView:
    """Levels of the last seconds to draw, and of the whole so far."""
    return recordings.strip(job_id, seconds, points)


@router.post("/recording/marks", status_code=201)
def mark_recording(job_id: int, body: MarkText, recordings: RecordingsOf) -> Mark:
    """Marks this moment."""
    return recordings.mark(job_id, body.text)


@router.put("/recording/marks/{number}", status_code=204)
def name_recording_mark(job_id: int, number: int, body: MarkText, recordings: RecordingsOf) -> None:
    """Names a mark, counted from 0."""
    recordings.name_mark(job_id, number, body.text)


@router.put("/recording/said")
def say_recording(job_id: int, body: EngineSaid, recordings: RecordingsOf) -> RecordingView:
    """The state of the engine as it is now."""
    return recordings.say(job_id, body)


@router.put("/recording/turn", status_code=204)
def turn_recording(job_id: int, body: Turned, recordings: RecordingsOf) -> None:
    """Turns the sync drive of the simulated car while it is recorded."""
    recordings.turn(job_id, body.sync_deg)


@router.post("/recording/end")
def end_recording(job_id: int, recordings: RecordingsOf) -> RecordingView:
    """Stops; what was recorded is a capture of the job from then on."""
    return recordings.stop(job_id)


@router.post("/scan")
def scan(
    job_id: int,
    database: DatabaseOf,
    recordings: RecordingsOf,
    temperature: Annotated[str | None, Query(pattern="^(cold|hot)$")] = None,
) -> Scan:
    """What the scan tool on the car shows; nothing is stored."""
    return recordings.scan(database, job_id, temperature)
