"""Who did what: the log, versions of what is changed, and that neither can be gone round."""

import sqlite3
from contextlib import closing

import pytest

from phasko.core.documents.capture import Mark
from phasko.core.documents.job import JobDocument
from phasko.core.errors import OutdatedError
from phasko.jobs.captures import import_capture, remove_capture, restore_capture, set_filter, set_marks
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.looking import note_look
from phasko.jobs.opening import open_job, put_engine, remove_job
from phasko.jobs.seal_station import set_taken_out
from phasko.jobs.told import tell, told_document
from phasko.keeping.log import log_as_csv, log_page
from phasko.keeping.people import add_person, reset_passphrase
from phasko.store import Database
from tests.builders import FOUR, bench_files, pool_engine, saw


def job_in(database: Database) -> int:
    saved = save_engine(database, pool_engine(FOUR).model_dump_json(by_alias=True, exclude_none=True).encode(), "e")
    return open_job(
        database, vehicle="Rowan 12", make_model="", complaint="rattles", codes=["P0016"], engine_id=saved.id
    ).id


def deeds(database: Database) -> list[tuple[str, str, str, list[str]]]:
    return [(line.who, line.did, line.what, line.fields) for line in reversed(log_page(database).lines)]


def told(**more: object) -> JobDocument:
    return JobDocument.model_validate({"schema": "phasko.job/1", **more})


def test_every_change_stands_in_the_log_with_who_made_it(database: Database) -> None:
    mira = database.by("Mira")
    job_id = job_in(mira)
    tell(database.by("Odo"), job_id, told(minutes={"marks": 60}, codes=[{"code": "P0017"}]))
    stored = import_capture(mira, job_id, bench_files())
    set_taken_out(mira, stored.id, 2)
    remove_capture(mira, stored.id)
    restore_capture(database, stored.id)
    note_look(mira, job_id, saw("marks", "out"))
    add_person(mira, "Ida", "reader", "four good long words")
    reset_passphrase(mira, "Ida", "five very good long words")
    remove_job(mira, job_id)
    assert deeds(database) == [
        ("Mira", "stored", f"engine profile {pool_engine(FOUR).name}, version 1", []),
        ("Mira", "opened", f"job {job_id}", []),
        ("Odo", "changed", f"job {job_id}", ["codes", "minutes"]),
        ("Mira", "added", f"capture {stored.id}", []),
        ("Mira", "changed", f"capture {stored.id}", ["taken out"]),
        ("Mira", "took out", f"capture {stored.id}", []),
        ("this machine", "brought back", f"capture {stored.id}", []),
        ("Mira", "noted", "a look", ["marks"]),
        ("Mira", "added", "person Ida as reader", []),
        ("Mira", "changed", "person Ida", ["passphrase"]),
        ("Mira", "took out", f"job {job_id}", []),
    ]


def test_nothing_that_a_customer_told_stands_in_the_log(database: Database) -> None:
    job_id = job_in(database)
    tell(database, job_id, told(complaint={"text": "belongs to Tilda Fenn"}))
    assert "Tilda" not in log_as_csv(database)
    assert "Rowan" not in log_as_csv(database)


def test_the_file_itself_refuses_to_change_the_log(database: Database) -> None:
    job_in(database)
    with closing(sqlite3.connect(database.path)) as file:
        for statement in ("UPDATE log_entries SET who = 'nobody'", "DELETE FROM log_entries"):
            with pytest.raises(sqlite3.IntegrityError, match="append-only"):
                file.execute(statement)


def test_a_change_that_fails_leaves_no_line(database: Database) -> None:
    job_id = job_in(database)
    before = deeds(database)
    with pytest.raises(RuntimeError, match="half way"), database.transaction() as session:
        from phasko.store import jobs

        jobs.get_job(session, job_id).complaint = "another one"
        session.flush()
        raise RuntimeError("half way")
    assert deeds(database) == before


def test_two_who_edit_one_document_lose_neither(database: Database) -> None:
    job_id = job_in(database)
    both_saw = told_document(database, job_id).version
    first = tell(database.by("Mira"), job_id, told(minutes={"marks": 60}), both_saw)
    assert first.version == both_saw + 1
    with pytest.raises(OutdatedError) as caught:
        tell(database.by("Odo"), job_id, told(minutes={"marks": 90}), both_saw)
    assert caught.value.what == "Mira changed this meanwhile: minutes"
    assert caught.value.changed == ("minutes",)
    assert caught.value.version == first.version
    assert told_document(database, job_id).document.minutes == {"marks": 60}
    tell(database.by("Odo"), job_id, told(minutes={"marks": 90}), first.version)
    assert told_document(database, job_id).document.minutes == {"marks": 90}


def test_changes_of_different_entries_do_not_stand_in_each_others_way(database: Database) -> None:
    job_id = job_in(database)
    stored = import_capture(database, job_id, bench_files())
    set_taken_out(database, stored.id, 2)
    set_filter(database, stored.id, "Ch 1" if "Ch 1" in stored.channels else stored.switching[0].column, 900.0, 1)
    with pytest.raises(OutdatedError, match="channels"):
        set_filter(database, stored.id, stored.switching[1].column, 900.0, 1)
    set_marks(database, stored.id, [Mark(t_s=0.5)], 1)
    with pytest.raises(OutdatedError, match="marks"):
        set_marks(database, stored.id, [Mark(t_s=0.7)], 1)
    with pytest.raises(OutdatedError, match="taken out"):
        set_taken_out(database, stored.id, 3, 1)
    put_engine(database, job_id, told_document(database, job_id).version)


def test_a_profile_written_over_an_older_version_is_refused(database: Database) -> None:
    profile = pool_engine(FOUR).model_dump(by_alias=True, exclude_none=True, mode="json")
    job_in(database)
    import json

    newer = json.dumps({**profile, "layout": "vee"}).encode()
    save_engine(database, newer, "e", 1)
    with pytest.raises(OutdatedError, match="Version 2"):
        save_engine(database, json.dumps({**profile, "interference": False}).encode(), "e", 1)


def test_the_log_comes_in_pages_and_as_a_file_that_runs_nothing(database: Database) -> None:
    evil = database.by("=HYPERLINK(1)")
    for number in range(120):
        open_job(
            evil,
            vehicle=f"Boat {number}",
            make_model="",
            complaint="",
            codes=[],
            engine_id=save_engine(
                database, pool_engine(FOUR).model_dump_json(by_alias=True, exclude_none=True).encode(), "e"
            ).id,
        )
    newest = log_page(database)
    assert len(newest.lines) == 100
    assert newest.older is not None
    older = log_page(database, newest.older)
    assert older.lines[0].id == newest.older - 1
    assert older.older is None
    rows = log_as_csv(database).splitlines()
    assert len(rows) == 1 + 121
    assert rows[2].split(",")[2] == "'=HYPERLINK(1)"
