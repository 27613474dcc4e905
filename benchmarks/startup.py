"""How long the first answer takes, and what each way in spends on imports.

    python -m benchmarks.startup [runs]

The server is started on an empty workshop that exists already, and asked until it answers. The reference is a process
that imports the same libraries alone. Both run alternately; medians count.
"""

from __future__ import annotations

import re
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
from collections import Counter
from contextlib import closing
from pathlib import Path

from phasko.store import Database
from trials.serving import free_port

LIBRARIES = "import numpy, scipy, pydantic, fastapi, uvicorn, sqlalchemy.orm, pyarrow.csv, numcodecs, PIL.Image, argon2"
WAYS_IN = {
    "phasko serve": "import gc; gc.disable(); import phasko.web.serving",
    "phasko analyze": "import gc; gc.disable(); import phasko.cli, phasko.jobs.from_files",
    "reader of WAV": "import phasko.readers.wav",
    "reader of HDF5": "import phasko.readers.hdf5, h5py",
    "reader of MDF4": "import phasko.readers.mdf, asammdf",
    "libraries of the server alone": LIBRARIES,
}
_LINE = re.compile(r"import time:\s+(\d+) \|\s+(\d+) \|\s*(\S+)")


def first_answer_s(data: Path) -> float:
    """Seconds from the start of the command to the first answer."""
    port = free_port()
    command = [sys.executable, "-m", "phasko", "serve", "--port", str(port), "--data", str(data)]
    begun = time.perf_counter()
    with subprocess.Popen(command, stdout=subprocess.DEVNULL) as server:
        while True:
            try:
                with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/session", timeout=5):
                    break
            except (urllib.error.URLError, ConnectionError):
                assert server.poll() is None, "the server ended"
                time.sleep(0.005)
        took = time.perf_counter() - begun
        server.terminate()
    return took


def process_s(code: str) -> float:
    """Seconds of a process that only runs that code."""
    begun = time.perf_counter()
    subprocess.run([sys.executable, "-c", code], check=True)
    return time.perf_counter() - begun


def import_times_ms(code: str) -> Counter[str]:
    """Milliseconds of processor time by package, from ``python -X importtime``."""
    told = subprocess.run([sys.executable, "-X", "importtime", "-c", code], capture_output=True, text=True, check=True)
    spent: Counter[str] = Counter()
    for line in told.stderr.splitlines():
        if found := _LINE.match(line):
            parts = found[3].split(".")
            spent[".".join(parts[:2]) if parts[0] == "phasko" else parts[0]] += int(found[1])
    return Counter({name: microseconds // 1000 for name, microseconds in spent.items()})


def main(runs: int) -> None:
    with tempfile.TemporaryDirectory() as name:
        data = Path(name)
        with closing(Database(data)):
            pass
        process_s(LIBRARIES)
        answers, bare = [], []
        for _ in range(runs):
            answers.append(first_answer_s(data))
            bare.append(process_s(LIBRARIES))
    answer, reference = statistics.median(answers), statistics.median(bare)
    print(f"First answer after {answer:.2f} s, {answer / reference:.1f} times what importing its libraries takes.\n")
    print("| way in | imports, ms | the most of it |")
    print("|---|---:|---|")
    for way, code in WAYS_IN.items():
        times = import_times_ms(code)
        most = ", ".join(f"{package} {ms}" for package, ms in times.most_common(5))
        print(f"| {way} | {sum(times.values())} | {most} |")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 5)
