"""A whole workshop carried from one file to another and back: byte for byte, but for results, which are worked out
anew."""

from __future__ import annotations

import json
import mmap
import shutil
import zipfile
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest

from phasko.bench.drive_log import Drive, drive_log_csv
from phasko.core.documents.capture import KnownGoodOf
from phasko.core.documents.job import JobDocument, Look
from phasko.core.documents.repair import Repair
from phasko.core.errors import DataError
from phasko.jobs.analysing import analyse_stored_job
from phasko.jobs.board import board
from phasko.jobs.captures import change_description, import_capture, import_data_file, list_captures, remove_capture
from phasko.jobs.carrying import export_jobs, import_jobs
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.handing_over.photos import add_photo, list_photos
from phasko.jobs.handing_over.workshop_name import WorkshopName, name_workshop, named_workshop
from phasko.jobs.library import keep_as_known_good
from phasko.jobs.logbook.closing import add_note, close_job, note_repair
from phasko.jobs.looking import note_look
from phasko.jobs.opening import open_job, remove_job
from phasko.jobs.road_testing import add_road_test
from phasko.jobs.told import job_document, tell
from phasko.store import Database
from tests.builders import FOUR, bench_files, pool_engine
from tests.jobs.handing_over.test_photos import picture


@pytest.fixture
def other(tmp_path: Path) -> Iterator[Database]:
    """Another workshop, empty."""
    made = Database(tmp_path / "other")
    yield made
    made.close()


