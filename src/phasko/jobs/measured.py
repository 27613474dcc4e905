"""Stored captures as they are measured: the only place that measures them, so that one capture has one answer.

Call, turn strip, compression picture, rulers and learning all read from here, against the same known good captures.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Sequence
from dataclasses import dataclass, replace

from sqlalchemy.orm import Session

from phasko.code_hash import code_hash
from phasko.core import numbers
from phasko.core.capture.known_good import KnownGoodCaptures, known_good_captures, measure_against
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents import CaptureDescription, EngineProfile, parse_document
from phasko.core.documents.job import Compare
from phasko.core.errors import NotFoundError, PhaskoError
from phasko.jobs.remembered import Remembered
from phasko.jobs.told import job_told
from phasko.store import Database, captures, jobs
from phasko.store.models import Capture, EngineVersion, Job

__all__ = [
    "CaptureState",
    "JobState",
    "engine_state",
    "forget_measured",
    "job_state",
    "known_good_measured",
    "measured_as",
    "measured_capture",
    "measured_captures",
    "measured_from",
]

_MOST_KNOWN_GOOD = 24
"""Of the newest known good captures: more tell little that these do not, and each is measured."""

_measured: Remembered[CaptureMeasurement] = Remembered(96)
"""Without their samples: a few hundred kilobytes each."""
_known_good: Remembered[KnownGoodCaptures] = Remembered(32)


@dataclass(frozen=True, slots=True)
class CaptureState:
    """A stored capture as it stands: its number, and a hash over its file and what is said about it."""

    id: int
    sha256: str
    state: str


@dataclass(frozen=True, slots=True)
class JobState:
    """Everything that measuring a job's captures rests on: engine, captures, known good ones."""

    engine_name: str
    engine_document: str
    engine_sha256: str
    captures: tuple[CaptureState, ...]
    known_good: tuple[CaptureState, ...]
    allowed: tuple[str, ...] = ()
    """Files of known good captures that a person compares with whatever their state."""

    @property
    def profile(self) -> EngineProfile:
        """Raises DocumentError where the stored profile cannot be read."""
        return parse_document(self.engine_document, EngineProfile, self.engine_name)

    @property
    def against(self) -> str:
        """A key of what a capture is measured against: profile, known good captures, numbers, code."""
        parts = [
            self.engine_sha256,
            numbers.digest(),
            code_hash(),
            *(one.state for one in self.known_good),
            *self.allowed,
        ]
        return _hash(*parts)


def job_state(session: Session, job_id: int) -> JobState:
    """How a job stands now; its captures are those whose channels were confirmed. Raises NotFoundError."""
    return _state(session, jobs.get_job(session, job_id), captures.measurable_captures(session, job_id))


def measured_captures(database: Database, state: JobState) -> list[CaptureMeasurement]:
    """The captures of a job, measured. Raises DocumentError where the stored profile cannot be read."""
    return [_measurement(database, state, capture) for capture in state.captures]


def measured_capture(database: Database, capture_id: int) -> tuple[CaptureMeasurement, EngineProfile]:
    """One capture, measured, and the profile that it is read with. Raises NotFoundError, also for a capture that was
    taken out."""
    with database.reading() as session:
        capture = captures.get_capture(session, capture_id)
        if capture.removed_at is not None:
            raise NotFoundError("This capture was taken out of its job", remedy="Bring it back to see it.")
        state = _state(session, jobs.get_job(session, capture.job_id), [capture])
    return _measurement(database, state, state.captures[0]), state.profile


def measured_as(database: Database, capture_id: int, description: CaptureDescription) -> CaptureMeasurement:
    """One capture as it would be measured under another description, which is stored nowhere. Raises NotFoundError."""
    with database.reading() as session:
        capture = captures.get_capture(session, capture_id)
        state = _state(session, jobs.get_job(session, capture.job_id), [capture])
        recording = captures.load_recording(session, capture)
    good = _known_good.get(state.against, lambda: _good_of(database, state))
    return measure_against(replace(recording, description=description), state.profile, good)


def engine_state(version: EngineVersion, good: Sequence[Capture]) -> JobState:
    """A state of no job: the known good captures of one kind of engine, read with that version of its profile."""
    return JobState(version.name, version.document, version.sha256, (), tuple(_capture_state(one) for one in good))


def known_good_measured(
    database: Database, state: JobState, capture_ids: Sequence[int]
) -> list[tuple[int, CaptureMeasurement]]:
    """Known good captures against the profile alone, by their number; one that cannot be read is left out."""
    alone = replace(state, known_good=(), allowed=())
    with database.reading() as session:
        states = [_capture_state(captures.get_capture(session, number)) for number in capture_ids]
    found = []
    for one in states:
        try:
            found.append((one.id, _alone(database, alone, one)))
        except PhaskoError:
            continue
    return found


def _alone(database: Database, alone: JobState, capture: CaptureState) -> CaptureMeasurement:
    return _measured.get(
        _hash(str(capture.id), capture.state, alone.against),
        lambda: _measure(database, alone, capture, KnownGoodCaptures()),
    )


def forget_measured() -> None:
    """Nothing of any capture stays in memory: some were erased."""
    _measured.forget()
    _known_good.forget()


def _state(session: Session, job: Job, own: Sequence[Capture]) -> JobState:
    engine, compare = job.engine_version, job_told(job).compare or Compare()
    every = captures.known_good_captures(session, engine.name, job.id)
    good = [one for one in every if one.name not in compare.left_out][-_MOST_KNOWN_GOOD:]
    return JobState(
        engine_name=engine.name,
        engine_document=engine.document,
        engine_sha256=engine.sha256,
        captures=tuple(_capture_state(capture) for capture in own),
        known_good=tuple(_capture_state(capture) for capture in good),
        allowed=tuple(sorted(compare.allowed)),
    )


def _capture_state(capture: Capture) -> CaptureState:
    return CaptureState(capture.id, capture.sha256, _hash(capture.sha256, measured_from(capture.description)))


def measured_from(description: str) -> str:
    """What is said of a capture and decides what is measured: marks only name moments, a title the whole."""
    try:
        said = json.loads(description)
    except ValueError:
        return description
    return json.dumps({key: value for key, value in said.items() if key not in ("marks", "title")}, sort_keys=True)


def _measurement(database: Database, state: JobState, capture: CaptureState) -> CaptureMeasurement:
    good = _known_good.get(state.against, lambda: _good_of(database, state))
    return _measured.get(
        _hash(str(capture.id), capture.state, state.against), lambda: _measure(database, state, capture, good)
    )


def _good_of(database: Database, state: JobState) -> KnownGoodCaptures:
    alone = replace(state, known_good=(), allowed=())
    measured = [_alone(database, alone, capture) for capture in state.known_good]
    return known_good_captures(measured, state.allowed)


def _measure(database: Database, state: JobState, capture: CaptureState, good: KnownGoodCaptures) -> CaptureMeasurement:
    with database.reading() as session:
        recording = captures.load_recording(session, captures.get_capture(session, capture.id))
    found = measure_against(recording, state.profile, good)
    return replace(found, recording=found.recording.without_samples())


def _hash(*parts: str) -> str:
    return hashlib.sha256("\n".join(parts).encode()).hexdigest()
