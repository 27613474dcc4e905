"""Captures: adding, listing, taking out, bringing back, and their pictures."""

from __future__ import annotations

from typing import Annotated, Literal
from urllib.parse import quote

from fastapi import APIRouter, File, Query, Response, UploadFile
from pydantic import BaseModel, Field

from phasko.core.turn_strip import TurnStrip
from phasko.formats import CaptureFiles
from phasko.jobs import importing
from phasko.jobs.analysing import phase_strip
from phasko.jobs.edges import EdgesInSpan, edges_in_span
from phasko.jobs.importing import ImportedCapture
from phasko.jobs.learning import save_learnt_engine
from phasko.jobs.opening import EngineSummary
from phasko.jobs.raw_trace import RawTrace, raw_trace
from phasko.web.workshop import DatabaseOf

router = APIRouter(prefix="/api", tags=["captures"])


@router.get("/jobs/{job_id}/captures")
def list_captures(job_id: int, database: DatabaseOf) -> list[ImportedCapture]:
    return importing.list_captures(database, job_id)


@router.post("/jobs/{job_id}/captures", status_code=201)
def add_capture(
    job_id: int,
    description: Annotated[UploadFile, File()],
    data: Annotated[UploadFile, File()],
    database: DatabaseOf,
) -> ImportedCapture:
    files = CaptureFiles(
        description_name=description.filename or "description",
        description=description.file.read(),
        data_name=data.filename or "data",
        data=data.file.read(),
    )
    return importing.import_capture(database, job_id, files)


@router.delete("/captures/{capture_id}", status_code=204)
def remove_capture(capture_id: int, database: DatabaseOf) -> None:
    importing.remove_capture(database, capture_id)


@router.post("/captures/{capture_id}/restoration")
def restore_capture(capture_id: int, database: DatabaseOf) -> ImportedCapture:
    return importing.restore_capture(database, capture_id)


class ChannelFilter(BaseModel):
    """The corner of a low-pass without delay; null switches it off."""

    filter_hz: Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)] | None


@router.put("/captures/{capture_id}/channels/{column}/filter")
def set_filter(capture_id: int, column: str, wanted: ChannelFilter, database: DatabaseOf) -> ImportedCapture:
    return importing.set_filter(database, capture_id, column, wanted.filter_hz)


class LearntName(BaseModel):
    """How the new profile is called."""

    name: Annotated[str, Field(min_length=1, max_length=120)]


@router.post("/captures/{capture_id}/learnt-engine", status_code=201)
def learn_engine(capture_id: int, wanted: LearntName, database: DatabaseOf) -> EngineSummary:
    """A new profile with what the capture's signals taught; the job moves to it."""
    return save_learnt_engine(database, capture_id, wanted.name)


@router.get("/captures/{capture_id}/strip")
def get_strip(capture_id: int, database: DatabaseOf) -> TurnStrip:
    return phase_strip(database, capture_id)


@router.get("/captures/{capture_id}/raw")
def get_raw(
    capture_id: int,
    database: DatabaseOf,
    from_s: Annotated[float | None, Query(allow_inf_nan=False)] = None,
    to_s: Annotated[float | None, Query(allow_inf_nan=False)] = None,
    points: Annotated[int, Query(ge=16, le=20_000)] = 1600,
) -> RawTrace:
    return raw_trace(database, capture_id, from_s, to_s, points)


@router.get("/captures/{capture_id}/edges")
def get_edges(
    capture_id: int,
    database: DatabaseOf,
    from_s: Annotated[float, Query(allow_inf_nan=False)],
    to_s: Annotated[float, Query(allow_inf_nan=False)],
) -> EdgesInSpan:
    """Edges of the switching signals in a stretch of time, for rulers."""
    return edges_in_span(database, capture_id, from_s, to_s)


@router.get("/captures/{capture_id}/files/{role}", response_class=Response)
def get_original(capture_id: int, role: Literal["description", "data"], database: DatabaseOf) -> Response:
    """An original file, byte for byte as it came."""
    name, content = importing.original_file(database, capture_id, role)
    disposition = f"attachment; filename*=UTF-8''{quote(name)}"
    return Response(content, media_type="application/octet-stream", headers={"content-disposition": disposition})
