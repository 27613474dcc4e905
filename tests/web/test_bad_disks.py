"""Every kind of change on a disk that is full, read-only, or locked by another program: an answer in words, nothing
changed, and everything can still be read."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from pathlib import Path

import numpy as np
import pytest
from sqlalchemy import event

from phasko.jobs.captures import import_capture
from phasko.store import Database
from phasko.web.app import create_app
from phasko.web.door import Door
from tests.builders import FOUR, bench_files, pool_engine
from tests.store.test_audit import job_in
from tests.web.caller import Caller

PROFILE = pool_engine(FOUR).model_copy(update={"name": "Another"}).model_dump_json(by_alias=True, exclude_none=True)
NOISE = np.random.default_rng(3).integers(0, 10**6, 60_000)
ROWS = b"time_s,c1\n" + b"".join(b"%d,%d\n" % (k, n) for k, n in enumerate(NOISE))
CHANGES: dict[str, Callable[[Caller], object]] = {
    "job": lambda call: call("POST", "/api/jobs", json={"vehicle": "Van", "engine_id": 1}),
    "told": lambda call: call("PUT", "/api/jobs/1/document", json={"schema": "phasko.job/1", "costs": {}}),
    "engine of the job": lambda call: call("PUT", "/api/jobs/1/engine", json={"engine_id": 1}),
    "job out": lambda call: call("DELETE", "/api/jobs/1"),
    "capture": lambda call: call("POST", "/api/jobs/1/captures", files={"data": ("x.csv", ROWS)}),
    "capture out": lambda call: call("DELETE", "/api/captures/1"),
    "marks": lambda call: call("PUT", "/api/captures/1/marks", json={"marks": [{"t_s": 0.5}]}),
    "known good": lambda call: call("PUT", "/api/captures/1/known-good", json={"good": True}),
    "look": lambda call: call("POST", "/api/jobs/1/looks", json={"question": "marks", "answer": "out"}),
    "engine": lambda call: call("POST", "/api/engines", files={"profile": ("e.json", PROFILE)}),
    "person": lambda call: call(
        "POST", "/api/people", json={"name": "Ida", "role": "lead", "passphrase": "four good long words"}
    ),
}
READS = ["/api/jobs", "/api/jobs/1", "/api/jobs/1/captures", "/api/engines", "/api/captures/1/raw-head", "/api/log"]


@pytest.fixture
def stored(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Database]:
    monkeypatch.setattr("phasko.store.database.WAIT_S", 0.2)
    with closing(Database(tmp_path)) as database:
        job_id = job_in(database)
        import_capture(database, job_id, bench_files())
        yield database


@contextmanager
def full(database: Database) -> Iterator[None]:
    """Not one page more."""

    def limit(connection: sqlite3.Connection, *_: object) -> None:
        connection.execute("PRAGMA max_page_count = 1")

    with _on_every_connection(database, limit):
        yield


@contextmanager
def read_only(database: Database) -> Iterator[None]:
    def refuse(connection: sqlite3.Connection, *_: object) -> None:
        connection.execute("PRAGMA query_only = ON")

    with _on_every_connection(database, refuse):
        yield


@contextmanager
def locked(database: Database) -> Iterator[None]:
    with closing(sqlite3.connect(database.path, isolation_level=None)) as other:
        other.execute("BEGIN IMMEDIATE")
        yield


@contextmanager
def _on_every_connection(database: Database, does: Callable[..., None]) -> Iterator[None]:
    engine = database._engine
    engine.dispose()
    event.listen(engine, "connect", does)
    yield
    event.remove(engine, "connect", does)
    engine.dispose()


@pytest.mark.parametrize("how", [full, read_only, locked])
def test_no_change_is_half_and_everything_can_be_read(stored: Database, how: Callable[[Database], object]) -> None:
    call = Caller(create_app(stored, Door(tuple, loopback_only=True)))
    before = {path: call("GET", path).content for path in READS}
    refused = 0
    with how(stored):  # type: ignore[attr-defined]
        for name, change in CHANGES.items():
            answer = change(call)
            assert answer.status_code in (503, 507) or how is full, f"{name}: {answer.text}"  # type: ignore[attr-defined]
            if answer.status_code in (503, 507):  # type: ignore[attr-defined]
                refused += 1
                assert {"what", "place", "kept", "remedy"} == set(json.loads(answer.text))  # type: ignore[attr-defined]
        for path in READS:
            assert call("GET", path).status_code == 200
    assert refused > 0
    if how is not full:
        # A page that is there already may still be written on a full disk.
        assert {path: call("GET", path).content for path in READS} == before
