"""Analysing a stored job, and the picture of one of its captures."""

from __future__ import annotations

import hashlib
from collections.abc import Callable

from pydantic import BaseModel, ConfigDict

from phasko import __version__
from phasko.core import numbers
from phasko.core.analyse import HashedCapture, analyse_job
from phasko.core.chain import pitches_of
from phasko.core.documents import Analysis, EngineProfile, parse_document
from phasko.core.errors import NotFoundError
from phasko.core.measure import measure_capture
from phasko.core.recording import Recording
from phasko.core.seal import SealView, seal_view
from phasko.core.turn_strip import TurnStrip, turn_strip
from phasko.jobs.remembered import Remembered, state_key
from phasko.store import Database, captures, jobs, results

__all__ = ["JobAnalysis", "analyse_stored_job", "newest_analysis", "phase_strip", "seal_picture"]

_strips: Remembered[TurnStrip] = Remembered(16)
_seals: Remembered[SealView | None] = Remembered(16)


class JobAnalysis(BaseModel):
    """A job's result document with the stored captures it speaks about, in the same order."""

    model_config = ConfigDict(frozen=True)
    capture_ids: list[int]
    analysis: Analysis


def analyse_stored_job(database: Database, job_id: int) -> JobAnalysis | None:
    """The result of a stored job: the stored one while nothing it rests on changed, else a new one, which is stored.

    ``None`` while the job has no captures that were confirmed. Samples are read in one transaction, the work is done
    outside any, the result is written in a second, short one.
    """
    with database.transaction() as session:
        job = jobs.get_job(session, job_id)
        stored = captures.measurable_captures(session, job_id)
        if not stored:
            return None
        ids = [capture.id for capture in stored]
        hashes = [_state_hash(capture.sha256, capture.description) for capture in stored]
        engine = job.engine_version
        key = results.result_key(job_id, hashes, engine.sha256, numbers.NUMBERS_VERSION, __version__)
        held = results.find_result(session, key)
        if held is not None:
            return JobAnalysis(capture_ids=ids, analysis=Analysis.model_validate_json(held.document))
        hashed = [HashedCapture(captures.load_recording(session, c), c.sha256) for c in stored]
        document, engine_sha256 = engine.document, engine.sha256
    profile = parse_document(document, EngineProfile, engine.name)
    analysis = analyse_job(hashed, profile, engine_sha256)
    with database.transaction() as session:
        results.store_result(session, job_id, key, analysis.model_dump_json(by_alias=True))
    return JobAnalysis(capture_ids=ids, analysis=analysis)


def _state_hash(sha256: str, description: str) -> str:
    """What a result rests on: the files as they came, and the description as it stands now."""
    return hashlib.sha256(f"{sha256}:{description}".encode()).hexdigest()


def newest_analysis(database: Database, job_id: int) -> Analysis | None:
    """The last stored result, for lists; it may be stale."""
    with database.transaction() as session:
        held = results.newest_result(session, job_id)
        return None if held is None else Analysis.model_validate_json(held.document)


def seal_picture(database: Database, capture_id: int) -> SealView | None:
    """Relative compression of one capture as a picture; ``None`` where it shows none. Raises NotFoundError."""
    recording, profile, key = _readable(database, capture_id)

    def draw() -> SealView | None:
        measured = measure_capture(recording(), profile)
        return None if measured.compression is None else seal_view(measured.compression, profile, measured.firings)

    return _seals.get(key, draw)


def _readable(database: Database, capture_id: int) -> tuple[Callable[[], Recording], EngineProfile, str]:
    """(how to read its samples, the profile, the key of its present state). Raises NotFoundError."""
    with database.transaction() as session:
        capture = captures.get_capture(session, capture_id)
        if capture.removed_at is not None:
            raise NotFoundError("This capture was taken out of its job", remedy="Bring it back to see it.")
        engine = jobs.get_job(session, capture.job_id).engine_version
        key = state_key(capture, engine)
    profile = parse_document(engine.document, EngineProfile, engine.name)

    def read() -> Recording:
        with database.transaction() as session:
            return captures.load_recording(session, captures.get_capture(session, capture_id))

    return read, profile, key


def phase_strip(database: Database, capture_id: int) -> TurnStrip:
    """The unrolled picture of one capture, measured from its samples. Raises NotFoundError."""
    recording, profile, key = _readable(database, capture_id)

    def draw() -> TurnStrip:
        return _strip(recording(), profile)

    return _strips.get(key, draw)


def _strip(recording: Recording, profile: EngineProfile) -> TurnStrip:
    measured = measure_capture(recording, profile)
    pitches: dict[str, float | None] = {}
    for reading in measured.cams:
        if reading.offset is not None:
            counted = pitches_of(reading.offset.offset.value, profile.drive, reading.cam.id)
            pitches[reading.cam.id] = None if counted is None else counted.pitches
    return turn_strip(measured, pitches)
