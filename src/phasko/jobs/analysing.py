"""Analysing a stored job, and the pictures of one of its captures."""

from __future__ import annotations

import threading
from dataclasses import dataclass

from pydantic import BaseModel, ConfigDict, ValidationError
from sqlalchemy.orm import Session

from phasko.code_hash import code_hash, software_label
from phasko.core import numbers
from phasko.core.analyse import Beside, result_document
from phasko.core.breathing.view import BreathingView, breathing_view
from phasko.core.capture.cylinder_view import CylinderPicture, cylinder_picture
from phasko.core.capture.turn_strip import TurnStrip, turn_strip
from phasko.core.compression.view import CompressionView, compression_view
from phasko.core.documents import Analysis, CaptureDescription, EngineProfile, parse_document
from phasko.core.documents.capture import Command, HandCorner
from phasko.core.documents.engine import TypicalFailure
from phasko.core.documents.job import JobDocument
from phasko.core.engine.timing_drive import pitches_of
from phasko.core.errors import DocumentError, RefusedError
from phasko.core.evidence import JobEvidence
from phasko.core.phasers import SweepPicture, sweep_pictures
from phasko.core.road import judge_road_test
from phasko.core.why import Why, whys
from phasko.formats import read_scan_log
from phasko.jobs.captures import ImportedCapture, rewrite_description
from phasko.jobs.logbook.heads import head_of
from phasko.jobs.logbook.own_odds import typical_here
from phasko.jobs.measured import JobState, job_state, measured_capture, measured_captures
from phasko.jobs.told import job_told, readable_looks
from phasko.store import Database, jobs, looks, results
from phasko.store.models import Result

__all__ = [
    "JobAnalysis",
    "Rests",
    "SealPicture",
    "analyse_stored_job",
    "cylinder_station",
    "job_evidence",
    "job_whys",
    "judged",
    "judged_anew",
    "mark_corner",
    "new_result",
    "newest_analysis",
    "note_commands",
    "phase_strip",
    "phaser_sweeps",
    "readable_result",
    "rests_on",
    "result_key_of",
    "seal_picture",
    "unmark_corner",
]

_NOT_WEIGHED = {"closing", "notes", "holder", "waiting_for", "ordered", "for_owner"}
"""What is told of a job and changes no result."""
_ONE_AT_A_TIME = [threading.Lock() for _ in range(16)]


class SealPicture(BaseModel):
    """What the Seal station shows of one capture."""

    model_config = ConfigDict(frozen=True)
    seal: CompressionView
    breathing: BreathingView


class JobAnalysis(BaseModel):
    """A job's result document with the stored captures it speaks about, in the same order. ``older``: which version
    made it, where the one that runs now has not been asked, or nobody has taken over what it says."""

    model_config = ConfigDict(frozen=True)
    capture_ids: list[int]
    analysis: Analysis
    older: str | None = None


def analyse_stored_job(database: Database, job_id: int) -> JobAnalysis | None:
    """The result of a stored job: the stored one while nothing it rests on changed, else a new one, which is stored.

    ``None`` while the job has no captures that were confirmed, no look and no road test. What it rests on is read in
    one transaction, the work is done outside any, the result is written in a second, short one. Two that ask for the
    same job at once wait for one answer. Raises NotFoundError.
    """
    with _ONE_AT_A_TIME[job_id % len(_ONE_AT_A_TIME)]:
        return _analyse(database, job_id)


def job_whys(database: Database, job_id: int) -> list[Why]:
    """Why each number of the job's result is what it is; none while there is no result. Raises NotFoundError."""
    analysed = analyse_stored_job(database, job_id)
    if analysed is None:
        return []
    with database.reading() as session:
        version = jobs.get_job(session, job_id).engine_version
        profile = parse_document(version.document, EngineProfile, version.name)
    return whys(analysed.analysis, profile, analysed.capture_ids)


def _analyse(database: Database, job_id: int) -> JobAnalysis | None:
    known = _known(database, job_id)
    if known is None or isinstance(known, JobAnalysis):
        return known
    analysis = judged(database, known)
    with database.transaction() as session:
        results.store_result(session, new_result(job_id, known, analysis))
    return JobAnalysis(capture_ids=known.ids, analysis=analysis)


