"""Captures on their way in: seen when they are whole, once, and never half."""

from __future__ import annotations

import signal
import subprocess
import sys
import threading
import time
from pathlib import Path

import pytest

from phasko.core.errors import ConflictError, NotFoundError
from phasko.store import Database, captures, jobs
from phasko.store.arriving import NewCapture, arriving, forget_halves
from phasko.store.chunks import encode_chunks, pack_file
from phasko.store.models import Capture, CaptureFile, SampleChunk
from tests.builders import recording_of, square_wave

RECORDING = recording_of(square_wave(100, 50))
NEW = NewCapture("x", RECORDING.description, 0.0, 1e-3, RECORDING.channels[0].samples.size, "s", confirmed=True)


@pytest.fixture
def job_id(database: Database) -> int:
    with database.transaction() as session:
        engine = jobs.store_engine(session, "Engine", "{}", "a" * 64)
        return jobs.add_job(session, "Van", "Make", "rough", "P0016", engine.id).id


def counts(database: Database) -> tuple[int, int, int]:
    with database.reading() as session:
        return tuple(session.query(table).count() for table in (Capture, SampleChunk, CaptureFile))  # type: ignore


def test_nobody_sees_it_before_it_is_whole(database: Database, job_id: int) -> None:
    with arriving(database, job_id, "x", "h") as arrival:
        arrival.add_column("c1", encode_chunks(RECORDING.channels[0].samples))
        with database.reading() as session:
            assert captures.captures_of(session, job_id) == []
            with pytest.raises(NotFoundError):
                captures.get_capture(session, arrival.capture_id)
        arrival.finish(NEW)
    with database.reading() as session:
        assert [one.id for one in captures.captures_of(session, job_id)] == [arrival.capture_id]


def test_one_that_is_not_finished_leaves_nothing(database: Database, job_id: int) -> None:
    with pytest.raises(ValueError, match="stop"), arriving(database, job_id, "x", "h") as arrival:
        arrival.add_files({"data": ("x.csv", pack_file(b"1,2"))})
        arrival.add_column("c1", encode_chunks(RECORDING.channels[0].samples))
        raise ValueError("stop")
    assert counts(database) == (0, 0, 0)


def test_a_second_one_meanwhile_is_refused(database: Database, job_id: int) -> None:
    with arriving(database, job_id, "x", "h"), pytest.raises(ConflictError, match="at this moment"):
        arriving(database, job_id, "x", "h").__enter__()


def test_of_many_at_once_exactly_one_is_stored(database: Database, job_id: int) -> None:
    outcomes: list[str] = []
    together = threading.Barrier(8)

    def bring() -> None:
        together.wait()
        try:
            with arriving(database, job_id, "x", "h") as arrival:
                arrival.add_column("c1", encode_chunks(RECORDING.channels[0].samples))
                arrival.finish(NEW)
            outcomes.append("stored")
        except ConflictError:
            outcomes.append("refused")

    threads = [threading.Thread(target=bring) for _ in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(outcomes) == ["refused"] * 7 + ["stored"]
    assert counts(database)[0] == 1


def test_others_read_and_write_while_it_arrives(database: Database, job_id: int) -> None:
    with arriving(database, job_id, "x", "h") as arrival:
        arrival.add_column("c1", encode_chunks(RECORDING.channels[0].samples))
        with database.transaction() as session:
            jobs.add_job(session, "Bus", "", "", "", 1)
        with database.reading() as session:
            assert len(jobs.all_jobs(session)) == 2


def test_a_reader_never_waits_for_a_writer(database: Database, job_id: int) -> None:
    """It sees the state before; a reader that had to wait for the lock would never come to its end here."""
    with database.transaction() as writing:
        jobs.get_job(writing, job_id).complaint = "changed"
        writing.flush()
        with database.reading() as reading:
            assert jobs.get_job(reading, job_id).complaint == "rough"


KILLED = """
import sys, time
from pathlib import Path
from phasko.store import Database
from phasko.store.arriving import arriving
from phasko.store.chunks import pack_file
database = Database(Path(sys.argv[1]))
with arriving(database, 1, "x", "h") as arrival:
    arrival.add_files({"data": ("x.csv", pack_file(bytes(range(256)) * 100000))})
    print("in the middle", flush=True)
    time.sleep(60)
"""


def test_what_a_kill_left_is_forgotten_at_the_next_start(database: Database, job_id: int, tmp_path: Path) -> None:
    with subprocess.Popen([sys.executable, "-c", KILLED, str(tmp_path)], stdout=subprocess.PIPE, text=True) as running:
        assert running.stdout is not None
        assert running.stdout.readline().strip() == "in the middle"
        running.send_signal(signal.SIGKILL)
    time.sleep(0.05)
    assert counts(database)[2] > 0
    assert forget_halves(database) == 1
    assert counts(database) == (0, 0, 0)
    assert forget_halves(database) == 0
