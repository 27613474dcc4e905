"""Captures: adding, listing, taking out, bringing back, and their pictures."""

from __future__ import annotations

import mmap
from typing import Annotated, Literal
from urllib.parse import quote

from fastapi import APIRouter, File, Form, Query, Request, Response, UploadFile
from pydantic import BaseModel, ConfigDict, Field

from phasko.core.capture.turn_strip import TurnStrip
from phasko.core.documents.capture import Hertz, Interval, Mark, Seconds
from phasko.formats import CaptureFiles, FileBytes
from phasko.jobs import captures, progress
from phasko.jobs.analysing import phase_strip
from phasko.jobs.captures import (
    CaptureSetup,
    ImportedCapture,
    ImportSheet,
    ScalePreset,
    confirm_setup,
    import_sheet,
    scale_presets,
    set_marks,
)
from phasko.jobs.engine_profiles import EngineSummary
from phasko.jobs.exporting import export_bundle, export_capture, import_bundle, original_file
from phasko.jobs.inbox import WaitingFile, Watching, import_waiting, inbox_folder, waiting_files
from phasko.jobs.opening import JobSummary, save_learnt_engine
from phasko.jobs.raw_trace import RawTrace, packed, raw_trace
from phasko.jobs.recording.sensor_test import SensorTest, sensor_test
from phasko.jobs.rulers import Between, EdgesInSpan, between, edges_in_span
from phasko.web.errors import OUTDATED
from phasko.web.workshop import DatabaseOf, MadeFrom, tag

router = APIRouter(prefix="/api", tags=["captures"])


@router.get("/jobs/{job_id}/captures")
def list_captures(job_id: int, database: DatabaseOf) -> list[ImportedCapture]:
    return captures.list_captures(database, job_id)


Token = Annotated[str | None, Form(max_length=64)]
Moment = Annotated[float, Query(ge=-1e7, le=1e7, allow_inf_nan=False)]


@router.post("/jobs/{job_id}/captures", status_code=201)
def add_capture(
    job_id: int,
    data: Annotated[UploadFile, File()],
    database: DatabaseOf,
    description: Annotated[UploadFile | None, File()] = None,
    interval_s: Annotated[float | None, Form(ge=1e-10, le=100.0, allow_inf_nan=False)] = None,
    token: Token = None,
) -> ImportedCapture:
    """A data file with its description, or alone: then roles are proposed. ``token`` names the import for progress."""
    name = data.filename or "data"
    running = progress.begin(token)
    with progress.in_line(running):
        if description is None:
            return captures.import_data_file(database, job_id, name, _content(data), interval_s, running)
        files = CaptureFiles(
            description_name=description.filename or "description",
            description=description.file.read(),
            data_name=name,
            data=_content(data),
        )
        return captures.import_capture(database, job_id, files, running)


class FromInbox(BaseModel):
    """A file of the inbox, the interval of its samples where it tells none, and a name for its progress."""

    model_config = ConfigDict(extra="forbid")
    name: Annotated[str, Field(min_length=1, max_length=255)]
    interval_s: Interval | None = None
    token: Annotated[str, Field(max_length=64)] | None = None


class WatchedFolder(BaseModel):
    """A folder whose captures come into the inbox; ``trouble``: why it cannot be read at the moment."""

    folder: str
    trouble: str


class Inbox(BaseModel):
    """The folder on the server, what waits there, and which folders fill it."""

    folder: str
    files: list[WaitingFile]
    watched: list[WatchedFolder]


@router.get("/inbox")
def get_inbox(database: DatabaseOf, request: Request) -> Inbox:
    watching: Watching = request.app.state.watching
    watched = [WatchedFolder(folder=str(one), trouble=watching.troubles.get(one, "")) for one in watching.folders]
    return Inbox(folder=str(inbox_folder(database)), files=waiting_files(database), watched=watched)


@router.post("/jobs/{job_id}/inbox", status_code=201)
def add_from_inbox(job_id: int, body: FromInbox, database: DatabaseOf) -> ImportedCapture:
    """A file from the server's own disk, which is not sent; it stays in the inbox."""
    running = progress.begin(body.token)
    with progress.in_line(running):
        return import_waiting(database, job_id, body.name, body.interval_s, running)


class ImportProgress(BaseModel):
    """Where an import stands."""

    stage: progress.Stage
    share: float


@router.get("/imports/{token}")
def get_import(token: str) -> ImportProgress:
    running = progress.look(token)
    return ImportProgress(stage=running.stage, share=running.share)


class Stopped(BaseModel):
    """Whether an import could still be stopped."""

    stopped: bool


@router.delete("/imports/{token}")
def stop_import(token: str) -> Stopped:
    return Stopped(stopped=progress.stop(token))


@router.get("/scale-presets")
def get_scale_presets() -> list[ScalePreset]:
    return scale_presets()


@router.get("/captures/{capture_id}/sheet")
def get_sheet(capture_id: int, database: DatabaseOf) -> ImportSheet:
    """What each channel is said to be, why, and how good it is."""
    return import_sheet(database, capture_id)


@router.put("/captures/{capture_id}/sheet", responses=OUTDATED)
def put_sheet(capture_id: int, setup: CaptureSetup, database: DatabaseOf, made_from: MadeFrom) -> ImportedCapture:
    """Confirms or changes what the channels are."""
    return confirm_setup(database, capture_id, setup, made_from)


