"""Erasing for good: only what was taken out, all of its bytes, and the log keeps that it was done."""

from __future__ import annotations

import pytest
from sqlalchemy import func, select

from phasko.core.errors import ConflictError, NotFoundError
from phasko.jobs.analysing import analyse_stored_job
from phasko.jobs.board import board
from phasko.jobs.captures import import_capture, import_data_file, list_captures, remove_capture, restore_capture
from phasko.jobs.opening import remove_job, restore_job, show_job
from phasko.keeping import check_workshop
from phasko.keeping.erasing import erase_capture, erase_job, taken_out
from phasko.keeping.log import log_page
from phasko.store import Database
from phasko.store.arriving import forget_halves
from phasko.store.models import Capture, CaptureFile, Job, Look, Result, RoadTest, SampleChunk, Vehicle
from tests.builders import bench_files
from tests.store.test_audit import job_in

SECRET = b"Tilda Fenn, Harbour Row 9"


def counts(database: Database) -> dict[str, int]:
    with database.reading() as session:
        tables = (Job, Vehicle, Capture, CaptureFile, SampleChunk, Result, Look, RoadTest)
        return {t.__tablename__: session.scalar(select(func.count()).select_from(t)) or 0 for t in tables}


def on_disk(database: Database) -> bytes:
    folder = database.path.parent
    return b"".join(path.read_bytes() for path in folder.glob("phasko.sqlite3*"))


def test_a_capture_goes_with_its_bytes_and_results(database: Database) -> None:
    job_id = job_in(database)
    kept = import_capture(database, job_id, bench_files())
    told = b"# " + SECRET + b"\ntime_s,c1\n" + b"".join(b"%d,%d\n" % (k, k % 7) for k in range(40))
    stored = import_data_file(database, job_id, "theirs.csv", told)
    assert analyse_stored_job(database, job_id) is not None
    with pytest.raises(ConflictError, match="still in its job"):
        erase_capture(database, stored.id)
    remove_capture(database, stored.id)
    assert [one.id for one in taken_out(database).captures] == [stored.id]
    erase_capture(database.by("Ida"), stored.id)
    with pytest.raises(NotFoundError):
        restore_capture(database, stored.id)
    left = counts(database)
    assert left["captures"] == 1
    assert left["results"] == 0
    assert SECRET not in on_disk(database)
    assert [one.id for one in list_captures(database, job_id)] == [kept.id]
    assert check_workshop(database.path.parent) == []
    newest = log_page(database).lines[0]
    assert (newest.who, newest.did, newest.what) == ("Ida", "erased", f"capture {stored.id}")
    import_data_file(database, job_id, "theirs.csv", told)
    assert len(list_captures(database, job_id)) == 2


def test_a_job_goes_with_all_that_was_in_it(database: Database) -> None:
    job_id = job_in(database)
    import_capture(database, job_id, bench_files())
    analyse_stored_job(database, job_id)
    with pytest.raises(ConflictError, match="still on the board"):
        erase_job(database, job_id)
    remove_job(database, job_id)
    assert board(database) == []
    assert show_job(database, job_id).removed_at is not None
    restore_job(database, job_id)
    assert [row.job.id for row in board(database)] == [job_id]
    remove_job(database, job_id)
    assert erase_job(database, job_id).jobs == []
    assert set(counts(database).values()) == {0}
    assert b"Rowan 12" not in on_disk(database)
    assert check_workshop(database.path.parent) == []


def test_a_kill_while_it_is_erased_leaves_nothing_that_anybody_sees(
    database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    job_id = job_in(database)
    stored = import_capture(database, job_id, bench_files())
    remove_capture(database, stored.id)

    class Killed(BaseException):
        pass

    def killed(*_: object) -> None:
        raise Killed

    with monkeypatch.context() as patch:
        patch.setattr("phasko.store.erasing.forget_capture", killed)
        with pytest.raises(Killed):
            erase_capture(database, stored.id)
    assert taken_out(database).captures == []
    assert counts(database)["sample_chunks"] > 0
    forget_halves(database)
    assert counts(database)["sample_chunks"] == 0
    assert counts(database)["capture_files"] == 0
