"""A fleet of bench captures, analysed by one worker and by two, killed in the middle, and robbed of two workers.

    python -m benchmarks.fleet [captures] [FOLDER]

Every car is simulated on its own: an engine of the pool with its own spread, a distance, a year, a chain that has grown
with the distance, and one in twelve with a jumped or slipped cam. The captures are made in FOLDER (kept when it is
given, so that a second run needs no new ones). One and two workers take turns block by block, so that whatever else
the machine does meets both, and the median of the blocks is told. Beside a FOLDER that is given, what the blocks took
is kept too: broken off, the same command goes on with the next block.
"""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from contextlib import contextmanager
from dataclasses import asdict, dataclass
from pathlib import Path

import dask
import numpy as np
import pyarrow.parquet as pq
from distributed import LocalCluster

from phasko.bench.faults import DriveFaults, EngineFaults
from phasko.bench.pool import pool_engine
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings, record_run
from phasko.bench.run import run_engine
from phasko.bench.scenario import clear_flood_cranking
from phasko.bench.scope import capture_files
from phasko.fleet.progress import Progress
from phasko.fleet.running import Cluster, analyse_fleet, local_cluster
from phasko.fleet.tables import FleetTables
from phasko.fleet.teaching import taught_by, taught_lines
from phasko.fleet.units import Found, found_units

ENGINES = ("corvane-2.1-four", "ostrin-1.4-four", "pellowe-1.0-triple", "haverel-2.4-five", "solan-2.0-flat-four")
ELONGATION_PERCENT = dict(zip(ENGINES, (0.02, 0.0, 0.04, 0.01, 0.03), strict=True))
"""Per 10 000 km."""
SEED = 22_000
BLOCK = 50
"""Captures a turn."""
RATE_HZ = 20_000.0


def make_car(asked: tuple[Path, int]) -> None:
    """Writes one car's folder: capture, samples and job document; the engine's profile lies one folder above."""
    top, number = asked
    rng = np.random.default_rng([SEED, number])
    name = ENGINES[number % len(ENGINES)]
    folder = top / name / f"car{number:05d}"
    if (folder / "job.json").is_file():
        return
    engine = pool_engine(name)
    distance_km = float(rng.uniform(3_000.0, 220_000.0))
    drive = DriveFaults(elongation_percent=ELONGATION_PERCENT[name] * distance_km / 10_000.0)
    if rng.random() < 1 / 12:
        cam = engine.cams[int(rng.integers(len(engine.cams)))].id
        if rng.random() < 0.5:
            drive = DriveFaults(elongation_percent=drive.elongation_percent, jumped_at_cam={cam: 1})
        else:
            drive = DriveFaults(elongation_percent=drive.elongation_percent, slipped_deg={cam: rng.uniform(4.0, 9.0)})
    run = run_engine(engine, clear_flood_cranking(2.6), SEED + number, faults=EngineFaults(drive))
    probes = [Probe("crank"), *(Probe("cam", cam=one.id) for one in engine.cams), Probe("starter_current")]
    files = capture_files(record_run(run, probes, ScopeSettings(rate_hz=RATE_HZ), name="car"))
    folder.mkdir(parents=True, exist_ok=True)
    told = {"distance_km": round(distance_km), "built_year": 2026 - int(distance_km / 15_000.0 + rng.uniform(0, 3))}
    for file, data in files.items():
        if file.endswith(".capture.json"):
            described = json.loads(data) | {"recorded_at": "2026-06-01T08:00:00+00:00"}
            (folder / file).write_text(json.dumps(described), encoding="utf-8")
        elif not file.endswith(".truth.json"):
            (folder / file).write_bytes(data)
    (folder / "job.json").write_text(json.dumps({"schema": "phasko.job/1", "complaint": told}), encoding="utf-8")


