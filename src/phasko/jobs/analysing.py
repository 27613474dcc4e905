"""Analysing a stored job, and the picture of one of its captures."""

from __future__ import annotations

import hashlib
import threading
from collections.abc import Callable

from pydantic import BaseModel, ConfigDict, ValidationError

from phasko import __version__
from phasko.core import numbers
from phasko.core.analyse import Beside, HashedCapture, analyse_job, known_good, with_size
from phasko.core.breathing import BreathingView, breathing_view
from phasko.core.capture.steps import measure_capture
from phasko.core.capture.turn_strip import TurnStrip, turn_strip
from phasko.core.compression import CompressionView, compression_view
from phasko.core.documents import Analysis, EngineProfile, parse_document
from phasko.core.engine.timing_drive import pitches_of
from phasko.core.errors import NotFoundError
from phasko.core.looks import Look
from phasko.core.road import judge_road_test
from phasko.core.signals.recording import Recording
from phasko.formats import read_scan_log
from phasko.jobs.remembered import Remembered, state_key
from phasko.store import Database, captures, jobs, looks, results
from phasko.store.models import Result

__all__ = ["JobAnalysis", "SealPicture", "analyse_stored_job", "newest_analysis", "phase_strip", "seal_picture"]

_ONE_AT_A_TIME = [threading.Lock() for _ in range(16)]

_MOST_REFERENCES = 12
"""Of the newest known good captures: more tell little that these do not, and each is measured."""


class SealPicture(BaseModel):
    """What the Seal station shows of one capture."""

    model_config = ConfigDict(frozen=True)
    seal: CompressionView
    breathing: BreathingView


class JobAnalysis(BaseModel):
    """A job's result document with the stored captures it speaks about, in the same order."""

    model_config = ConfigDict(frozen=True)
    capture_ids: list[int]
    analysis: Analysis


_strips: Remembered[TurnStrip] = Remembered(16)
_seals: Remembered[SealPicture | None] = Remembered(16)


def analyse_stored_job(database: Database, job_id: int) -> JobAnalysis | None:
    """The result of a stored job: the stored one while nothing it rests on changed, else a new one, which is stored.

    ``None`` while the job has no captures that were confirmed, no look and no road test. Everything is read in one
    transaction, the work is done outside any, the result is written in a second, short one. Two that ask for the same
    job at once wait for one answer.
    """
    with _ONE_AT_A_TIME[job_id % len(_ONE_AT_A_TIME)]:
        return _analyse(database, job_id)


def _analyse(database: Database, job_id: int) -> JobAnalysis | None:
    with database.transaction() as session:
        job = jobs.get_job(session, job_id)
        stored = captures.measurable_captures(session, job_id)
        if not stored and not looks.looks_of(session, job_id) and not looks.road_tests_of(session, job_id):
            return None
        ids = [capture.id for capture in stored]
        hashes = [_state_hash(capture.sha256, capture.description) for capture in stored]
        engine = job.engine_version
        good = captures.known_good_captures(session, engine.name, job_id)
        hashes += [f"good:{_state_hash(capture.sha256, capture.description)}" for capture in good]
        seen = [look.document for look in looks.looks_of(session, job_id)]
        drives = [(road.name, road.sha256, road.data) for road in looks.road_tests_of(session, job_id)]
        hashes += [f"look:{document}" for document in seen]
        hashes += [f"road:{sha256}" for _, sha256, _ in drives]
        key = results.result_key(job_id, hashes, engine.sha256, numbers.digest(), __version__)
        known = _readable_result(results.find_result(session, key))
        if known is not None:
            return JobAnalysis(capture_ids=ids, analysis=known)
        hashed = [HashedCapture(captures.load_recording(session, c), c.sha256) for c in stored]
        references = [captures.load_recording(session, c) for c in good[-_MOST_REFERENCES:]]
        document, engine_sha256 = engine.document, engine.sha256
    profile = parse_document(document, EngineProfile, engine.name)
    beside = Beside(
        tuple(Look.model_validate_json(document) for document in seen),
        tuple(judge_road_test(read_scan_log(data, name), name, profile) for name, _, data in drives),
    )
    analysis = analyse_job(hashed, profile, engine_sha256, references, beside)
    with database.transaction() as session:
        results.store_result(session, job_id, key, analysis.model_dump_json(by_alias=True))
    return JobAnalysis(capture_ids=ids, analysis=analysis)


def _state_hash(sha256: str, description: str) -> str:
    """What a result rests on: the files as they came, and the description as it stands now."""
    return hashlib.sha256(f"{sha256}:{description}".encode()).hexdigest()


def newest_analysis(database: Database, job_id: int) -> Analysis | None:
    """The last stored result, for lists; it may be stale."""
    with database.transaction() as session:
        return _readable_result(results.newest_result(session, job_id))


def _readable_result(held: Result | None) -> Analysis | None:
    """A stored result; ``None`` too for one that this version cannot read: it is then worked out anew."""
    if held is None:
        return None
    try:
        return Analysis.model_validate_json(held.document)
    except ValidationError:
        return None


def seal_picture(database: Database, capture_id: int) -> SealPicture | None:
    """Relative compression and breathing of one capture as a picture; ``None`` where it shows none. Raises
    NotFoundError."""
    recording, profile, key = _readable(database, capture_id)
    with database.transaction() as session:
        job = jobs.get_job(session, captures.get_capture(session, capture_id).job_id)
        good = captures.known_good_captures(session, job.engine_version.name, job.id)[-_MOST_REFERENCES:]
        key += "".join(_state_hash(capture.sha256, capture.description) for capture in good)
        numbers_of_good = [capture.id for capture in good]

    def draw() -> SealPicture | None:
        with database.transaction() as session:
            known = [captures.load_recording(session, captures.get_capture(session, i)) for i in numbers_of_good]
        own = recording()
        measured = with_size(measure_capture(own, profile), known_good(known, profile)[1])
        if measured.compression is None:
            return None
        return SealPicture(
            seal=compression_view(measured.compression, profile, measured.firings, own.description),
            breathing=breathing_view(measured.pulses, measured.manifolds, profile),
        )

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