class Marks(BaseModel):
    """The moments that a person marked."""

    marks: Annotated[list[Mark], Field(max_length=500)]


@router.put("/captures/{capture_id}/marks", responses=OUTDATED)
def put_marks(capture_id: int, wanted: Marks, database: DatabaseOf, made_from: MadeFrom, response: Response) -> Marks:
    marks, version = set_marks(database, capture_id, wanted.marks, made_from)
    tag(response, version)
    return Marks(marks=marks)


@router.delete("/captures/{capture_id}", status_code=204)
def remove_capture(capture_id: int, database: DatabaseOf) -> None:
    captures.remove_capture(database, capture_id)


@router.post("/captures/{capture_id}/restoration")
def restore_capture(capture_id: int, database: DatabaseOf) -> ImportedCapture:
    return captures.restore_capture(database, capture_id)


class ChannelFilter(BaseModel):
    """The corner of a low-pass without delay; null switches it off."""

    filter_hz: Hertz | None


@router.put("/captures/{capture_id}/channels/{column}/filter", responses=OUTDATED)
def set_filter(
    capture_id: int, column: str, wanted: ChannelFilter, database: DatabaseOf, made_from: MadeFrom
) -> ImportedCapture:
    return captures.set_filter(database, capture_id, column, wanted.filter_hz, made_from)


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


class Window(BaseModel):
    """The stretch that is looked at (the whole capture where not said) and how many steps of it are shown, about."""

    from_s: Seconds | None = None
    to_s: Seconds | None = None
    points: Annotated[int, Field(ge=16, le=20_000)] = 1600


@router.get(
    "/captures/{capture_id}/raw",
    response_class=Response,
    responses={200: {"content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}}}},
)
def get_raw(
    capture_id: int,
    database: DatabaseOf,
    window: Annotated[Window, Query()],
) -> Response:
    """All channels as bands between minimum and maximum: a uint32 with the length of the head, the head (RawTrace) as
    JSON, then per channel its minima and its maxima as little endian float32."""
    return Response(
        packed(*raw_trace(database, capture_id, window.from_s, window.to_s, window.points)),
        media_type="application/octet-stream",
    )


@router.get("/captures/{capture_id}/raw-head")
def get_raw_head(
    capture_id: int,
    database: DatabaseOf,
    window: Annotated[Window, Query()],
) -> RawTrace:
    """The head of the same answer alone."""
    return raw_trace(database, capture_id, window.from_s, window.to_s, window.points)[0]


@router.get("/captures/{capture_id}/edges")
def get_edges(
    capture_id: int,
    database: DatabaseOf,
    from_s: Moment,
    to_s: Moment,
) -> EdgesInSpan:
    """Edges of the switching signals in a stretch of time, for rulers."""
    return edges_in_span(database, capture_id, from_s, to_s)


@router.get("/captures/{capture_id}/between")
def get_between(
    capture_id: int,
    database: DatabaseOf,
    a_s: Moment,
    b_s: Moment,
) -> Between:
    """What lies between two rulers."""
    return between(database, capture_id, a_s, b_s)


@router.get("/captures/{capture_id}/export", response_class=Response)
def get_export(
    capture_id: int, database: DatabaseOf, format: Literal["CSV", "WAV", "HDF5", "MDF4", "Parquet"]
) -> Response:
    """The capture in another open format, its description inside."""
    return _file(*export_capture(database, capture_id, format))


@router.get("/captures/{capture_id}/bundle", response_class=Response)
def get_bundle(capture_id: int, database: DatabaseOf, with_vehicle: bool = True) -> Response:
    """One zip with data, description, engine and result, to hand to a colleague."""
    return _file(*export_bundle(database, capture_id, with_vehicle=with_vehicle))


@router.post("/bundles", status_code=201)
def add_bundle(bundle: Annotated[UploadFile, File()], database: DatabaseOf) -> JobSummary:
    """Opens a job with what a colleague's bundle holds."""
    with progress.in_line(progress.begin(None)):
        return import_bundle(database, bundle.filename or "bundle", _content(bundle))


@router.get("/captures/{capture_id}/files/{role}", response_class=Response)
def get_original(capture_id: int, role: Literal["description", "data"], database: DatabaseOf) -> Response:
    """An original file, byte for byte as it came."""
    return _file(*original_file(database, capture_id, role))


_MAPPED_FROM = 4 << 20


def _content(upload: UploadFile) -> FileBytes:
    """What was sent; a large file lies on the disk already and is mapped from there."""
    if (upload.size or 0) < _MAPPED_FROM:
        return upload.file.read()
    return mmap.mmap(upload.file.fileno(), 0, access=mmap.ACCESS_READ)


def _file(name: str, content: bytes) -> Response:
    disposition = f"attachment; filename*=UTF-8''{quote(name)}"
    return Response(content, media_type="application/octet-stream", headers={"content-disposition": disposition})


@router.get("/captures/{capture_id}/sensor-test")
def get_sensor_test(capture_id: int, database: DatabaseOf) -> SensorTest:
    """A sensor tested on a stand: its timeline beside a healthy one's, and what it says."""
    return sensor_test(database, capture_id)
