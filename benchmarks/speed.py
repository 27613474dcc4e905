"""How long ``phasko analyze`` takes beside a bare interpreter that imports the same libraries and loads the same file,
and which parts of it are imports, reading, and measuring with the call.

    python benchmarks/speed.py [runs]

Three seconds of four channels at 100 kS/s. Both commands run alternately as whole processes; the medians' ratio counts.
"""

from __future__ import annotations

import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

from phasko.bench import Cranking, capture_files, pool_engine, record

ENGINE = "corvane-2.1-four"

BARE = """
import sys
import numpy, scipy.interpolate, scipy.special, pydantic, pyarrow.csv
table = pyarrow.csv.read_csv(sys.argv[1])
columns = [table.column(i).to_numpy() for i in range(table.num_columns)]
"""


PARTS = """
import sys, time
from pathlib import Path
began = time.perf_counter()
from phasko.core.analyse import HashedCapture, analyse_job
from phasko.core.documents import EngineProfile, parse_document
from phasko.formats import read_capture, read_capture_files
imported = time.perf_counter()
description, engine = map(Path, sys.argv[1:])
profile = parse_document(engine.read_bytes(), EngineProfile, engine.name)
files = read_capture_files(description)
recording = read_capture(files)
read = time.perf_counter()
analyse_job([HashedCapture(recording, files.sha256)], profile, "")
print(imported - began, read - imported, time.perf_counter() - read)
"""
"""A process of its own that tells what each part takes."""


def parts(description: Path, engine: Path) -> tuple[float, float, float]:
    """Seconds for imports, reading, and measuring with the call, in a new process."""
    command = [sys.executable, "-c", PARTS, str(description), str(engine)]
    told = subprocess.run(command, check=True, capture_output=True, text=True)
    imports, reading, measuring = (float(text) for text in told.stdout.split())
    return imports, reading, measuring


def write_job(folder: Path) -> tuple[Path, Path, Path]:
    """(description, data, engine) of a capture with crank, two cams and a fourth channel."""
    made = record(pool_engine(ENGINE), 50_001, cranking=Cranking(mean_rpm=210, cycles=5.25), name="speed")
    count = min(300_000, next(iter(made.columns.values())).size)
    made.columns["c4"] = np.round(np.random.default_rng(1).normal(90.0, 5.0, made.columns["c1"].size), 2)
    for name in list(made.columns):
        made.columns[name] = made.columns[name][:count]
    fourth = {"column": "c4", "role": "starter_current", "unit": "A"}
    channels = [*made.description.model_dump(mode="json", exclude_none=True)["channels"], fourth]
    described = type(made.description).model_validate(
        {**made.description.model_dump(mode="json", by_alias=True, exclude_none=True), "channels": channels}
    )
    files = capture_files(type(made)(described, made.interval_s, made.columns, {}, 0.0, made.seed))
    for name, content in files.items():
        (folder / name).write_bytes(content)
    engine = folder / "engine.json"
    engine.write_text(pool_engine(ENGINE).model_dump_json(by_alias=True, exclude_none=True))
    return folder / "speed.capture.json", folder / "speed.csv", engine


def seconds(command: list[str]) -> float:
    start = time.perf_counter()
    subprocess.run(command, check=True, stdout=subprocess.DEVNULL)
    return time.perf_counter() - start


def main() -> None:
    runs = int(sys.argv[1]) if len(sys.argv) > 1 else 15
    with tempfile.TemporaryDirectory() as folder:
        description, data, engine = write_job(Path(folder))
        ours = [sys.executable, "-m", "phasko", "analyze", str(description), "--engine", str(engine), "--json"]
        bare = [sys.executable, "-c", BARE, str(data)]
        seconds(ours), seconds(bare)
        pairs = [(seconds(ours), seconds(bare)) for _ in range(runs)]
        apart = [parts(description, engine) for _ in range(runs)]
    one, two = (statistics.median(times) for times in zip(*pairs, strict=True))
    print(f"phasko analyze {one:.2f} s, bare interpreter {two:.2f} s, ratio {one / two:.2f} (medians of {runs} runs)")
    imports, reading, measuring = (statistics.median(times) for times in zip(*apart, strict=True))
    print(f"imports {imports:.2f} s, reading {reading:.2f} s, measuring and the call {measuring:.2f} s")


if __name__ == "__main__":
    main()
