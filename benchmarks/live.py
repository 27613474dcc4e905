"""Live measuring at full speed: 8 channels at 1 MS/s, received, kept, measured and drawn, on one core.

    taskset -c 0 python -m benchmarks.live [seconds] [samples a second] [times as fast as the clock]

A stand-in scope gives blocks at the pace of the clock. Printed: how far the recorder lagged behind, how old a reading
was when it was made, and how much memory grew.
"""

from __future__ import annotations

import resource
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

import numpy as np

from phasko.bench.pool import pool_engine
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings, record_run
from phasko.bench.run import run_engine
from phasko.bench.scenario import idling
from phasko.core.documents import CaptureDescription
from phasko.core.documents.job import JobDocument
from phasko.core.hookup import hook_up_plan, hook_up_question
from phasko.devices import Block, ScopeAbout, ScopeChannel, ScopeSetup
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.opening import open_job
from phasko.jobs.recording.leads import Armed
from phasko.jobs.recording.recorder import Recorder
from phasko.store import Database
from phasko.store.arriving import arriving

ENGINE = "quayle-5.0-eight"
RATE_HZ = 1_000_000.0
BLOCK_S = 0.04
RUN_S = 2.4


class Loop:
    """A scope that plays the same seconds again and again."""

    def __init__(self, volts: np.ndarray, loop: tuple[int, int], seconds: float, rate_hz: float, fast: float) -> None:
        self._volts, self._loop, self._seconds, self._rate_hz, self._fast = volts, loop, seconds, rate_hz, fast
        self.lag_s: list[float] = []
        self._stopped = False

    def about(self) -> ScopeAbout:
        return ScopeAbout(name="loop", channels=8, rates_hz=[RATE_HZ], ranges_v=[20.0], bits=12)

    def arm(self, setup: ScopeSetup) -> float:
        return setup.rate_hz

    def blocks(self) -> Iterator[Block]:
        size, (first, last) = round(BLOCK_S * self._rate_hz), self._loop
        begun, sent, at = time.monotonic(), 0, 0
        while sent < self._seconds * self._rate_hz and not self._stopped:
            due_s = begun + (sent + size) / self._rate_hz / self._fast
            time.sleep(max(0.0, due_s - time.monotonic()))
            self.lag_s.append(time.monotonic() - due_s)
            if at + size > last:
                at = first
            yield Block(sent, self._volts[:, at : at + size])
            at, sent = at + size, sent + size

    def stop(self) -> None:
        self._stopped = True

    def close(self) -> None:
        self._stopped = True


def played(rate_hz: float) -> tuple[np.ndarray, tuple[int, int], tuple[Probe, ...], list[dict[str, object]]]:
    """Eight channels of an idling eight, and the samples between which it repeats by whole cycles."""
    engine = pool_engine(ENGINE)
    run = run_engine(engine, idling(RUN_S), 3)
    probes = (
        Probe("crank"),
        *(Probe("cam", cam=cam.id) for cam in engine.cams),
        Probe("coil", cylinder=1),
        Probe("starter_current"),
        Probe("battery_voltage"),
    )
    made = record_run(run, probes, ScopeSettings(rate_hz=rate_hz))
    volts = np.stack([made.columns[channel.column] for channel in made.description.channels])
    at_s = np.arange(volts.shape[1]) / rate_hz
    angles = np.interp(at_s, run.times_s, run.angles_deg)
    first = int(np.searchsorted(at_s, 0.1))
    cycles = np.floor((angles[-1] - angles[first]) / 720.0)
    last = int(np.searchsorted(angles, angles[first] + 720.0 * cycles))
    described = [channel.model_dump(exclude_none=True) for channel in made.description.channels]
    return volts, (first, last), probes, described


def main() -> None:
    """Prints the figures."""
    seconds = float(sys.argv[1]) if len(sys.argv) > 1 else 30.0
    rate_hz = float(sys.argv[2]) if len(sys.argv) > 2 else RATE_HZ
    fast = float(sys.argv[3]) if len(sys.argv) > 3 else 1.0
    volts, loop, _, described = played(rate_hz)
    engine = pool_engine(ENGINE)
    description = CaptureDescription.model_validate(
        {"schema": "phasko.capture/1", "data": "live", "condition": "idle", "channels": described}
    )
    question = hook_up_question("running")
    assert question is not None
    told = JobDocument.model_validate({"schema": "phasko.job/1"})
    plan = hook_up_plan(engine, question, 8, told)
    scope = [ScopeChannel(number=i, range_v=50.0) for i in range(1, 9)]
    setup = ScopeSetup(channels=scope, rate_hz=rate_hz, most_s=seconds + 10.0)
    armed = Armed(plan, plan.leads, tuple(description.channels), setup)
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder))
        document = engine.model_dump_json(by_alias=True, exclude_none=True).encode()
        version = save_engine(database, document, "e.json").id
        job = open_job(database, vehicle="x", make_model="", complaint="", codes=[], engine_id=version)
        source = Loop(volts, loop, seconds, rate_hz, fast)
        with arriving(database, job.id, "live", "a" * 64) as arrival:
            recorder = Recorder(source, armed, engine, arrival, description)
            recorder.start()
            waits, memory, begun = [], [], time.process_time()
            while not recorder.wait(0.5):
                state = recorder.state()
                recorder.ring.drawn(0.8, 460)
                memory.append(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024.0)
                if state.waited_ms is not None:
                    waits.append(state.waited_ms)
            busy = (time.process_time() - begun) * fast / seconds
        database.close()
    lag_ms = 1000.0 * np.array(source.lag_s)
    calm = len(memory) // 3
    print(
        f"{seconds:.0f} s of 8 channels at {rate_hz / 1e6:g} MS/s, {fast:g} times the clock's pace, {len(waits)} looks"
    )
    print(f"processor: {100.0 * busy:.0f} % of one core")
    print(f"a block waited: median {np.median(lag_ms):.0f} ms, 95 % {np.percentile(lag_ms, 95):.0f} ms, last "
          f"{lag_ms[-5:].mean():.0f} ms")  # fmt: skip
    print(f"a reading took: median {np.median(waits):.0f} ms, 95 % {np.percentile(waits, 95):.0f} ms")
    print(f"memory: {memory[calm]:.0f} MB after a third, {memory[-1]:.0f} MB at the end")


if __name__ == "__main__":
    main()
