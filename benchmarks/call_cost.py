"""What a call costs on a job of three captures, once measured, against a fixed piece of linear algebra beside it.

python -m benchmarks.call_cost
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from functools import partial

import numpy as np

from phasko.bench.faults import DriveFaults, EngineFaults
from phasko.bench.pool import pool_engine
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings, record_run
from phasko.bench.run import run_engine
from phasko.bench.scenario import clear_flood_cranking, idling
from phasko.core.call import call
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.capture.steps import measure_capture
from phasko.core.documents.job import Look
from phasko.core.evidence import JobEvidence
from phasko.core.signals.recording import Channel, Recording

ENGINES = ("ostrin-1.4-four", "corvane-2.1-four", "brimholt-3.2-six", "quayle-5.0-eight")
LOOKS = (
    Look(question="marks", answer="out", crank_at="mark"),
    Look(question="rattle", answer="at_start"),
    Look(question="throttle_hand", answer="pulls"),
)


def captures(name: str) -> list[CaptureMeasurement]:
    engine = pool_engine(name)
    drive = DriveFaults(jumped_at_crank=1)
    found = []
    for seed, scenario in enumerate((clear_flood_cranking(4.0), clear_flood_cranking(3.0), idling(1.5))):
        run = run_engine(engine, scenario, seed, faults=EngineFaults(drive))
        probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in engine.cams), Probe("starter_current")]
        made = record_run(run, probes, ScopeSettings(rate_hz=50_000.0))
        channels = tuple(Channel(d, made.columns[d.column]) for d in made.description.channels)
        recording = Recording(f"{seed}.capture.json", made.description, 0.0, made.interval_s, channels)
        found.append(measure_capture(recording, engine))
    return found


def median_ms(work: Callable[[], object], runs: int) -> float:
    taken = []
    for _ in range(runs):
        started = time.perf_counter()
        work()
        taken.append(1e3 * (time.perf_counter() - started))
    return statistics.median(taken)


def reference_ms() -> float:
    """Twenty Cholesky factors of 400 by 400."""
    table = np.random.default_rng(0).standard_normal((400, 400))
    square = table @ table.T + 400.0 * np.eye(400)
    return median_ms(lambda: [np.linalg.cholesky(square) for _ in range(20)], 7)


def main() -> None:
    print("| engine | three captures, three looks | times the reference |")
    print("|---|---:|---:|")
    for name in ENGINES:
        job = JobEvidence(pool_engine(name), captures(name), LOOKS)
        call(job)
        # A calm moment of the machine is looked for: the median of three series.
        own = statistics.median(median_ms(partial(call, job), 5) for _ in range(3))
        print(f"| {name} | {own:.0f} ms | {own / reference_ms():.1f} |")


if __name__ == "__main__":
    main()
