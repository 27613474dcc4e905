"""A large text file into the workshop's file, and any zoom out of it, against the libraries alone in the same run.

    python -m benchmarks.importing [rows]

Prints how long an import takes against Arrow's own reading of the same file, the memory beside the samples, how soon
the first picture is there, and how long zooms over 8 lanes of 10 million samples take at the server.
"""

from __future__ import annotations

import functools
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pyarrow as pa
import pyarrow.csv as pa_csv

from phasko.bench.pool import pool_engine
from phasko.core.documents import CaptureDescription
from phasko.jobs.captures import import_from_disk
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.opening import open_job
from phasko.jobs.raw_trace import packed, raw_trace
from phasko.store import Database
from phasko.store.arriving import NewCapture, arriving
from phasko.store.chunks import encode_chunks

ROWS = 5_200_000
LANES, SAMPLES = 8, 10_000_000
ROUNDS = 7


def large_file(path: Path, rows: int) -> None:
    """Five columns, about 200 MB: time, a crank square wave, two cams, a current with the steps of a converter."""
    rng = np.random.default_rng(0)
    at = np.arange(rows)
    teeth = (at / 280.0) % 60
    crank = np.where((teeth < 58) & (teeth % 1 < 0.5), 4.9, 0.2) + 0.012 * rng.standard_normal(rows)
    cam = np.where((at // 9000) % 3, 4.9, 0.2) + 0.012 * rng.standard_normal(rows)
    current = 0.15 + 0.04 * np.sin(at / 3000.0) + 0.002 * rng.standard_normal(rows)
    columns = {"time_s": np.round(at * 1e-5, 6)}
    columns |= {f"c{k + 1}": np.round(v, 5) for k, v in enumerate((crank, cam, cam[::-1], current))}
    pa_csv.write_csv(pa.table(columns), path, pa_csv.WriteOptions(quoting_style="none"))


def resident_mib(what: str) -> float:
    """``VmRSS`` now, or ``VmHWM``, the most since ``forget_peak``; pages of mapped files are counted in both."""
    line = next(line for line in Path("/proc/self/status").read_text().splitlines() if line.startswith(what))
    return int(line.split()[1]) / 1024.0


def forget_peak() -> None:
    """Of the process itself (proc(5), clear_refs): making the file took more than reading it."""
    Path("/proc/self/clear_refs").write_text("5")


def job_in(folder: Path) -> tuple[Database, int]:
    database = Database(folder)
    document = pool_engine("corvane-2.1-four").model_dump_json(by_alias=True, exclude_none=True).encode()
    engine = save_engine(database, document, "engine")
    job = open_job(database, vehicle="Bench", make_model="", complaint="", codes=[], engine_id=engine.id)
    return database, job.id


def timed(run: Callable[[], object]) -> float:
    begin = time.perf_counter()
    run()
    return time.perf_counter() - begin


def import_figures(folder: Path, rows: int) -> None:
    path = folder / "large.csv"
    large_file(path, rows)
    size = path.stat().st_size
    ratios, taken, alone = [], [], []
    grown = picture = 0.0
    for k in range(ROUNDS):
        database, job_id = job_in(folder / f"round {k}")
        forget_peak()
        before = resident_mib("VmRSS")
        begin = time.perf_counter()
        stored = import_from_disk(database, job_id, path)
        taken.append(time.perf_counter() - begin)
        grown = max(grown, resident_mib("VmHWM") - before)
        begin = time.perf_counter()
        packed(*raw_trace(database, stored.id, None, None, 1600))
        picture = max(picture, time.perf_counter() - begin)
        database.close()
        alone.append(timed(lambda: pa_csv.read_csv(path)))
        ratios.append(taken[-1] / alone[-1])
    samples = 4 * 4 * rows / 2**20
    print(
        f"CSV of {size / 1e6:.0f} MB, {ROUNDS} rounds of import and Arrow's own read: median {np.median(taken):.2f} s "
        f"against {np.median(alone):.2f} s, {np.median(taken) / np.median(alone):.2f} times "
        f"(rounds: {', '.join(f'{r:.1f}' for r in sorted(ratios))});"
    )
    print(
        f"memory grew by {grown:.0f} MiB, {grown / samples:.1f} times the samples as float32; "
        f"first picture {picture:.3f} s"
    )


def zoom_figures(folder: Path) -> None:
    database, job_id = job_in(folder / "two")
    rng = np.random.default_rng(1)
    wave = (np.sin(np.arange(SAMPLES) / 200.0) + 0.01 * rng.standard_normal(SAMPLES)).astype(np.float32)
    columns = {f"c{k + 1}": wave for k in range(LANES)}
    channels = [{"column": name, "role": "other"} for name in columns]
    document = {"schema": "phasko.capture/1", "data": "x", "channels": channels}
    description = CaptureDescription.model_validate(document)
    with arriving(database, job_id, "x", "s") as arrival:
        for name, samples in columns.items():
            arrival.add_column(name, encode_chunks(samples))
        arrival.finish(NewCapture("x", description, 0.0, 1e-5, wave.size, "s", confirmed=True))
    capture_id = arrival.capture_id
    slowest = 0.0
    for share in (1.0, 0.3, 0.1, 0.03, 0.01, 3e-3, 1e-3, 1e-4):
        to_s = 11.0 + share * SAMPLES * 1e-5
        view = functools.partial(raw_trace, database, capture_id, 11.0, to_s, 1600)
        took = min(timed(lambda view=view: packed(*view())) for _ in range(5))
        slowest = max(slowest, took)
        print(f"  {to_s - 11.0:9.4f} s in view: {1000 * took:.1f} ms")
    print(f"8 lanes of 10 million samples: slowest zoom {1000 * slowest:.1f} ms")
    database.close()


def main() -> None:
    rows = int(sys.argv[1]) if len(sys.argv) > 1 else ROWS
    with tempfile.TemporaryDirectory() as folder:
        import_figures(Path(folder), rows)
        zoom_figures(Path(folder))


if __name__ == "__main__":
    main()
