"""One recording while it runs: what the scope sends is kept at once, and measured as it comes."""

from __future__ import annotations

import contextlib
import threading
import time
from collections import deque
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from phasko.core.arrays import Samples
from phasko.core.documents import CaptureDescription, EngineProfile
from phasko.core.documents.analysis import Finding
from phasko.core.documents.capture import Mark, ScanRow
from phasko.core.errors import PhaskoError
from phasko.core.live import LiveReading, live_reading, sensor_health, stand_finding
from phasko.core.signals.recording import Channel, Recording, scaled_samples
from phasko.devices import Block, ScanTool, Scope
from phasko.jobs.recording.leads import Armed
from phasko.jobs.recording.ring import Ring
from phasko.store.arriving import Arrival, NewCapture
from phasko.store.chunks import COARSE_BLOCK, Chunk, encode_chunks

__all__ = ["Recorder", "RecorderState"]

Phase = Literal["starting", "recording", "stopping", "done", "failed"]

_READ_EVERY_S = 0.33
_SCAN_EVERY_S = 0.5
_CYCLES_READ = 8
_CYCLES_TURNED = 4
_STAND_S = 3.0
_WARM_SAMPLES = 500
_SETTLED_CLOCK_S = 3.0
_CLOCK_OFF_SHARE = 0.01


@dataclass(frozen=True, slots=True, eq=False)
class RecorderState:
    """How a recording stands. ``lost`` samples never came; ``clock_off``: by how much the scope's clock runs faster
    than this machine's (share); ``waited_ms``: how old the newest reading was when it was made."""

    phase: Phase
    seconds: float
    samples: int
    lost: int
    late_blocks: int
    clock_off: float | None
    reading: LiveReading | None
    history: tuple[LiveReading, ...]
    marks: tuple[Mark, ...]
    scanned: ScanRow | None
    stand: Finding
    waited_ms: float | None
    failure: str | None
    capture_id: int


