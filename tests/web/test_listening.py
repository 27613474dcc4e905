"""Changes as they are stored, told to whoever listens: from this process and from others, missed ones too."""

from __future__ import annotations

import asyncio
import json
import signal
import threading
import time
from collections.abc import Awaitable, Callable, Iterator
from contextlib import closing
from pathlib import Path

import httpx
import pytest

from phasko.bench.pool import pool_engine
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.opening import open_job
from phasko.keeping.people import add_person, remove_person
from phasko.store import Database, results
from phasko.store.audit import note
from phasko.store.models import LogEntry
from phasko.web.live import Change, Live
from trials.serving import served

PATIENCE_S = 120.0


@pytest.fixture
def live(database: Database) -> Iterator[Live]:
    with closing(Live(database)) as made:
        yield made


def engine_id(database: Database) -> int:
    text = pool_engine("pellowe-1.0-triple").model_dump_json(by_alias=True, exclude_none=True).encode()
    return save_engine(database, text, "engine.json").id


def opened(database: Database, vehicle: str) -> int:
    asked = {"make_model": "", "complaint": "", "codes": []}
    return open_job(database, vehicle=vehicle, engine_id=engine_id(database), **asked).id


def heard(live: Live, since: int | None, meanwhile: Callable[[], object], *, count: int = 2) -> list[Change]:
    """The first changes; something is done once the first one, which says where one stands, is there."""

    async def listen() -> list[Change]:
        found: list[Change] = []
        async for change in live.changes(since, PATIENCE_S):
            assert change is not None, "nothing was told"
            found.append(change)
            if len(found) == count:
                break
            await asyncio.to_thread(meanwhile)
        return found

    return asyncio.run(listen())


def test_a_new_job_is_told_with_its_number(live: Live, database: Database) -> None:
    known = engine_id(database)
    before = live.newest()
    opening = {"make_model": "", "complaint": "", "codes": [], "engine_id": known}
    ids: list[int] = []
    first, second = heard(
        live,
        None,
        lambda: ids.append(open_job(database, vehicle="Van 1", **opening).id),  # type: ignore[arg-type]
    )
    assert (first.entry, first.jobs, first.everywhere) == (before, [], False)
    assert second.jobs == ids
    assert second.entry > before


def test_what_another_process_stores_is_told_too(live: Live, database: Database) -> None:
    job = opened(database, "Van 1")

    def elsewhere() -> None:
        with closing(Database(database.path.parent)) as other, other.transaction() as session:
            note(session, "added", "capture 7", job_id=job, capture_id=7)

    _, told = heard(live, None, elsewhere)
    assert (told.jobs, told.captures, told.everywhere) == ([job], [7], False)


def test_whoever_was_away_is_told_what_he_missed(live: Live, database: Database) -> None:
    before = live.newest()
    jobs = [opened(database, "Van 1"), opened(database, "Van 2")]
    (missed,) = heard(live, before, lambda: None, count=1)
    assert set(jobs) <= set(missed.jobs)
    assert missed.entry == live.newest()


@pytest.mark.parametrize("how", ["too many", "another file"])
def test_what_cannot_be_told_counts_as_everything(live: Live, database: Database, how: str) -> None:
    before = live.newest()
    if how == "too many":
        with database.transaction() as session:
            for _ in range(300):
                note(session, "added", "a thing", job_id=1)
    (missed,) = heard(live, before if how == "too many" else before + 50, lambda: None, count=1)
    assert missed.everywhere
    assert missed.entry == live.newest()


def test_a_known_good_capture_concerns_every_job_and_a_mark_only_its_own(live: Live, database: Database) -> None:
    def marked(fields: str) -> Callable[[], None]:
        def store() -> None:
            with database.transaction() as session:
                about = {"at": "2026-01-01", "who": "Lin", "did": "changed", "what": "capture 3"}
                session.add(LogEntry(**about, job_id=2, capture_id=3, fields=fields))

        return store

    assert not heard(live, None, marked("marks"))[1].everywhere
    assert heard(live, None, marked("marks\nknown good"))[1].everywhere


