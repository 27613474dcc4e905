"""A server that is sent every hostile file: an answer in words, under 600 MB with all its processes, and still
there."""

from __future__ import annotations

import subprocess
import threading
from collections.abc import Iterator
from contextlib import closing
from dataclasses import dataclass, field
from pathlib import Path

import httpx
import pytest

from phasko.store import Database
from tests.hostile.files import HOSTILE
from tests.store.test_audit import job_in
from trials.serving import served

MOST_MB = 600.0
TARGETS = {
    "capture": ("/api/jobs/{job}/captures", "data"),
    "bundle": ("/api/bundles", "bundle"),
    "engine": ("/api/engines", "profile"),
}


@dataclass
class Watched:
    """A running server, and the most memory that it and its children ever had together, in MB."""

    process: subprocess.Popen[bytes]
    address: str
    job_id: int
    peak_mb: float = 0.0
    _stop: threading.Event = field(default_factory=threading.Event)

    def watch(self) -> None:
        while not self._stop.wait(0.02):
            self.peak_mb = max(self.peak_mb, sum(_own_mb(pid) for pid in _family(self.process.pid)))

    def end(self) -> None:
        self._stop.set()


def _family(pid: int) -> list[int]:
    found = [pid]
    for task in Path(f"/proc/{pid}/task").glob("*/children"):
        try:
            found += [one for child in task.read_text().split() for one in _family(int(child))]
        except OSError:
            continue
    return found


def _own_mb(pid: int) -> float:
    """What a process holds for itself; pages of mapped files can be taken back at any time."""
    try:
        lines = Path(f"/proc/{pid}/status").read_text().splitlines()
    except OSError:
        return 0.0
    kept = [line for line in lines if line.startswith(("RssAnon", "RssShmem"))]
    return sum(int(line.split()[1]) for line in kept) * 1024 / 1e6


@pytest.fixture(scope="module")
def watched(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Watched]:
    data = tmp_path_factory.mktemp("hostile")
    with closing(Database(data)) as database:
        job_id = job_in(database)
    with served(data) as running:
        server = Watched(running.process, running.address, job_id)
        watching = threading.Thread(target=server.watch)
        watching.start()
        yield server
        server.end()
        watching.join()


OWN_PLACES = ("src/phasko/formats", "src/phasko/readers", "src/phasko/web", "src/phasko/jobs/captures")
IN_EVERY_CHECK = ("space.h5", "claims.mf4", "runs.parquet", "about.zip", "deep.json", "columns.csv")
"""One of each way in; all of them run with everything."""


@pytest.mark.parametrize(
    "name", [pytest.param(n, marks=[] if n in IN_EVERY_CHECK else [pytest.mark.exhaustive]) for n in HOSTILE]
)
def test_a_hostile_file_is_answered_in_words_and_takes_no_memory(watched: Watched, name: str) -> None:
    kind, make = HOSTILE[name]
    content = make()
    assert len(content) < 25 << 20
    path, part = TARGETS[kind]
    more = {"interval_s": "1e-5"} if kind == "capture" else {}
    watched.peak_mb = 0.0
    answer = httpx.post(
        watched.address + path.format(job=watched.job_id), files={part: (name, content)}, data=more, timeout=120.0
    )
    assert answer.status_code < 500, answer.text
    if answer.status_code >= 400:
        assert {"what", "place", "kept", "remedy"} <= set(answer.json())
    assert watched.process.poll() is None
    assert watched.peak_mb < MOST_MB, f"{name}: {watched.peak_mb:.0f} MB"