def new_result(job_id: int, rests: Rests, analysis: Analysis, *, standing: bool = True) -> results.NewResult:
    """A result as it is stored."""
    return results.NewResult(
        job_id=job_id,
        key=rests.key,
        document=analysis.model_dump_json(by_alias=True),
        head=head_of(analysis).model_dump_json(exclude_defaults=True),
        rests=rests.rests,
        software=software_label(),
        numbers=numbers.digest(),
        standing=standing,
    )


def result_key_of(session: Session, job_id: int) -> str | None:
    """A key of everything that the result of a job rests on; ``None`` while there is nothing to analyse. Raises
    NotFoundError."""
    rests = rests_on(session, job_id)
    return rests.key if rests.anything else None


def judged_anew(database: Database, job_id: int) -> tuple[Analysis, EngineProfile]:
    """The result of a job as it would be now, and the profile that it is read with; nothing is stored. Raises
    NotFoundError."""
    with database.reading() as session:
        rests = rests_on(session, job_id)
    return judged(database, rests), rests.state.profile


def judged(database: Database, rests: Rests) -> Analysis:
    """The result that rests on that, as this version sees it; nothing is stored."""
    profile = rests.state.profile
    files = [capture.sha256 for capture in rests.state.captures]
    measured = measured_captures(database, rests.state)
    return result_document(measured, profile, files, rests.state.engine_sha256, rests.beside(profile))


def _known(database: Database, job_id: int) -> JobAnalysis | Rests | None:
    """The stored result, or what a new one rests on; ``None`` while there is nothing to analyse. A result of an older
    version stands until somebody has seen what is different and takes it over."""
    with database.reading() as session:
        rests = rests_on(session, job_id)
        if not rests.anything:
            return None
        row = results.standing_result(session, job_id, rests.rests)
        held = readable_result(row)
        older = row.software.removeprefix("phasko ") if row is not None and row.key != rests.key else None
    return JobAnalysis(capture_ids=rests.ids, analysis=held, older=older) if held is not None else rests


@dataclass(frozen=True, slots=True, eq=False)
class Rests:
    """Everything that a job's result rests on, as it was read in one transaction: ``rests`` is its key, ``key`` that of
    all of it with the software and its numbers."""

    state: JobState
    seen: tuple[str, ...]
    drives: tuple[tuple[str, str, bytes], ...]
    told: JobDocument
    workshop: tuple[TypicalFailure, ...]
    rests: str
    key: str

    @property
    def anything(self) -> bool:
        """Whether there is anything to analyse."""
        return bool(self.state.captures or self.seen or self.drives)

    @property
    def ids(self) -> list[int]:
        return [capture.id for capture in self.state.captures]

    def beside(self, profile: EngineProfile) -> Beside:
        """What is known besides the captures."""
        return Beside(
            tuple(look for _, look in readable_looks(enumerate(self.seen))),
            tuple(judge_road_test(read_scan_log(data, name), name, profile) for name, _, data in self.drives),
            self.told,
            self.workshop,
        )


def rests_on(session: Session, job_id: int) -> Rests:
    """What the result of a job rests on now. Raises NotFoundError."""
    state = job_state(session, job_id)
    seen = tuple(look.document for look in looks.looks_of(session, job_id))
    drives = tuple((road.name, road.sha256, road.data) for road in looks.road_tests_of(session, job_id))
    told = job_told(jobs.get_job(session, job_id))
    workshop = typical_here(session)
    hashes = [capture.state for capture in state.captures]
    hashes += [f"good:{capture.state}" for capture in state.known_good]
    hashes += [f"look:{document}" for document in seen]
    hashes += [f"road:{sha256}" for _, sha256, _ in drives]
    hashes.append(f"told:{told.model_dump_json(exclude=_NOT_WEIGHED)}")
    hashes += [f"here:{one.fault} {one.factor}" for one in workshop]
    alike = results.result_key(job_id, hashes, state.engine_sha256, "", "")
    key = results.result_key(job_id, hashes, state.engine_sha256, numbers.digest(), code_hash())
    return Rests(state, seen, drives, told, workshop, rests=alike, key=key)