def make_fleet(top: Path, captures: int) -> None:
    for name in ENGINES:
        (top / name).mkdir(parents=True, exist_ok=True)
        profile = top / name / "engine.json"
        if not profile.is_file():  # one that is written again makes other units of all its cars
            text = pool_engine(name).model_dump_json(by_alias=True, exclude_none=True)
            profile.write_text(text, encoding="utf-8")
    with ProcessPoolExecutor(2) as pool:
        list(pool.map(make_car, [(top, number) for number in range(captures)], chunksize=8))


@dataclass(frozen=True)
class Timed:
    """How long one worker and two took over one block (s), and how much of the time of all cores the machine's own host
    gave to others meanwhile (share)."""

    one: float
    two: float
    stolen: float


LITTLE_STOLEN = 0.1


def in_turns(found: Found, out: Path) -> list[Timed]:
    """Both over the same blocks, one after the other, the first by turns; from the first block on that is not kept."""
    kept = out / "timed.json"
    timed = [Timed(**row) for row in json.loads(kept.read_text(encoding="utf-8"))] if kept.is_file() else []
    with _cluster(1) as one, _cluster(2) as two:
        for number, begin in list(enumerate(range(0, len(found.units), BLOCK)))[len(timed) :]:
            part = Found(found.units[begin : begin + BLOCK], ())
            took = {}
            stolen, whole = _stolen_s(), time.monotonic()
            for workers, cluster in ((1, one), (2, two)) if number % 2 else ((2, two), (1, one)):
                begun = time.monotonic()
                there = Cluster(scheduler=cluster.scheduler_address)
                analyse_fleet(part, out / f"with-{workers}" / str(number), there)
                took[workers] = time.monotonic() - begun
            share = (_stolen_s() - stolen) / (time.monotonic() - whole) / (os.cpu_count() or 1)
            timed.append(Timed(took[1], took[2], share))
            kept.write_text(json.dumps([asdict(one) for one in timed]), encoding="utf-8")
            told = f"{took[1]:.1f} s with one, {took[2]:.1f} s with two, {100 * share:.0f} % stolen"
            print(f"{begin + len(part.units)} done, {told}", flush=True)
    return timed


def _stolen_s() -> float:
    """What the host of a virtual machine gave to others while cores had work, since the start (proc(5), steal)."""
    line = Path("/proc/stat").read_text(encoding="ascii").splitlines()[0]
    return int(line.split()[8]) / os.sysconf("SC_CLK_TCK")


def _speed_up(timed: Sequence[Timed]) -> str:
    if not timed:
        return "none"
    low, middle, high = np.percentile([block.one / block.two for block in timed], [25, 50, 75])
    return f"{middle:.2f} in the median of {len(timed)} blocks, half of them between {low:.2f} and {high:.2f}"


@contextmanager
def _cluster(workers: int) -> Iterator[LocalCluster]:
    with dask.config.set({"distributed.scheduler.worker-ttl": None}), local_cluster(workers) as cluster:
        yield cluster


def gathered(out: Path, found: Found) -> Path:
    """The tables of all blocks as those of one fleet."""
    whole = out.with_name(f"{out.name}-whole")
    for path in [*out.glob("*/batches/*"), *out.glob("*/engines/*")]:
        into = whole / path.parent.name / path.name
        into.parent.mkdir(parents=True, exist_ok=True)
        path.replace(into)
    FleetTables(whole).join([unit.key for unit in found.units], found.bad)
    return whole


