"""Keeping captures of sound engines, and which of them a job is compared with."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.crank.segments import SegmentKind
from phasko.core.documents import CaptureDescription, EngineProfile
from phasko.core.documents.capture import HowGood, KnownGoodOf
from phasko.core.documents.job import Compare
from phasko.core.errors import RefusedError
from phasko.core.phase.reference import run_state, unlike
from phasko.jobs.captures import ImportedCapture, rewrite_description
from phasko.jobs.measured import job_state, known_good_measured
from phasko.jobs.told import job_told
from phasko.store import Database, captures, jobs
from phasko.store.audit import check_version

__all__ = ["KnownGoodLibrary", "keep_as_known_good", "library_of_job"]


class GoodCam(BaseModel):
    """One cam of a known good capture against the profile."""

    model_config = ConfigDict(frozen=True)
    cam: str
    segment: SegmentKind
    offset_deg: float
    u95_deg: float


class GoodRow(BaseModel):
    """One known good capture of the engine. ``differs``: in what its state is another one than that of this job's
    captures; ``compared``: it is among those that the job is compared with."""

    model_config = ConfigDict(frozen=True)
    capture_id: int
    job_id: int
    vehicle: str
    name: str
    file: str
    recorded: str
    how: HowGood | None
    note: str
    segments: list[SegmentKind]
    temperature: str
    phasers: str
    throttle: str
    cams: list[GoodCam]
    differs: list[str]
    compared: bool
    left_out: bool
    allowed: bool


class KnownGoodLibrary(BaseModel):
    """All known good captures of the engine of a job, the newest first."""

    model_config = ConfigDict(frozen=True)
    engine: str
    engine_id: int
    rows: list[GoodRow]


def keep_as_known_good(
    database: Database, capture_id: int, about: KnownGoodOf | None, made_from: int | None = None
) -> ImportedCapture:
    """Keeps a capture of a sound engine with how that is known, so that others of its kind are compared with it; or no
    longer (``None``). Raises NotFoundError, OutdatedError where somebody has changed that since, and RefusedError for
    a capture of which nobody has said what its channels are."""
    with database.transaction() as session:
        capture = captures.get_capture(session, capture_id)
        check_version(session, capture, made_from, {"known good"})
        if about is not None and capture.confirmed_at is None:
            raise RefusedError(
                "Nobody has said yet what its channels are",
                kept="The capture is as it was",
                remedy="Confirm its channels first.",
            )
        captures.keep_as_known_good(capture, about is not None)
    said = None if about is None else about.model_dump(mode="json")
    return rewrite_description(database, capture_id, lambda _: {"known_good": said})


def library_of_job(database: Database, job_id: int) -> KnownGoodLibrary:
    """The known good captures of a job's kind of engine, and how each stands against the profile. Raises
    NotFoundError."""
    with database.reading() as session:
        job = jobs.get_job(session, job_id)
        compare = job_told(job).compare or Compare()
        engine = job.engine_version
        stored = captures.known_good_captures(session, engine.name, job_id)
        about = [(c.id, c.job_id, c.name, c.created_at, jobs.get_job(session, c.job_id).vehicle.name) for c in stored]
        own = [captures.described(c) for c in captures.measurable_captures(session, job_id)]
        state = job_state(session, job_id)
    measured = dict(known_good_measured(database, state, [one[0] for one in about]))
    rows = []
    for capture_id, of_job, name, created, vehicle in reversed(about):
        capture = measured.get(capture_id)
        if capture is None:
            continue
        description = capture.recording.description
        differs = _differs(own, capture, state.profile)
        left_out, allowed = name in compare.left_out, name in compare.allowed
        rows.append(
            GoodRow(
                capture_id=capture_id,
                job_id=of_job,
                vehicle=vehicle,
                name=name.removesuffix(".capture.json"),
                file=name,
                recorded=str(description.recorded_at or created)[:10],
                how=description.known_good.how if description.known_good is not None else None,
                note=description.known_good.note if description.known_good is not None else "",
                segments=list(dict.fromkeys(r.segment for r in capture.cams if r.relative is not None)),
                temperature=description.temperature,
                phasers=description.phasers,
                throttle=description.throttle,
                cams=_cams(capture),
                differs=differs,
                compared=not left_out and (allowed or not differs),
                left_out=left_out,
                allowed=allowed,
            )
        )
    return KnownGoodLibrary(engine=engine.name, engine_id=engine.id, rows=rows)


def _cams(capture: CaptureMeasurement) -> list[GoodCam]:
    return [
        GoodCam(cam=r.cam.id, segment=r.segment, offset_deg=r.relative.offset.value, u95_deg=r.relative.offset.u95)
        for r in capture.cams
        if r.relative is not None and not r.swapped
    ]


def _differs(own: list[CaptureDescription], good: CaptureMeasurement, profile: EngineProfile) -> list[str]:
    """In what its state differs from every capture of the job; nothing where one of them has its state."""
    found: list[str] | None = None
    kinds: list[SegmentKind] = list(dict.fromkeys(r.segment for r in good.cams if r.relative is not None))
    for description in own:
        for kind in kinds:
            state = run_state(good.recording.description, kind)
            mine = run_state(description, kind)
            words = sorted({w for cam in profile.cams for w in unlike(mine, state, cam)})
            if not words:
                return []
            if found is None or len(words) < len(found):
                found = words
    return found or []