@pytest.fixture(scope="module")
def built(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The folder of a workshop of three jobs with something of everything, worked out."""
    folder = tmp_path_factory.mktemp("built")
    with closing(Database(folder)) as database:
        document = pool_engine(FOUR).model_dump_json(by_alias=True, exclude_none=True)
        engine = save_engine(database, document.encode(), "engine.json").id
        _fill(database, engine)
        for row in board(database):
            analyse_stored_job(database, row.job.id)
    return folder


def _fill(database: Database, engine: int) -> None:
    name_workshop(database, WorkshopName(name="Ollery Island Motor Pool"))
    job = open_job(database, vehicle="Snow plough 1", make_model="", complaint="", codes=["P0420"], engine_id=engine)
    import_capture(database, job.id, bench_files("before", B1I=17.14, B1E=17.14))
    alone = import_data_file(database, job.id, "alone.csv", bench_files("alone", seed=3).data)
    change_description(database, alone.id, {"title": "Not yet looked at"})
    gone = import_capture(database, job.id, bench_files("gone", seed=4))
    remove_capture(database, gone.id)
    note_look(database, job.id, Look(question="oil", answer="low", note="grüßt"))
    add_road_test(database, job.id, "drive.csv", drive_log_csv(pool_engine(FOUR), Drive(), 5))
    add_photo(database, job.id, "look", "one tooth late", "mark.png", picture("PNG"))
    told = {"schema": "phasko.job/1", "complaint": {"text": "stalls"}, "codes": [{"code": "P0016"}], "holder": "Tor"}
    tell(database, job.id, JobDocument.model_validate(told))
    note_repair(database, job.id, Repair.model_validate({"found": [{"fault": "chain_jumped"}]}))
    add_note(database, job.id, "שלום", "Ida")
    close_job(database, job.id, "confirmed", "", "Ida")
    second = open_job(database, vehicle="Good van", make_model="", complaint="", codes=[], engine_id=engine)
    good = import_capture(database, second.id, bench_files("good", seed=6))
    keep_as_known_good(database, good.id, KnownGoodOf(how="marks_seen"))
    third = open_job(database, vehicle="Gone van", make_model="", complaint="", codes=[], engine_id=engine)
    remove_job(database, third.id)


@pytest.fixture
def workshop(built: Path, tmp_path: Path) -> Iterator[Database]:
    """A copy of it."""
    shutil.copytree(built, tmp_path / "shop")
    made = Database(tmp_path / "shop")
    yield made
    made.close()


def contents(path: Path) -> dict[str, bytes]:
    with zipfile.ZipFile(path) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def test_there_and_back_byte_for_byte(workshop: Database, other: Database, tmp_path: Path) -> None:
    first, again = tmp_path / "a.zip", tmp_path / "b.zip"
    assert export_jobs(workshop, first) == 2
    taken = import_jobs(other, "a.zip", first.read_bytes())
    assert (len(taken.job_ids), taken.already, taken.refused) == (2, 0, [])
    export_jobs(other, again)
    one, two = contents(first), contents(again)
    assert one.keys() == two.keys()
    results = {name for name in one if name.endswith("result.json")}
    assert len(results) == 2
    assert {name for name in one if one[name] != two[name]} <= results
    for name in results:
        assert told_alike(json.loads(one[name]), json.loads(two[name]))
    assert named_workshop(other).name == "Ollery Island Motor Pool"


def told_alike(one: object, two: object) -> bool:
    """The same but for the last digits of a number."""
    match one, two:
        case dict(), dict():
            return one.keys() == two.keys() and all(told_alike(one[key], two[key]) for key in one)
        case list(), list():
            return len(one) == len(two) and all(told_alike(a, b) for a, b in zip(one, two, strict=True))
        case float(), float():
            return one == pytest.approx(two, rel=1e-6, abs=1e-9)
        case _:
            return one == two


def test_nothing_of_it_is_lost(workshop: Database, other: Database, tmp_path: Path) -> None:
    export_jobs(workshop, tmp_path / "a.zip")
    import_jobs(other, "a.zip", (tmp_path / "a.zip").read_bytes())
    before, after = board(workshop), board(other)
    assert [row.job.vehicle for row in before] == [row.job.vehicle for row in after]
    assert [row.model_dump(exclude={"job", "changed_at"}) for row in before] == [
        analysed(other, row.job.id, row) for row in after
    ]
    for old, new in zip(before, after, strict=True):
        assert job_document(workshop, old.job.id) == job_document(other, new.job.id)
        assert old.job.model_dump(exclude={"id"}) == new.job.model_dump(exclude={"id"})
        skipped = {"id", "version"}
        assert [c.model_dump(exclude=skipped) for c in list_captures(workshop, old.job.id)] == [
            c.model_dump(exclude=skipped) for c in list_captures(other, new.job.id)
        ]
        assert [p.model_dump(exclude={"id"}) for p in list_photos(workshop, old.job.id)] == [
            p.model_dump(exclude={"id"}) for p in list_photos(other, new.job.id)
        ]


def analysed(database: Database, job_id: int, row: object) -> dict[str, object]:
    """The row of the board once its job was worked out there."""
    analyse_stored_job(database, job_id)
    found = next(one for one in board(database) if one.job.id == job_id)
    return found.model_dump(exclude={"job", "changed_at"})


def test_a_second_time_nothing_comes_twice(workshop: Database, other: Database, tmp_path: Path) -> None:
    export_jobs(workshop, tmp_path / "a.zip")
    data = (tmp_path / "a.zip").read_bytes()
    import_jobs(other, "a.zip", data)
    assert import_jobs(other, "a.zip", data).already == 2
    assert import_jobs(workshop, "a.zip", data).already == 2


def test_one_job_brings_its_hand_over_along(workshop: Database, tmp_path: Path) -> None:
    export_jobs(workshop, tmp_path / "one.zip", [1])
    held = contents(tmp_path / "one.zip")
    assert {"jobs/00001/job-0001-hand-over.json", "jobs/00001/job-0001-hand-over.html"} <= held.keys()
    assert json.loads(held["jobs/00001/job.json"])["schema"] == "phasko.job/1"
    assert held["jobs/00001/captures/001/before.csv"] == bench_files("before", B1I=17.14, B1E=17.14).data


def test_one_that_lies_on_the_disk_is_read_where_it_lies(workshop: Database, other: Database, tmp_path: Path) -> None:
    export_jobs(workshop, tmp_path / "a.zip")
    with (
        (tmp_path / "a.zip").open("rb") as file,
        mmap.mmap(file.fileno(), 0, access=mmap.ACCESS_READ) as mapped,
    ):
        assert len(import_jobs(other, "a.zip", mapped).job_ids) == 2


def spoilt(path: Path, name: str, content: bytes | None) -> bytes:
    """The same archive with one file changed, or left out."""
    held = contents(path)
    target = path.with_name("spoilt.zip")
    with zipfile.ZipFile(target, "w") as archive:
        for own, data in held.items():
            if own != name:
                archive.writestr(own, data)
            elif content is not None:
                archive.writestr(own, content)
    return target.read_bytes()


@pytest.mark.parametrize(
    ("name", "content"),
    [
        ("jobs/00001/captures/001/before.csv", b"time_s,c1\n0,x\n"),
        ("jobs/00001/captures/001/before.csv", None),
        ("jobs/00001/photos/001.jpg", b"no photo"),
        ("jobs/00001/job.json", b"{"),
    ],
)
def test_a_job_that_cannot_be_read_is_left_out_whole_and_the_others_come(
    workshop: Database, other: Database, tmp_path: Path, name: str, content: bytes | None
) -> None:
    export_jobs(workshop, tmp_path / "a.zip")
    taken = import_jobs(other, "a.zip", spoilt(tmp_path / "a.zip", name, content))
    assert len(taken.job_ids) == 1 and len(taken.refused) == 1
    assert taken.refused[0].startswith("Snow plough 1:")
    assert [row.job.vehicle for row in board(other)] == ["Good van"]


@pytest.mark.parametrize(
    ("name", "content"), [("workshop.json", None), ("workshop.json", b'{"schema": "phasko.workshop/9"}')]
)
def test_what_is_no_archive_is_refused(
    workshop: Database, other: Database, tmp_path: Path, name: str, content: bytes | None
) -> None:
    export_jobs(workshop, tmp_path / "a.zip")
    with pytest.raises(DataError):
        import_jobs(other, "a.zip", spoilt(tmp_path / "a.zip", name, content))
    with pytest.raises(DataError):
        import_jobs(other, "a.zip", b"PK\x03\x04 nothing")
    assert board(other) == []