def test_a_job_that_was_changed_is_called_and_its_new_result_is_told(database: Database) -> None:
    job = opened(database, "Van 1")

    def call(number: int) -> None:
        with database.transaction() as session:
            results.store_result(session, results.NewResult(job_id=number, key=f"key {number}", document="{}"))

    def change() -> None:
        with database.transaction() as session:
            note(session, "added", "a look", job_id=job)

    with closing(Live(database, call)) as live:
        told = heard(live, None, change, count=3)
    assert told[1].jobs == [job]
    assert [change.called for change in told[1:]] == [[], [job]]


def test_many_who_listen_are_told_once_each_and_the_thread_ends_with_them(live: Live, database: Database) -> None:
    known = engine_id(database)

    async def several() -> list[list[Change]]:
        ready = asyncio.Barrier(6)

        async def one() -> list[Change]:
            found: list[Change] = []
            async for change in live.changes(None, PATIENCE_S):
                assert change is not None
                found.append(change)
                if len(found) == 2:
                    break
                await ready.wait()
            return found

        async def opens() -> list[Change]:
            await ready.wait()
            asked = {"make_model": "", "complaint": "", "codes": [], "engine_id": known}
            await asyncio.to_thread(lambda: open_job(database, vehicle="Van 9", **asked))  # type: ignore[arg-type]
            return []

        working: list[Awaitable[list[Change]]] = [opens(), *(one() for _ in range(5))]
        return list(await asyncio.gather(*working))

    told = asyncio.run(several())[1:]
    assert len({tuple(change.jobs) for _, change in told}) == 1
    patient_until = time.monotonic() + PATIENCE_S
    while any(thread.name.startswith("live") for thread in threading.enumerate()):
        assert time.monotonic() < patient_until
        time.sleep(0.05)


def test_a_stream_over_http_ends_with_its_session_and_with_the_server(tmp_path: Path) -> None:
    with closing(Database(tmp_path)) as database:
        add_person(database, "Lin", "lead", "four good long words")
        add_person(database, "Mira", "reader", "moss kettle vane gate")
        job = opened(database, "Van 1")
    with served(tmp_path) as running, httpx.Client(base_url=running.address, timeout=PATIENCE_S) as client:
        assert client.get("/api/changes").status_code == 401
        signed = client.post("/api/session", json={"name": "Mira", "passphrase": "moss kettle vane gate"}).json()
        since = signed["entry"]
        with closing(Database(tmp_path)) as database, database.transaction() as session:
            note(session, "added", "a look", job_id=job)
        with client.stream("GET", "/api/changes", headers={"last-event-id": str(since)}) as stream:
            assert stream.headers["content-type"].startswith("text/event-stream")
            lines = stream.iter_lines()
            assert _next(lines, "event") == "changed"
            assert json.loads(_next(lines, "data"))["jobs"] == [job]
            with closing(Database(tmp_path)) as database, database.transaction() as session:
                note(session, "added", "a look", job_id=job)
            assert json.loads(_next(lines, "data"))["jobs"] == [job]
            with closing(Database(tmp_path)) as database:
                remove_person(database, "Mira")
            assert all(not line.startswith("data") or "everywhere" in line for line in lines), "it ends by itself"
        assert client.get("/api/changes").status_code == 401
        client.post("/api/session", json={"name": "Lin", "passphrase": "four good long words"})
        with client.stream("GET", "/api/changes") as stream:
            lines = stream.iter_lines()
            assert json.loads(_next(lines, "data"))["jobs"] == []
            running.process.terminate()
            assert "data" not in "".join(lines)
        assert running.process.wait(PATIENCE_S) == -signal.SIGTERM


def _next(lines: Iterator[str], field: str) -> str:
    return next(line.removeprefix(f"{field}: ") for line in lines if line.startswith(f"{field}: "))