class Recorder:
    """One thread receives and keeps, one measures, one reads the scan tool. A piece of a second is written in one
    transaction, so that a kill loses no more than that."""

    def __init__(
        self,
        scope: Scope,
        armed: Armed,
        profile: EngineProfile,
        arrival: Arrival,
        description: CaptureDescription,
        scan_tool: ScanTool | None = None,
    ) -> None:
        self._scope, self._armed, self._profile, self._arrival = scope, armed, profile, arrival
        self._scan_tool = scan_tool
        self._scanned: deque[ScanRow] = deque(maxlen=20_000)
        self._lock = threading.Lock()
        self._description = description
        setup = armed.setup
        self._rate = setup.rate_hz
        ranges = [channel.range_v for channel in setup.channels]
        self.ring = Ring(len(setup.channels), self._rate, ranges, setup.most_s)
        self._piece = max(1, round(self._rate / COARSE_BLOCK)) * COARSE_BLOCK
        self._pending: list[Samples] = []
        self._pending_samples = self._written = 0
        self._expected = self._lost = self._late = 0
        self._begun_s = self._last_s = 0.0
        self._clock_off: float | None = None
        self._readings: deque[LiveReading] = deque(maxlen=600)
        self._waited_ms: float | None = None
        self._stand = stand_finding(None, None)
        self._usual_v: float | None = None
        self._phase: Phase = "starting"
        self._failure: str | None = None
        self._over = threading.Event()
        self._receiving = threading.Thread(target=self._receive, daemon=True)
        self._measuring = threading.Thread(target=self._measure, daemon=True)
        self._scanning = threading.Thread(target=self._scan, daemon=True)

    @property
    def name(self) -> str:
        """Under which it is kept."""
        return self._description.data

    @property
    def description(self) -> CaptureDescription:
        """What is said of it now."""
        with self._lock:
            return self._description

    @property
    def leads(self) -> Armed:
        """What is hooked up."""
        return self._armed

    def start(self) -> None:
        """Starts its threads."""
        self._receiving.start()
        self._measuring.start()
        if self._scan_tool is not None:
            self._scanning.start()

    def state(self) -> RecorderState:
        """How it stands at this moment."""
        with self._lock:
            readings = tuple(self._readings)
            return RecorderState(
                phase=self._phase,
                seconds=self.ring.samples / self._rate,
                samples=self.ring.samples,
                lost=self._lost,
                late_blocks=self._late,
                clock_off=self._clock_off,
                reading=readings[-1] if readings else None,
                history=readings,
                marks=tuple(self._description.marks),
                scanned=self._scanned[-1] if self._scanned else None,
                stand=self._stand,
                waited_ms=self._waited_ms,
                failure=self._failure,
                capture_id=self._arrival.capture_id,
            )

    def mark(self, text: str) -> Mark:
        """Marks this moment."""
        with self._lock:
            mark = Mark(t_s=round(self.ring.samples / self._rate, 3), text=text)
            self._description = self._description.model_copy(update={"marks": [*self._description.marks, mark]})
        return mark

    def note_marks(self, marks: Sequence[Mark]) -> None:
        """Marks that stand at their own moments."""
        with self._lock:
            every = sorted([*self._description.marks, *marks], key=lambda mark: mark.t_s)
            self._description = self._description.model_copy(update={"marks": every})

    def name_mark(self, number: int, text: str) -> bool:
        """Names a mark, counted from 0; whether there is one."""
        with self._lock:
            marks = list(self._description.marks)
            if not 0 <= number < len(marks):
                return False
            marks[number] = marks[number].model_copy(update={"text": text})
            self._description = self._description.model_copy(update={"marks": marks})
        return True

    def describe(self, **state: object) -> None:
        """The state of the engine as it is said now."""
        with self._lock:
            self._description = CaptureDescription.model_validate(
                {**self._description.model_dump(by_alias=True), **state}
            )

    def stop(self, patience_s: float = 20.0) -> None:
        """Ends it, and waits until all is kept."""
        with self._lock:
            if self._phase in ("starting", "recording"):
                self._phase = "stopping"
        with contextlib.suppress(PhaskoError):
            self._scope.stop()
        self._over.wait(patience_s)

    def wait(self, patience_s: float) -> bool:
        """Whether it is over within that time."""
        return self._over.wait(patience_s)

    def steer(self, **changed: float) -> None:
        """What a hand changes at a simulated car meanwhile. Raises DeviceError."""
        turn: Callable[..., None] | None = getattr(self._scope, "turn", None)
        if turn is not None:
            turn(**changed)

    def _receive(self) -> None:
        try:
            for block in self._scope.blocks():
                self._take(block)
            self._end(None)
        except PhaskoError as error:
            self._end(error)
        except Exception:
            self._failed("The recording broke off; what was received was kept")
            raise
        finally:
            self._over.set()
            self._scope.close()

    def _take(self, block: Block) -> None:
        now = time.monotonic()
        if not self._begun_s:
            self._begun_s = now - block.count / self._rate
            with self._lock:
                self._phase = "recording" if self._phase == "starting" else self._phase
        elif now - self._last_s > 0.5:
            self._late += 1
        self._last_s = now
        missing = block.first - self._expected
        if missing > 0:
            # Lost samples are missing ones: what comes after stays at its time.
            self._lost += missing
            self._put(np.full((block.volts.shape[0], missing), np.nan, dtype=np.float32))
        self._put(block.volts)
        self._expected = block.first + block.count
        if now - self._begun_s > _SETTLED_CLOCK_S:
            off = self._expected / self._rate / (now - self._begun_s) - 1.0
            self._clock_off = off if abs(off) > _CLOCK_OFF_SHARE else None

    def _put(self, volts: Samples) -> None:
        self.ring.add(volts)
        self._pending.append(volts)
        self._pending_samples += volts.shape[1]
        if self._pending_samples >= self._piece:
            self._write(self._piece)

    def _write(self, size: int) -> None:
        volts = np.concatenate(self._pending, axis=1) if len(self._pending) > 1 else self._pending[0]
        while volts.shape[1] >= size > 0:
            part, volts = volts[:, :size], volts[:, size:]
            columns: dict[int, dict[str, Chunk]] = {}
            for i, channel in enumerate(self._armed.channels):
                for chunk in encode_chunks(np.ascontiguousarray(part[i])):
                    first = self._written + chunk.first_sample
                    columns.setdefault(chunk.first_sample, {})[channel.column] = replace(chunk, first_sample=first)
            for piece in columns.values():
                self._arrival.add_piece(piece)
            self._written += size
        self._pending = [volts] if volts.shape[1] else []
        self._pending_samples = volts.shape[1]

    def _end(self, error: PhaskoError | None) -> None:
        """What was received becomes a capture, whole or cut."""
        if self._pending_samples:
            self._write(self._pending_samples)
        if not self._written:
            self._arrival.give_up()
            self._failed(error.what if error is not None else "Nothing was received", gone=True)
            return
        with self._lock:
            description = self._description.model_copy(update={"scan_log": list(self._scanned)})
        cut = None
        if error is not None:
            cut = f"{error.what}; {self._written / self._rate:.1f} s were kept"
        self._arrival.finish(
            NewCapture(
                name=description.data,
                description=description,
                start_s=0.0,
                interval_s=1.0 / self._rate,
                sample_count=self._written,
                sha256=self._arrival.number,
                confirmed=True,
                cut_off=cut,
            )
        )
        with self._lock:
            self._phase = "done"
            self._failure = cut

    def _failed(self, words: str, gone: bool = False) -> None:
        with self._lock:
            self._phase = "failed"
            self._failure = words if gone else f"{words}: {self._written / self._rate:.1f} s"

    def _measure(self) -> None:
        """The last cycles again and again, three times a second at most."""
        while not self._over.wait(_READ_EVERY_S):
            if self.ring.samples < 0.2 * self._rate:
                continue
            if self._armed.plan.question.turns == "bench":
                self._look_at_the_stand()
                continue
            asked = time.monotonic()
            reading = live_reading(self._last_cycles(), self._profile)
            with self._lock:
                self._readings.append(reading)
                self._waited_ms = 1000.0 * (time.monotonic() - asked)

    def _look_at_the_stand(self) -> None:
        """The sensor under test over the last seconds, against the largest swing that it has shown."""
        recent = self._recent(_STAND_S)
        warm = next((channel for channel in recent.channels if channel.unit == "°C"), None)
        found = sensor_health(recent, recent.channels[0].name, None, self._usual_v)
        if found is None:
            return
        self._usual_v = max(self._usual_v or 0.0, float(found.swing_v.max()))
        celsius = None if warm is None else float(np.nanmean(warm.samples[-_WARM_SAMPLES:]))
        with self._lock:
            self._stand = stand_finding(found, celsius)

    def _scan(self) -> None:
        """What the scan tool shows, twice a second, on the recording's own clock. One that falls silent ends its log,
        not the recording."""
        tool = self._scan_tool
        assert tool is not None
        try:
            while not self._over.wait(_SCAN_EVERY_S):
                at_s = self.ring.samples / self._rate
                if at_s > 0.0:
                    live = tool.live()
                    row = {name: getattr(live, name, None) for name in ScanRow.model_fields if name != "t_s"}
                    self._scanned.append(ScanRow(t_s=round(at_s, 3), **row))
        except PhaskoError:
            return
        finally:
            tool.close()

    def _last_cycles(self) -> Recording:
        """The last cycles as a recording: fewer seconds where the engine turns faster."""
        with self._lock:
            rpm = self._readings[-1].rpm if self._readings else None
        if not rpm or rpm < 60.0:
            return self._recent(5.0)
        # Who turns a drive wants to see it follow within a second.
        turned = self._armed.plan.question.id == "sync"
        cycles, least_s = (_CYCLES_TURNED, 0.5) if turned else (_CYCLES_READ, 1.0)
        return self._recent(min(5.0, max(least_s, cycles * 120.0 / rpm)))

    def _recent(self, seconds: float) -> Recording:
        stretch = self.ring.last(seconds)
        channels = tuple(
            Channel(channel, np.ascontiguousarray(scaled_samples(stretch.volts[i], channel)))
            for i, channel in enumerate(self._armed.channels)
        )
        return Recording(self._description.data, self._description, stretch.start_s, stretch.interval_s, channels)