def killed_and_resumed(top: Path, out: Path, every: int) -> None:
    """The command itself, killed with all its workers halfway, then started again."""
    command = [sys.executable, "-m", "phasko", "fleet", "analyse", str(top), "--out", str(out)]
    with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, start_new_session=True) as running:
        while _kept(out) < every / 2 and running.poll() is None:
            time.sleep(1.0)
        os.killpg(running.pid, signal.SIGKILL)
    kept = _kept(out)
    begun = time.monotonic()
    subprocess.run(command, check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    print(f"killed with {kept} of {every} kept; the rest took {time.monotonic() - begun:.0f} s")
    _told_once("killed and resumed", out, every)


def robbed(found: Found, out: Path) -> None:
    """Two workers are killed while it goes on, one after the other."""
    killed: list[int] = []

    def kill(progress: Progress) -> None:
        if len(killed) < 2 and progress.done >= (len(killed) + 1) * progress.every // 3:
            worker = next(pid for pid in _workers() if pid not in killed)
            os.kill(worker, signal.SIGKILL)
            killed.append(worker)

    analyse_fleet(found, out, Cluster(workers=2), kill)
    print(f"workers killed: {len(killed)}")
    _told_once("two workers killed", out, len(found.units))


def _same(one: Path, two: Path) -> bool:
    """Whether both tables of cams hold the very same."""
    tables = [
        pq.read_table(whole / "cams.parquet").sort_by([("unit", "ascending"), ("cam", "ascending")])
        for whole in (one, two)
    ]
    return bool(tables[0].equals(tables[1]))


def _kept(out: Path) -> int:
    """Only looks: whoever opens the tables clears away what another one is writing."""
    return len(_done(out))


def _done(out: Path) -> list[str]:
    """The units of all batches that are whole."""
    batches = out.glob("batches/*[!n]/units.json")  # not those that are begun
    return [unit for path in batches for unit in json.loads(path.read_text(encoding="utf-8"))["units"]]


def _told_once(what: str, out: Path, every: int) -> None:
    units = pq.read_table(out / "captures.parquet").column("unit").to_pylist()
    done = _done(out)
    print(f"{what}: lost {every - len(set(units))}, twice {len(done) - len(set(done)) + len(units) - len(set(units))}")


def _workers() -> Sequence[int]:
    told = subprocess.run(["ps", "-eo", "pid,ppid,args"], capture_output=True, text=True, check=True).stdout
    rows = [line.split(None, 2) for line in told.splitlines()[1:]]
    return [int(pid) for pid, parent, args in rows if int(parent) == os.getpid() and "spawn_main" in args]


def main(captures: int, top: Path, out: Path) -> None:
    begun = time.monotonic()
    make_fleet(top, captures)
    print(f"{captures} cars made in {time.monotonic() - begun:.0f} s", flush=True)
    begun = time.monotonic()
    found = found_units([top])
    print(f"{len(found.units)} found in {time.monotonic() - begun:.1f} s, {len(found.bad)} bad", flush=True)
    timed = in_turns(found, out)
    one, two = (np.array([getattr(t, name) for t in timed]) for name in ("one", "two"))
    print(f"one worker: {one.sum():.0f} s; by the median block {BLOCK / np.median(one):.2f} a second a core")
    print(f"two workers: {two.sum():.0f} s; by the median block {BLOCK / np.median(two) / 2:.2f} a second a core")
    print(f"speed-up {_speed_up(timed)}")
    calm = [block for block in timed if block.stolen < LITTLE_STOLEN]
    print(f"where less than {100 * LITTLE_STOLEN:.0f} % was stolen: {_speed_up(calm)}")
    whole = [gathered(out / f"with-{workers}", found) for workers in (1, 2)]
    print(f"with both the same: {_same(*whole)}")
    print("\n".join(taught_lines(taught_by(whole[1]))), flush=True)
    with tempfile.TemporaryDirectory() as scratch:
        robbed(Found(found.units[: captures // 5], ()), Path(scratch) / "robbed")
        killed_and_resumed(top / ENGINES[0], Path(scratch) / "killed", captures // len(ENGINES))


if __name__ == "__main__":
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 5000
    with tempfile.TemporaryDirectory() as scratch:
        where = Path(sys.argv[2]) if len(sys.argv) > 2 else Path(scratch) / "island"
        main(count, where, where.with_name(f"{where.name}-tables"))
