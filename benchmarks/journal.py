"""Which journal mode of SQLite lets readers work while an import is written.

    python -m benchmarks.journal [MB]

One thread writes batches of about 4 MiB, as an import does; four read a small row over and over. Times in ms; the
reference is the same read while nobody writes.
"""

from __future__ import annotations

import sqlite3
import sys
import tempfile
import threading
import time
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np

MODES = ("WAL", "DELETE", "TRUNCATE", "PERSIST")
BATCH = 4 << 20
READERS = 4


@dataclass
class Reads:
    """How long reads took (ms), and how many found the file locked."""

    took_ms: list[float] = field(default_factory=list)
    locked: int = 0


def opened(path: Path, mode: str) -> sqlite3.Connection:
    made = sqlite3.connect(path, isolation_level=None, timeout=5.0)
    made.execute("PRAGMA page_size = 32768")
    made.execute(f"PRAGMA journal_mode = {mode}")
    made.execute("PRAGMA synchronous = FULL")
    return made


def _read(path: Path, mode: str, stop: threading.Event, found: Reads) -> None:
    own = opened(path, mode)
    while not stop.is_set():
        begun = time.perf_counter()
        try:
            own.execute("SELECT words FROM small WHERE id = 1").fetchone()
        except sqlite3.OperationalError:
            found.locked += 1
        found.took_ms.append(1e3 * (time.perf_counter() - begun))
        time.sleep(0.005)
    own.close()


def measured(mode: str, megabytes: int) -> tuple[Reads, float]:
    """The reads beside so much that was written, and the seconds that took; nothing is written for 0 MB."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "x.sqlite3"
        writer = opened(path, mode)
        writer.execute("CREATE TABLE small (id INTEGER PRIMARY KEY, words TEXT)")
        writer.execute("CREATE TABLE chunks (id INTEGER PRIMARY KEY, data BLOB)")
        writer.execute("INSERT INTO small VALUES (1, 'board')")
        stop, found = threading.Event(), Reads()
        readers = [threading.Thread(target=_read, args=(path, mode, stop, found)) for _ in range(READERS)]
        for one in readers:
            one.start()
        piece = np.random.default_rng(1).bytes(BATCH // 4)
        begun = time.perf_counter()
        for _ in range(megabytes // (BATCH >> 20)):
            writer.execute("BEGIN IMMEDIATE")
            for _ in range(4):
                writer.execute("INSERT INTO chunks (data) VALUES (?)", (piece,))
            writer.execute("COMMIT")
        if not megabytes:
            time.sleep(2.0)
        took = time.perf_counter() - begun
        stop.set()
        for one in readers:
            one.join()
        writer.close()
        return found, took


def main() -> None:
    megabytes = int(sys.argv[1]) if len(sys.argv) > 1 else 400
    quiet = float(np.percentile(measured("WAL", 0)[0].took_ms, 95))
    print(f"{megabytes} MB beside {READERS} readers; reference (nobody writes, 95 %): {quiet:.2f} ms\n")
    print("| journal | written | read, median | 95 % | times the reference | longest | locked |")
    print("|---|---:|---:|---:|---:|---:|---:|")
    for mode in MODES:
        found, took = measured(mode, megabytes)
        low, high, most = np.median(found.took_ms), np.percentile(found.took_ms, 95), max(found.took_ms)
        speed, times = megabytes / took, high / quiet
        print(
            f"| {mode} | {speed:.0f} MB/s | {low:.2f} ms | {high:.1f} ms | {times:.0f} | {most:.0f} ms "
            f"| {found.locked} |"
        )


if __name__ == "__main__":
    main()
