"""The recordings that run on this server, one a job at most: started, watched, marked, stopped."""

from __future__ import annotations

import hashlib
import math
import threading
import uuid
from contextlib import ExitStack
from datetime import UTC, datetime
from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from phasko.core.documents import CaptureDescription, EngineProfile, parse_document
from phasko.core.documents.analysis import Finding
from phasko.core.documents.capture import Condition, Mark, Phasers, ScanRow
from phasko.core.documents.job import JobDocument
from phasko.core.errors import NotFoundError, RefusedError
from phasko.core.live import Adjusting, LiveReading, adjusting, live_finding
from phasko.core.words import angle_words
from phasko.jobs.recording.leads import Armed, ready_to_record, set_up
from phasko.jobs.recording.recorder import Recorder, RecorderState
from phasko.jobs.recording.ring import Levels
from phasko.jobs.recording.scanning import Scan, read_codes
from phasko.jobs.recording.simulated import Doing, Instruments, car_sheet
from phasko.jobs.recording.views import LaneView, LiveView, lane_views, live_view
from phasko.jobs.told import job_document
from phasko.store import Database, jobs
from phasko.store.arriving import arriving

__all__ = ["RecordingView", "Recordings", "StartRecording", "StripView"]


class EngineSaid(BaseModel):
    """The state of the engine in one row."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    condition: Condition | None = None
    phasers: Phasers = "unknown"
    temperature: Literal["cold", "hot", "unknown"] = "unknown"
    throttle: Literal["open", "closed", "unknown"] = "unknown"
    symptom: Literal["present", "absent", "unknown"] = "unknown"
    repair: Literal["before", "after"] | None = None


class StartRecording(BaseModel):
    """Which round of the hook-up is recorded, under which name, in which state of the engine."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    round: Annotated[int, Field(ge=0, le=20)] = 0
    name: Annotated[str, Field(max_length=80, pattern=r"^[\w .()-]*$")] = ""
    said: EngineSaid = Field(default_factory=EngineSaid)
    beside: bool = False


class LaneLevels(BaseModel):
    """Minimum and maximum in every step; ``None`` where nothing was received."""

    model_config = ConfigDict(frozen=True)
    low: list[float | None]
    high: list[float | None]


class StripView(BaseModel):
    """Levels to draw: of every channel minimum and maximum in steps, in the channel's own unit; ``so_far`` those of the
    first channel that is worth seeing whole."""

    model_config = ConfigDict(frozen=True)
    seconds: float
    start_s: float
    step_s: float
    lanes: list[LaneLevels]
    so_far_step_s: float
    so_far: LaneLevels


class RecordingView(BaseModel):
    """How a recording stands, and what it reads so far."""

    model_config = ConfigDict(frozen=True)
    phase: Literal["starting", "recording", "stopping", "done", "failed"]
    capture_id: int
    name: str
    instrument: str
    question: str
    rate_hz: float
    seconds: float
    most_s: float
    samples: int
    lost: int
    late_blocks: int
    clock_off: float | None
    failure: str | None
    finding: Finding
    live: LiveView | None
    adjusting: AdjustingView | None
    lanes: list[LaneView]
    marks: list[Mark]
    scanned: ScanRow | None
    said: EngineSaid


class AdjustingView(BaseModel):
    """A drive that is turned: where it stands against its window, and its readings so far (deg), the oldest first."""

    model_config = ConfigDict(frozen=True)
    where: str
    mean_deg: float | None
    u95_deg: float | None
    jitter_deg: float | None
    window_deg: float
    body_deg: float | None
    spark_moves: bool | None
    words: str
    readings: list[float]


RecordingView.model_rebuild()


