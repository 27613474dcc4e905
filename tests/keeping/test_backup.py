"""Copies of the workshop's file, and whether all of it is whole."""

from __future__ import annotations

import sqlite3
from pathlib import Path

import pytest

from phasko.cli import main
from phasko.core.errors import ConflictError, NotFoundError, StorageError
from phasko.keeping import back_up, check_workshop, restore
from phasko.store import Database, jobs
from phasko.store.one_server import folder_taken
from tests.store.older import older_file


@pytest.fixture
def workshop(tmp_path: Path) -> Path:
    """A workshop with one job and two captures."""
    folder = tmp_path / "workshop"
    folder.mkdir()
    older_file(folder, "0004", captures=2)
    Database(folder).close()
    return folder


def complaint(folder: Path) -> str:
    database = Database(folder)
    with database.reading() as session:
        told = jobs.get_job(session, 1).complaint
    database.close()
    return told


def say(folder: Path, words: str) -> None:
    database = Database(folder)
    with database.transaction() as session:
        jobs.get_job(session, 1).complaint = words
    database.close()


def test_a_backup_is_written_while_the_file_is_in_use(workshop: Path, tmp_path: Path) -> None:
    database = Database(workshop)
    with database.transaction() as session:
        jobs.get_job(session, 1).complaint = "half written"
        session.flush()
        back_up(workshop, tmp_path / "copy.sqlite3")
    database.close()
    (tmp_path / "other").mkdir()
    restore(tmp_path / "other", tmp_path / "copy.sqlite3")
    assert complaint(tmp_path / "other") == ""
    assert check_workshop(tmp_path / "other") == []


def test_what_stood_there_before_a_restore_is_kept(workshop: Path, tmp_path: Path) -> None:
    back_up(workshop, tmp_path / "copy.sqlite3")
    say(workshop, "later")
    kept = restore(workshop, tmp_path / "copy.sqlite3")
    assert complaint(workshop) == ""
    assert kept is not None
    restore(workshop, kept)  # within the same second: no copy takes another's place
    assert complaint(workshop) == "later"
    assert len(list((workshop / "backups").glob("before-restore-*"))) == 2


def test_an_older_backup_is_upgraded_when_it_is_opened(workshop: Path, tmp_path: Path) -> None:
    (tmp_path / "old").mkdir()
    copy = older_file(tmp_path / "old", "0001", captures=3)
    restore(workshop, copy)
    Database(workshop).close()
    assert check_workshop(workshop) == []


def test_no_restore_under_a_running_server(workshop: Path, tmp_path: Path) -> None:
    back_up(workshop, tmp_path / "copy.sqlite3")
    with folder_taken(workshop, "serves it"), pytest.raises(ConflictError, match="serves it"):
        restore(workshop, tmp_path / "copy.sqlite3")


def test_a_copy_that_is_not_whole_is_not_put_back(workshop: Path, tmp_path: Path) -> None:
    copy = back_up(workshop, tmp_path / "copy.sqlite3")
    with sqlite3.connect(copy) as raw:
        raw.execute("DELETE FROM sample_chunks WHERE capture_id = 2")
    raw.close()
    say(workshop, "as it was")
    with pytest.raises(StorageError, match=r"samples of x\.capture\.json are missing"):
        restore(workshop, copy)
    assert complaint(workshop) == "as it was"


def test_nothing_is_written_over(workshop: Path, tmp_path: Path) -> None:
    (tmp_path / "copy").write_text("precious")
    with pytest.raises(StorageError, match="is there already"):
        back_up(workshop, tmp_path / "copy")
    assert (tmp_path / "copy").read_text() == "precious"
    with pytest.raises(NotFoundError):
        back_up(tmp_path, tmp_path / "other")
    with pytest.raises(NotFoundError):
        restore(workshop, tmp_path / "nowhere")


@pytest.mark.parametrize(
    ("harm", "said"),
    [
        ("DELETE FROM capture_files WHERE capture_id = 1", "original file of x.capture.json is missing"),
        ("UPDATE captures SET data_sha256 = 'f' WHERE id = 1", "its hash differs"),
        ("UPDATE sample_chunks SET sample_count = 2999 WHERE capture_id = 1", "3000 where 2999 belong"),
        ("UPDATE sample_chunks SET first_sample = 7 WHERE capture_id = 1", "missing from number 0 on"),
        ("UPDATE sample_chunks SET data = x'00112233' WHERE capture_id = 1", "cannot be unpacked"),
        ("UPDATE sample_chunks SET capture_id = 99 WHERE capture_id = 1", "belongs to no row of captures"),
    ],
)
def test_a_check_names_what_is_wrong(workshop: Path, harm: str, said: str, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["check", "--data", str(workshop)]) == 0
    with sqlite3.connect(workshop / "phasko.sqlite3") as raw:
        raw.execute(harm)
    raw.close()
    assert main(["check", "--data", str(workshop)]) == 1
    assert said in capsys.readouterr().out


def test_damaged_pages_are_found(workshop: Path) -> None:
    path = workshop / "phasko.sqlite3"
    data = bytearray(path.read_bytes())
    data[3 * 32768 : 3 * 32768 + 4000] = b"\x99" * 4000
    path.write_bytes(bytes(data))
    try:
        found = check_workshop(workshop)
    except StorageError as error:
        assert "damaged" in error.what
    else:
        assert found
        assert "damaged" in found[0].words


def test_the_commands_say_what_they_did(workshop: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    copy = str(tmp_path / "copy")
    assert main(["backup", copy, "--data", str(workshop)]) == 0
    assert main(["backup", copy, "--data", str(workshop)]) == 2
    assert main(["restore", copy, "--data", str(workshop)]) == 0
    said = capsys.readouterr()
    assert "written and checked" in said.out
    assert "What stood there before" in said.out
    assert said.err.count("\n") == 1
