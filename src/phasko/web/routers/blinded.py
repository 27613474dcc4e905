"""The stations of a practice car: as in the workshop, but nothing tells the machine's call before the learner's, the
car answers what it is asked, and what is tested goes on the clock."""

from __future__ import annotations

from fastapi import APIRouter, Request

from phasko.core.errors import RefusedError
from phasko.jobs import practice
from phasko.jobs.analysing import JobAnalysis
from phasko.jobs.practice.blinded import blinded_analysis, check_called, check_may_record
from phasko.jobs.recording import RecordingView, StartRecording
from phasko.jobs.recording.scanning import Scan
from phasko.web.routers.recording import RecordingsOf
from phasko.web.workshop import DatabaseOf, workshop_of

__all__ = ["blinded", "router"]

router = APIRouter()
"""These stand before the workshop's own routes of the same address."""

_TELL_THE_CALL = {
    "/api/jobs/{job_id}/why",
    "/api/jobs/{job_id}/result",
    "/api/jobs/{job_id}/plan",
    "/api/jobs/{job_id}/hand-over",
    "/api/jobs/{job_id}/first-word",
    "/api/jobs/{job_id}/hand-over/shown",
    "/api/jobs/{job_id}/hand-over/file",
    "/api/jobs/{job_id}/export",
    "/api/jobs/{job_id}/timeline",
}
_NOT_HERE = {
    ("GET", "/api/jobs"),
    ("POST", "/api/jobs"),
    ("GET", "/api/logbook"),
    ("GET", "/api/learning"),
    ("GET", "/api/workshop/export"),
    ("POST", "/api/workshop/import"),
    ("POST", "/api/jobs/{job_id}/looks"),
    ("POST", "/api/jobs/{job_id}/road-tests"),
    ("POST", "/api/jobs/{job_id}/captures"),
    ("POST", "/api/jobs/{job_id}/inbox"),
    ("POST", "/api/jobs/{job_id}/copies"),
    ("POST", "/api/bundles"),
    ("POST", "/api/libraries"),
    ("PUT", "/api/jobs/{job_id}/guided"),
    ("PUT", "/api/jobs/{job_id}/engine"),
    ("PUT", "/api/captures/{capture_id}/known-good"),
    ("POST", "/api/captures/{capture_id}/learnt-engine"),
}


def blinded(request: Request) -> None:
    """Whether a route may be asked of a practice car. Raises RefusedError."""
    path = request.scope["route"].path
    if (request.method, path) in _NOT_HERE:
        raise RefusedError(
            "That is not done with a practice car",
            kept="Nothing was changed",
            remedy="Ask the car: look at it, record it, drive it.",
        )
    if path in _TELL_THE_CALL:
        check_called(workshop_of(request).database(), int(request.path_params["job_id"]))


@router.get("/api/jobs/{job_id}/analysis")
def get_analysis(job_id: int, database: DatabaseOf) -> JobAnalysis | None:
    """The measurements; the call only after the learner's own."""
    return blinded_analysis(database, job_id)


@router.post("/api/jobs/{job_id}/recording", status_code=201)
def start_recording(job_id: int, body: StartRecording, database: DatabaseOf, recordings: RecordingsOf) -> RecordingView:
    """Records the car, and puts it on the clock."""
    question = check_may_record(database, job_id)
    view = recordings.start(database, job_id, body)
    practice.recorded(database, job_id, question, view.capture_id)
    return view


@router.post("/api/jobs/{job_id}/scan")
def scan(job_id: int, database: DatabaseOf, recordings: RecordingsOf) -> Scan:
    """Reads the codes, and puts it on the clock."""
    found = recordings.scan(database, job_id, None)
    practice.scanned(database, job_id)
    return found