class Recordings:
    """All recordings of one server over one workshop's file."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._lock = threading.Lock()
        self._running: dict[int, Recorder] = {}
        self._kept: dict[int, ExitStack] = {}
        self.instruments = Instruments()

    def start(self, database: Database, job_id: int, asked: StartRecording) -> RecordingView:
        """Begins to record; ``database`` writes under the name of who asks. Raises NotFoundError, DeviceError, and
        RefusedError where a caution is not ticked or the job is being recorded already."""
        told = job_document(database, job_id)
        if told.repair is not None and asked.said.repair is None:
            # What is recorded once a repair was noted is of the engine after it.
            asked = asked.model_copy(update={"said": asked.said.model_copy(update={"repair": "after"})})
        profile, kept = self._car(database, job_id)
        armed = set_up(ready_to_record(profile, told, asked.round), asked.round, asked.beside)
        with self._lock:
            before = self._running.get(job_id)
            if before is not None and before.state().phase in ("starting", "recording", "stopping"):
                raise RefusedError(
                    "This job is being recorded already", kept="That goes on", remedy="Stop it first, or look at it."
                )
        turns = armed.plan.question.turns
        driven = tuple(lead.cam for lead in armed.leads if lead.role == "phaser_command" and lead.cam is not None)
        doing = Doing(turns, asked.said.temperature, asked.said.phasers, driven)
        car = car_sheet(profile, kept, doing, job_id)
        scope = self.instruments.scope(car)
        arming = ExitStack()
        arming.callback(scope.close)
        try:
            scope.arm(armed.setup)
            # Nothing is there to be read on the stand.
            tool = self.instruments.scan_tool(car) if turns != "bench" else None
            if tool is not None:
                arming.callback(tool.close)
            name = self._name(armed, asked)
            arrival = arming.enter_context(arriving(database, job_id, name, _own_number()))
            description = _described(armed, name, asked.said)
            arrival.describe(name, description, 1.0 / armed.setup.rate_hz)
            recorder = Recorder(scope, armed, profile, arrival, description, tool)
        except BaseException:
            arming.close()
            raise
        with self._lock:
            self._running[job_id], self._kept[job_id] = recorder, arming
        recorder.start()
        return self._view(job_id, recorder)

    def _car(self, database: Database, job_id: int) -> tuple[EngineProfile, str]:
        with database.reading() as session:
            job = jobs.get_job(session, job_id)
            version = job.engine_version
            return parse_document(version.document, EngineProfile, version.name), job.simulated_car

    def _name(self, armed: Armed, asked: StartRecording) -> str:
        now = datetime.now(UTC).strftime("%H%M%S")
        named = asked.name.strip() or f"{armed.plan.question.short.lower().replace(' ', '-')}-{now}"
        return f"{named}.capture.json"

    def view(self, job_id: int) -> RecordingView | None:
        """How the job's recording stands; ``None`` where none was begun since the server started."""
        with self._lock:
            recorder = self._running.get(job_id)
        return None if recorder is None else self._view(job_id, recorder)

    def strip(self, job_id: int, seconds: float, points: int) -> StripView:
        """Levels of the last seconds to draw. Raises NotFoundError."""
        recorder = self._known(job_id)
        last, whole = recorder.ring.drawn(seconds, points), recorder.ring.so_far()
        shown = _worth_seeing(recorder.leads)
        return StripView(
            seconds=recorder.ring.samples / recorder.leads.setup.rate_hz,
            start_s=last.start_s,
            step_s=last.step_s,
            lanes=[_pairs(last, i, recorder.leads) for i in range(last.low.shape[0])],
            so_far_step_s=whole.step_s,
            so_far=_pairs(whole, shown, recorder.leads),
        )

    def mark(self, job_id: int, text: str) -> Mark:
        """Marks this moment. Raises NotFoundError."""
        return self._known(job_id).mark(text)

    def name_mark(self, job_id: int, number: int, text: str) -> None:
        """Names a mark, counted from 0. Raises NotFoundError."""
        if not self._known(job_id).name_mark(number, text):
            raise NotFoundError(f"There is no mark {number + 1}", kept="The marks are as they were")

    def say(self, job_id: int, said: EngineSaid) -> RecordingView:
        """The state of the engine as it is now. Raises NotFoundError."""
        recorder = self._known(job_id)
        recorder.describe(**said.model_dump(exclude_none=True))
        return self._view(job_id, recorder)

    def turn(self, job_id: int, sync_deg: float) -> None:
        """Turns the sync drive of a simulated car, as a hand would (crank degrees, late positive). Raises
        NotFoundError, DeviceError."""
        self._known(job_id).steer(sync_deg=sync_deg)

    def stop(self, job_id: int) -> RecordingView:
        """Ends it; what was recorded is a capture of the job from then on. Raises NotFoundError."""
        recorder = self._known(job_id)
        recorder.note_marks(self._turned(job_id, recorder))
        recorder.stop()
        with self._lock:
            kept = self._kept.pop(job_id, None)
        if kept is not None:
            kept.close()
        return self._view(job_id, recorder)

    def scan(self, database: Database, job_id: int, temperature: str | None) -> Scan:
        """What the scan tool on the car shows. Raises NotFoundError, DeviceError."""
        profile, kept = self._car(database, job_id)
        tool = self.instruments.scan_tool(car_sheet(profile, kept, Doing("idle", temperature), job_id))
        try:
            return read_codes(tool)
        finally:
            tool.close()

    def close(self) -> None:
        """Ends all of them, each kept with what it has, and the simulated instruments."""
        with self._lock:
            running = list(self._running.values())
        for recorder in running:
            if recorder.state().phase in ("starting", "recording"):
                recorder.stop()
        self.instruments.close()

    def _known(self, job_id: int) -> Recorder:
        with self._lock:
            recorder = self._running.get(job_id)
        if recorder is None:
            raise NotFoundError("Nothing is being recorded", remedy="Begin a recording first.")
        return recorder

    def _view(self, job_id: int, recorder: Recorder) -> RecordingView:
        state, armed = recorder.state(), recorder.leads
        running = state.phase in ("starting", "recording", "stopping")
        return RecordingView(
            phase=state.phase,
            capture_id=state.capture_id,
            name=recorder.name.removesuffix(".capture.json"),
            instrument=f"Simulated scope, {len(armed.channels)} channels",
            question=armed.plan.question.id,
            rate_hz=armed.setup.rate_hz,
            seconds=state.seconds,
            most_s=armed.setup.most_s,
            samples=state.samples,
            lost=state.lost,
            late_blocks=state.late_blocks,
            clock_off=state.clock_off,
            failure=state.failure,
            finding=state.stand if armed.plan.question.turns == "bench" else live_finding(state.reading, running),
            live=None if state.reading is None else live_view(state.reading, state.waited_ms),
            adjusting=self._adjusting(job_id, armed, state),
            lanes=lane_views(armed, recorder.ring, state.reading),
            marks=list(state.marks),
            scanned=state.scanned,
            said=EngineSaid.model_validate(
                {name: getattr(recorder.description, name) for name in EngineSaid.model_fields}
            ),
        )

    def _adjusting(self, job_id: int, armed: Armed, state: RecorderState) -> AdjustingView | None:
        """Where a drive is to be turned: its window is the limit of the job, else the profile's tolerance."""
        if armed.plan.question.id != "sync":
            return None
        lead = next((lead for lead in armed.leads if lead.role == "cam"), None)
        profile, _ = self._car(self._database, job_id)
        cam = None if lead is None or lead.cam is None else profile.cam(lead.cam)
        if cam is None:
            return None
        limit = _limit(job_document(self._database, job_id))
        found = adjusting(state.history, cam.id, limit if limit is not None else cam.tolerance_deg)
        return _adjusting_view(found, state.history, cam.id)

    def _turned(self, job_id: int, recorder: Recorder) -> list[Mark]:
        """Where a drive stood before it was turned and after, as marks of its recording."""
        state, armed = recorder.state(), recorder.leads
        running = state.phase in ("starting", "recording")
        cam = next((lead.cam for lead in armed.leads if lead.role == "cam"), None)
        if armed.plan.question.id != "sync" or not running or cam is None:
            return []
        read = [r for r in state.history if any(c.cam == cam and c.offset_deg is not None for c in r.cams)]
        if len(read) < 2 * _ENDS:
            return []
        limit = _limit(job_document(self._database, job_id))
        marks = []
        for name, part in (("Before", read[:_ENDS]), ("After", read[-_ENDS:])):
            found = adjusting(part, cam, limit if limit is not None else _ANY_WINDOW_DEG)
            if found.mean_deg is not None:
                marks.append(
                    Mark(t_s=part[-1].at_s, text=f"{name}: {angle_words(found.mean_deg, found.u95_deg or 0.5)}")
                )
        return marks


