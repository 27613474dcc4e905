"""Stored engine profiles: versions, drafts, the jobs that use them."""

import json

import pytest

from phasko.core.errors import ConflictError, DocumentError, NotFoundError
from phasko.jobs.board import board
from phasko.jobs.captures import import_capture
from phasko.jobs.engine_profiles import (
    engine_file,
    engine_page,
    engine_profile,
    engine_rows,
    engines,
    read_draft,
    remove_engine,
    save_engine,
)
from phasko.jobs.opening import JobSummary, open_job, put_engine, remove_job, show_job
from phasko.keeping.erasing import erase_job
from phasko.store import Database
from phasko.store.jobs import store_engine
from phasko.store.results import NewResult, store_result
from tests.builders import bench_files, profile, profile_dict

SMALL = {
    "schema": "phasko.engine/1",
    "name": "Tidewater 1.8 four",
    "cylinders": 4,
    "firing_order": [1, 3, 4, 2],
    "crank": {"wheel": {"slots": 36, "missing": [36]}},
}


def stored(database: Database, **changes: object) -> int:
    return save_engine(database, json.dumps({**SMALL, **changes}).encode(), "engine.json").id


def test_cylinders_firing_order_and_a_wheel_are_welcome(database: Database) -> None:
    page = engine_page(database, stored(database))
    assert page.reading.drawing is not None
    assert page.reading.drawing.wheel == "36-1"
    assert page.reading.open_points[0].field == "crank.index_deg"
    assert page.document == SMALL


def test_a_correction_is_a_new_version_that_says_what_it_changed(database: Database) -> None:
    first = stored(database)
    second = stored(database, displacement_l=1.8)
    page = engine_page(database, second)
    assert [(v.id, v.version) for v in page.versions] == [(second, 2), (first, 1)]
    assert [(c.field, c.before, c.after) for c in page.versions[0].changes] == [("displacement_l", None, "1.8 l")]
    assert page.versions[1].changes == []
    assert engine_profile(database, first).displacement_l is None


def test_the_same_profile_twice_is_one_version(database: Database) -> None:
    assert stored(database) == stored(database)


def test_a_job_keeps_its_version_until_it_is_moved(database: Database) -> None:
    first = stored(database)
    job = open_job(database, vehicle="Tug 2", make_model="", complaint="", codes=[], engine_id=first)
    second = stored(database, displacement_l=1.8)
    assert [(j.vehicle, j.version) for j in engine_page(database, second).jobs] == [("Tug 2", 1)]
    assert put_engine(database, job.id, second).engine.version == 2
    assert show_job(database, job.id).engine.id == second


def test_a_job_is_not_moved_to_nothing(database: Database, job: JobSummary) -> None:
    with pytest.raises(NotFoundError):
        put_engine(database, job.id, 999)
    assert show_job(database, job.id) == job


def test_the_list_says_what_is_known(database: Database, job: JobSummary) -> None:
    stored(database)
    rows = {row.name: row for row in engine_rows(database)}
    assert (rows["Tidewater 1.8 four"].wheel, rows["Tidewater 1.8 four"].cams, rows["Tidewater 1.8 four"].jobs) == (
        "36-1",
        0,
        0,
    )
    assert rows[job.engine.name].jobs == 1


def test_the_file_is_what_was_stored(database: Database) -> None:
    name, text = engine_file(database, stored(database))
    assert name == "tidewater-1.8-four.engine.json"
    assert json.loads(text) == SMALL


def test_a_draft_names_every_fault_at_its_field() -> None:
    reading = read_draft({**SMALL, "cylinders": 0, "crank": {"wheel": {"slots": 1}}})
    assert {fault.field for fault in reading.faults} >= {"cylinders", "crank.wheel.slots"}
    assert reading.drawing is None


def test_a_good_draft_is_drawn_and_stored_nowhere(database: Database) -> None:
    reading = read_draft(profile_dict())
    assert reading.faults == []
    assert reading.drawing is not None
    assert reading.drawing.name == profile().name
    assert engine_rows(database) == []


@pytest.mark.parametrize("mark", [b"\xef\xbb\xbf", b""])
@pytest.mark.parametrize("code", ["utf-8", "utf-16"])
def test_a_byte_order_mark_is_read_and_left_out(database: Database, mark: bytes, code: str) -> None:
    plain = json.dumps(profile_dict())
    document = mark + plain.encode() if code == "utf-8" else plain.encode(code)
    saved = save_engine(database, document, "from an editor.json")
    assert engine_file(database, saved.id)[1] == plain
    assert [row.unreadable for row in engine_rows(database)] == [None]


def test_one_profile_that_cannot_be_read_hides_no_other(database: Database, job: JobSummary) -> None:
    with database.transaction() as session:
        stored = store_engine(session, "Spoilt", "\ufeff{", "0" * 64)
        used = store_engine(session, job.engine.name, "{}", "1" * 64)
        spoilt, newer = stored.id, used.id
    put_engine(database, job.id, newer)
    rows = {row.name: row for row in engine_rows(database)}
    assert "is not JSON" in (rows["Spoilt"].unreadable or "")
    assert rows[job.engine.name].cylinders is None
    assert [row.job.vehicle for row in board(database)] == [job.vehicle]
    with pytest.raises(DocumentError):
        engine_page(database, spoilt)


def test_a_stored_result_that_cannot_be_read_hides_no_job(database: Database, job: JobSummary) -> None:
    import_capture(database, job.id, bench_files())
    with database.transaction() as session:
        store_result(session, NewResult(job_id=job.id, key="any", document="{}"))
    assert [row.finding for row in board(database)] == [None]


def test_an_engine_goes_with_all_its_versions_once_no_job_needs_it(database: Database) -> None:
    first = stored(database)
    second = stored(database, displacement_l=1.8)
    job = open_job(database, vehicle="Van", make_model="", complaint="", codes=[], engine_id=first)
    remove_job(database, job.id)
    with pytest.raises(ConflictError, match="1 job is read with it, 1 of them taken out"):
        remove_engine(database, second)
    erase_job(database, job.id)
    remove_engine(database, second)
    assert engines(database) == []
    with pytest.raises(NotFoundError):
        engine_page(database, first)
