"""Results: the same from files and from the store, stored once, stale when something changes."""

from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from pathlib import Path

import pytest

from phasko.code_hash import software_label
from phasko.core import numbers
from phasko.core.errors import DocumentError, NotFoundError
from phasko.jobs.analysing import analyse_stored_job, phase_strip
from phasko.jobs.board import board
from phasko.jobs.captures import import_capture, remove_capture
from phasko.jobs.demo import fill_demo
from phasko.jobs.engine_profiles import engine_profile, engines, save_engine
from phasko.jobs.from_files import analyse_files
from phasko.jobs.opening import JobSummary, open_job
from phasko.jobs.told import job_document
from phasko.store import Database
from phasko.store.models import Result
from phasko.store.results import older_calls
from tests.builders import FOUR, bench_files, pool_engine


def results(database: Database) -> int:
    with database.transaction() as session:
        return session.query(Result).count()


def test_the_command_and_the_store_say_the_same(database: Database, job: JobSummary, tmp_path: Path) -> None:
    files = bench_files(B1I=17.1, B1E=17.1)
    (tmp_path / files.description_name).write_bytes(files.description)
    (tmp_path / files.data_name).write_bytes(files.data)
    document = pool_engine(FOUR).model_dump_json(by_alias=True, exclude_none=True)
    (tmp_path / "engine.json").write_text(document)
    import_capture(database, job.id, files)
    stored = analyse_stored_job(database, job.id)
    assert stored is not None
    (tmp_path / "job.json").write_text(job_document(database, job.id).model_dump_json(by_alias=True, exclude_none=True))
    capture, engine, told = (tmp_path / name for name in (files.description_name, "engine.json", "job.json"))
    assert stored.analysis == analyse_files([capture], engine, (), told)


def test_a_job_without_captures_has_no_result(database: Database, job: JobSummary) -> None:
    assert analyse_stored_job(database, job.id) is None


def test_a_result_is_made_once_until_something_changes(database: Database, job: JobSummary) -> None:
    import_capture(database, job.id, bench_files())
    first = analyse_stored_job(database, job.id)
    assert analyse_stored_job(database, job.id) == first
    assert results(database) == 1
    second = import_capture(database, job.id, bench_files("second", seed=2))
    both = analyse_stored_job(database, job.id)
    assert both is not None
    assert len(both.analysis.captures) == 2
    assert results(database) == 2
    remove_capture(database, second.id)
    assert analyse_stored_job(database, job.id) == first
    assert results(database) == 2


def test_the_strip_shows_edges_against_their_reference(database: Database, job: JobSummary) -> None:
    stored = import_capture(database, job.id, bench_files(B1I=17.1))
    strip = phase_strip(database, stored.id)
    assert strip.origin_deg == -90.0
    assert [(line.cylinder, line.deg) for line in strip.tdc] == [(1, 0.0), (3, 180.0), (4, 360.0), (2, 540.0)]
    intake = next(lane for lane in strip.lanes if lane.cam == "B1I")
    assert intake.offset_deg == pytest.approx(17.1, abs=0.05)
    assert all(edge.delta_deg == pytest.approx(17.1, abs=0.1) for edge in intake.edges)
    assert {edge.cycle for edge in intake.cycle_edges} == {cycle.number for cycle in strip.cycles}
    assert strip.ruler is not None
    assert [tick.tooth for tick in strip.ruler.ticks].count(1) == 2
    assert not strip.tdc_confirmed


def test_the_speed_lane_sags_at_tdc(database: Database, job: JobSummary) -> None:
    strip = phase_strip(database, import_capture(database, job.id, bench_files()).id)
    lane = strip.speed_lane
    assert lane is not None
    at = {deg: i for i, deg in enumerate(lane.deg)}
    for row in lane.rpm:
        assert row[at[0.0]] < row[at[90.0]]
        assert row[at[180.0]] < row[at[270.0]]


def test_a_result_of_other_numbers_stands_and_is_told_as_older(
    database: Database, job: JobSummary, monkeypatch: pytest.MonkeyPatch
) -> None:
    import_capture(database, job.id, bench_files())
    called = [analyse_stored_job(database, job.id) for _ in range(2)]
    assert results(database) == 1
    assert called[0] is not None and called[0].older is None
    monkeypatch.setattr(numbers, "PUSH_SHOWN", replace(numbers.PUSH_SHOWN, value=0.123))
    later = analyse_stored_job(database, job.id)
    assert later is not None and later.analysis == called[0].analysis
    assert later.older == software_label().removeprefix("phasko ")
    assert results(database) == 1
    with database.reading() as session:
        (older,) = older_calls(session, software_label(), numbers.digest())
    assert older.job_id == job.id


def test_a_removed_capture_has_no_picture(database: Database, job: JobSummary) -> None:
    stored = import_capture(database, job.id, bench_files())
    remove_capture(database, stored.id)
    with pytest.raises(NotFoundError, match="taken out"):
        phase_strip(database, stored.id)


def test_a_changed_profile_is_a_new_version_and_old_jobs_keep_theirs(database: Database, job: JobSummary) -> None:
    changed = pool_engine(FOUR).model_copy(update={"interference": False})
    saved = save_engine(database, changed.model_dump_json(by_alias=True, exclude_none=True).encode(), "engine.json")
    assert saved.version == 2
    assert [e.version for e in engines(database)] == [2]
    assert engine_profile(database, job.engine.id).interference is True
    same = save_engine(database, changed.model_dump_json(by_alias=True, exclude_none=True).encode(), "engine.json")
    assert same.id == saved.id


def test_a_job_needs_a_vehicle_and_an_engine(database: Database, job: JobSummary) -> None:
    with pytest.raises(DocumentError, match="needs a vehicle"):
        open_job(database, vehicle=" ", make_model="", complaint="", codes=[], engine_id=job.engine.id)
    with pytest.raises(NotFoundError, match="no engine profile number 99"):
        open_job(database, vehicle="Van", make_model="", complaint="", codes=[], engine_id=99)


def test_codes_are_tidied(job: JobSummary) -> None:
    assert job.codes == ["P0420"]


def test_a_workshop_that_holds_jobs_gets_no_demo(database: Database, job: JobSummary) -> None:
    assert fill_demo(database) == 0
    assert [row.job.vehicle for row in board(database)] == [job.vehicle]


def test_two_tabs_that_ask_at_once_get_one_result(database: Database, job: JobSummary) -> None:
    import_capture(database, job.id, bench_files(B1I=17.14))
    with ThreadPoolExecutor(4) as tabs:
        answers = list(tabs.map(lambda _: analyse_stored_job(database, job.id), range(4)))
    assert all(answer == answers[0] for answer in answers)
    assert results(database) == 1
