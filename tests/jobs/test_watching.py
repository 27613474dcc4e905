"""A watched folder: what is whole comes into the inbox, once, with its description, whatever it is called."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from phasko.bench import capture_files
from phasko.bench.pool import pool_engine
from phasko.core.errors import RefusedError
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.inbox import Watching, check_watched, import_waiting, inbox_folder, waiting_files
from phasko.jobs.opening import open_job
from phasko.store import Database
from phasko.store.audit import log_entries
from trials.recordings import record


@pytest.fixture
def export(tmp_path: Path) -> Path:
    folder = tmp_path / "scope export"
    folder.mkdir()
    return folder


@pytest.fixture
def watching(database: Database, export: Path) -> Watching:
    return Watching(database, (export,))


def names(database: Database) -> list[str]:
    return sorted(path.name for path in inbox_folder(database).iterdir())


def test_a_file_that_grows_is_left_until_it_stands_still(watching: Watching, database: Database, export: Path) -> None:
    growing = export / "first.csv"
    growing.write_text("time_s,a\n0,1\n", encoding="utf-8")
    assert watching.look() == []
    growing.write_text("time_s,a\n0,1\n0.1,2\n", encoding="utf-8")
    assert watching.look() == []
    assert watching.look() == ["first.csv"]
    assert names(database) == ["first.csv"]
    assert (inbox_folder(database) / "first.csv").read_bytes() == growing.read_bytes()
    assert watching.look() == []


def test_it_is_taken_once_even_after_a_restart_and_after_it_was_removed(
    watching: Watching, database: Database, export: Path
) -> None:
    (export / "first.csv").write_text("time_s,a\n0,1\n", encoding="utf-8")
    assert [watching.look(), watching.look()] == [[], ["first.csv"]]
    (inbox_folder(database) / "first.csv").unlink()
    again = Watching(database, (export,))
    assert [again.look(), again.look(), names(database)] == [[], [], []]
    (export / "first.csv").write_text("time_s,a\n0,1\n1,2\n", encoding="utf-8")
    assert [again.look(), again.look()] == [[], ["first.csv"]]


def test_a_capture_with_its_description_can_be_taken_into_a_job(
    watching: Watching, database: Database, export: Path
) -> None:
    profile = pool_engine("pellowe-1.0-triple")
    made = capture_files(record(profile, 4, name="run"))
    (inbox_folder(database) / "run.csv").write_text("another file of that name", encoding="utf-8")
    (export / "today").mkdir()
    (export / "today" / "run.csv").write_bytes(made["run.csv"])
    assert [watching.look(), watching.look()] == [[], ["run-2.csv"]]
    # The scope writes the description last.
    (export / "today" / "run.capture.json").write_bytes(made["run.capture.json"])
    assert [watching.look(), watching.look()] == [[], ["run-2.csv"]]
    assert json.loads((inbox_folder(database) / "run-2.capture.json").read_bytes())["data"] == "run-2.csv"
    assert [(one.name, one.described) for one in waiting_files(database) if one.described] == [("run-2.csv", True)]
    text = profile.model_dump_json(by_alias=True, exclude_none=True).encode()
    engine = save_engine(database, text, "engine.json")
    job = open_job(database, vehicle="Van", make_model="", complaint="", codes=[], engine_id=engine.id)
    assert import_waiting(database, job.id, "run-2.csv").id > 0


def test_two_of_one_name_are_kept_apart_and_the_same_bytes_come_once(
    watching: Watching, database: Database, export: Path
) -> None:
    for day, text in (("monday", "time_s,a\n0,1\n"), ("tuesday", "time_s,a\n0,2\n"), ("copy", "time_s,a\n0,1\n")):
        (export / day).mkdir()
        (export / day / "run.csv").write_text(text, encoding="utf-8")
    watching.look()
    assert sorted(watching.look()) == ["run-2.csv", "run.csv"]
    assert names(database) == ["run-2.csv", "run.csv"]


def test_links_other_files_and_hidden_ones_stay(
    watching: Watching, database: Database, export: Path, tmp_path: Path
) -> None:
    (tmp_path / "secret.csv").write_text("time_s,a\n0,1\n", encoding="utf-8")
    (export / "link.csv").symlink_to(tmp_path / "secret.csv")
    (export / "notes.txt.bak").write_text("mine", encoding="utf-8")
    (export / ".half.csv").write_text("time_s", encoding="utf-8")
    assert [watching.look(), watching.look(), names(database)] == [[], [], []]


def test_a_folder_that_is_away_is_told_and_comes_back(watching: Watching, database: Database, export: Path) -> None:
    export.rename(export.with_name("away"))
    assert watching.look() == []
    assert watching.troubles == {export: "it is not there"}
    export.with_name("away").rename(export)
    (export / "a.csv").write_text("time_s,a\n0,1\n", encoding="utf-8")
    assert [watching.look(), watching.look()] == [[], ["a.csv"]]
    assert watching.troubles == {}
    with database.reading() as session:
        newest = log_entries(session, most=1)[0]
    assert (newest.who, newest.did, newest.what) == ("watched folder", "arrived", "1 in the inbox")


@pytest.mark.parametrize("which", ["data", "data/inbox", "."])
def test_the_workshops_own_folder_is_not_watched(tmp_path: Path, which: str, monkeypatch: pytest.MonkeyPatch) -> None:
    (tmp_path / "data" / "inbox").mkdir(parents=True)
    monkeypatch.chdir(tmp_path)
    with pytest.raises(RefusedError, match="workshop's own"):
        check_watched([Path(which)], tmp_path / "data")


def test_it_runs_by_itself(watching: Watching, export: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("phasko.jobs.inbox.watching.EVERY_S", 0.01)
    (export / "a.csv").write_text("time_s,a\n0,1\n", encoding="utf-8")
    watching.start()
    for _ in range(2000):
        if names(watching.database):
            break
        watching._ended.wait(0.01)
    watching.close()
    assert names(watching.database) == ["a.csv"]
