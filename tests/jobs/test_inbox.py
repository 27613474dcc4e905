"""Files that wait beside the workshop's file."""

import json
import os
from pathlib import Path

import pytest

from phasko.core.errors import ConflictError, DataError, NotFoundError
from phasko.jobs.captures import list_captures
from phasko.jobs.inbox import import_waiting, inbox_folder, waiting_files
from phasko.jobs.opening import JobSummary
from phasko.store import Database
from tests.builders import bench_files


def put(database: Database, *names: str) -> None:
    files = bench_files()
    content = {files.data_name: files.data, files.description_name: files.description}
    for name in names:
        (inbox_folder(database) / name).write_bytes(content.get(name, files.data))


def test_only_what_can_be_read_waits_the_newest_first(database: Database) -> None:
    put(database, "old.csv", "bench.csv", "bench.capture.json", "notes.pdf")
    os.utime(inbox_folder(database) / "old.csv", (1.0, 1.0))
    found = waiting_files(database)
    assert [(file.name, file.described) for file in found] == [("bench.csv", True), ("old.csv", False)]
    assert found[0].size_bytes == len(bench_files().data)


def test_a_file_is_taken_in_with_the_description_beside_it(database: Database, job: JobSummary) -> None:
    put(database, "bench.csv", "bench.capture.json")
    assert import_waiting(database, job.id, "bench.csv").confirmed
    assert (inbox_folder(database) / "bench.csv").is_file()
    with pytest.raises(ConflictError):
        import_waiting(database, job.id, "bench.csv")
    assert len(list_captures(database, job.id)) == 1


def test_alone_it_waits_to_be_confirmed(database: Database, job: JobSummary) -> None:
    put(database, "scope.csv")
    assert not import_waiting(database, job.id, "scope.csv").confirmed


@pytest.mark.parametrize("name", ["../phasko.sqlite3", "/etc/hostname", "gone.csv", "."])
def test_nothing_outside_the_inbox_is_reached(database: Database, job: JobSummary, name: str) -> None:
    with pytest.raises(NotFoundError):
        import_waiting(database, job.id, name)


def test_a_link_in_the_inbox_shows_nothing_from_elsewhere(database: Database, job: JobSummary, tmp_path: Path) -> None:
    outside = tmp_path / "outside.csv"
    outside.write_bytes(bench_files().data)
    (inbox_folder(database) / "linked.csv").symlink_to(outside)
    assert waiting_files(database) == []
    with pytest.raises(NotFoundError):
        import_waiting(database, job.id, "linked.csv")
    described = json.loads(bench_files().description) | {"data": "linked.csv"}
    put(database, "bench.csv")
    (inbox_folder(database) / "bench.capture.json").write_text(json.dumps(described))
    with pytest.raises(DataError, match="no file of the inbox"):
        import_waiting(database, job.id, "bench.csv")
    assert list_captures(database, job.id) == []


@pytest.mark.parametrize("name", ["../outside.csv", "/etc/hostname", "..", "", "a\x00b", "x" * 300])
def test_no_name_leaves_the_inbox(database: Database, job: JobSummary, name: str) -> None:
    with pytest.raises(NotFoundError):
        import_waiting(database, job.id, name)