_ENDS = 4
"""So many readings tell where a drive stood at either end."""
_ANY_WINDOW_DEG = 5.0


def _limit(told: JobDocument) -> float | None:
    return told.limit.cam_deg if told.limit is not None else None


def _adjusting_view(found: Adjusting, history: tuple[LiveReading, ...], cam: str) -> AdjustingView:
    series = [
        one.offset_deg for reading in history for one in reading.cams if one.cam == cam and one.offset_deg is not None
    ]
    return AdjustingView(
        where=found.where,
        mean_deg=found.mean_deg,
        u95_deg=found.u95_deg,
        jitter_deg=found.jitter_deg,
        window_deg=found.window_deg,
        body_deg=found.body_deg,
        spark_moves=found.spark_moves,
        words=found.words,
        readings=series[-240:],
    )


def _own_number() -> str:
    """In place of the hash of a file, which a recording does not have."""
    return hashlib.sha256(uuid.uuid4().bytes).hexdigest()


def _described(armed: Armed, name: str, said: EngineSaid) -> CaptureDescription:
    usual: dict[str, Condition] = {"cranking": "cranking", "idle": "idle", "running": "running", "bench": "bench"}
    told = said.model_dump(exclude_none=True)
    return CaptureDescription.model_validate(
        {
            "schema": "phasko.capture/1",
            "data": name,
            "condition": usual[armed.plan.question.turns],
            "recorded_at": datetime.now(UTC).isoformat(timespec="seconds"),
            **told,
            "channels": [channel.model_dump(exclude_none=True) for channel in armed.channels],
        }
    )


def _worth_seeing(armed: Armed) -> int:
    """The channel that shows the whole recording best: the current has its humps in it."""
    roles = [channel.role for channel in armed.channels]
    return next((roles.index(role) for role in ("starter_current", "battery_voltage", "cam") if role in roles), 0)


def _pairs(levels: Levels, row: int, armed: Armed) -> LaneLevels:
    channel = armed.channels[row]
    known = levels.low[row] <= levels.high[row]
    ends = np.sort(np.stack([levels.low[row], levels.high[row]]) * channel.scale + channel.offset, axis=0)
    low, high = (np.where(known, one, np.nan).tolist() for one in ends)
    return LaneLevels(low=_or_none(low), high=_or_none(high))


def _or_none(values: list[float]) -> list[float | None]:
    return [None if math.isnan(value) else round(value, 4) for value in values]