def job_evidence(database: Database, job_id: int) -> JobEvidence:
    """Everything that is known of a stored job, measured. Raises NotFoundError."""
    with database.reading() as session:
        rests = rests_on(session, job_id)
    profile = rests.state.profile
    beside = rests.beside(profile)
    measured = measured_captures(database, rests.state)
    return JobEvidence(profile, measured, beside.every_look, beside.roads, beside.told, beside.workshop)


def newest_analysis(database: Database, job_id: int) -> Analysis | None:
    """The last stored result, for lists; it may be stale."""
    with database.reading() as session:
        return readable_result(results.newest_result(session, job_id))


def readable_result(held: Result | None) -> Analysis | None:
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
    measured, profile = measured_capture(database, capture_id)
    # A stretch chosen earlier from which nothing can be judged any more leaves the whole capture to look at.
    compression = measured.compression or measured.compression_whole
    if compression is None:
        return None
    return SealPicture(
        seal=compression_view(compression, profile, measured.firings, measured.recording.description),
        breathing=breathing_view(measured.pulses, measured.manifolds, profile),
    )


def cylinder_station(database: Database, capture_id: int) -> CylinderPicture | None:
    """The felt cylinders of one capture as a picture; ``None`` where none was felt. Raises NotFoundError."""
    measured, _ = measured_capture(database, capture_id)
    return cylinder_picture(measured)


def mark_corner(database: Database, capture_id: int, corner: HandCorner) -> ImportedCapture:
    """A valve corner as a person sees it, instead of the one that was found. Raises NotFoundError, and RefusedError
    where that cylinder was not felt in that state or its own TDC is not known."""
    measured, _ = measured_capture(database, capture_id)
    if not any(f.cylinder == corner.cylinder and f.segment == corner.segment and f.line for f in measured.felt):
        raise RefusedError(
            f"The TDC of cylinder {corner.cylinder} is not known while {corner.segment}; no angle counts from it",
            kept="The marks are as they were",
            remedy="Record that cylinder's pressure without fuel and spark.",
        )
    return rewrite_description(database, capture_id, lambda said: _corners([*_other_corners(said, corner), corner]))


def unmark_corner(database: Database, capture_id: int, corner: HandCorner) -> ImportedCapture:
    """Takes a corner that was set by hand away, so that the one that was found counts again. Raises NotFoundError."""
    return rewrite_description(database, capture_id, lambda said: _corners(_other_corners(said, corner)))


def _other_corners(said: CaptureDescription, corner: HandCorner) -> list[HandCorner]:
    return [one for one in said.hand_corners if not one.same_place(corner)]


def _corners(corners: list[HandCorner]) -> dict[str, object]:
    return {"hand_corners": [corner.model_dump(mode="json") for corner in corners]}


def phaser_sweeps(database: Database, capture_id: int) -> list[SweepPicture]:
    """Every phaser that was driven in a capture, as a picture. Raises NotFoundError."""
    measured, profile = measured_capture(database, capture_id)
    return sweep_pictures(measured.sweeps, measured.recording, profile)


def note_commands(
    database: Database, capture_id: int, commands: list[Command], made_from: int | None = None
) -> ImportedCapture:
    """When a scan tool drove which phaser, in place of what was noted before. Raises NotFoundError, DocumentError for a
    cam that the engine lacks, and OutdatedError where somebody has noted something else since."""
    _, profile = measured_capture(database, capture_id)
    unknown = [one.cam for one in commands if profile.cam(one.cam) is None]
    if unknown:
        raise DocumentError(f"this engine has no cam {unknown[0]}", place="commands", kept="They are as they were")
    said = [one.model_dump(mode="json", exclude_none=True) for one in commands]
    return rewrite_description(database, capture_id, lambda _: {"commands": said}, made_from)


def phase_strip(database: Database, capture_id: int) -> TurnStrip:
    """The unrolled picture of one capture. Raises NotFoundError."""
    measured, profile = measured_capture(database, capture_id)
    pitches: dict[str, float | None] = {}
    for reading in measured.cams:
        if reading.offset is not None:
            counted = pitches_of(reading.offset.offset.value, profile.drive, reading.cam.id)
            pitches[reading.cam.id] = None if counted is None else counted.pitches
    return turn_strip(measured, pitches)
