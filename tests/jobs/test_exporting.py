"""A capture given away comes back whole; without the vehicle nothing in the file names it."""

import io
import json
import zipfile

import numpy as np
import pytest

from phasko.core.errors import DataError, DiskFullError, DocumentError, NotFoundError
from phasko.formats import WRITTEN, CaptureFiles
from phasko.jobs import exporting
from phasko.jobs.analysing import analyse_stored_job
from phasko.jobs.board import board
from phasko.jobs.captures import import_capture, import_data_file, list_captures, remove_capture
from phasko.jobs.engine_profiles import engine_profile
from phasko.jobs.exporting import export_bundle, export_capture, import_bundle
from phasko.jobs.opening import JobSummary
from phasko.store import Database, captures
from tests.builders import bench_files

SECRET = "Ferry widow Annes"


def spoken_files() -> CaptureFiles:
    """A capture whose words would tell whose car it is."""
    files = bench_files("annes-car")
    described = json.loads(files.description)
    described |= {"owner": SECRET, "marks": [{"t_s": 0.5, "text": f"{SECRET} pressed the pedal"}]}
    return CaptureFiles(files.description_name, json.dumps(described).encode(), files.data_name, files.data)


def recording(database: Database, capture_id: int):
    with database.transaction() as session:
        return captures.load_recording(session, captures.get_capture(session, capture_id))


@pytest.mark.parametrize("form", WRITTEN, ids=lambda f: f.name)
def test_in_every_format_and_back(database: Database, job: JobSummary, form: object) -> None:
    stored = import_capture(database, job.id, bench_files())
    name, content = export_capture(database, stored.id, form.name)  # type: ignore[attr-defined]
    remove_capture(database, stored.id)
    again = import_data_file(database, job.id, name, content)
    assert again.confirmed
    before, after = recording(database, stored.id), recording(database, again.id)
    for a, b in zip(before.channels, after.channels, strict=True):
        np.testing.assert_array_equal(a.samples, b.samples)
        assert a.description == b.description


def test_a_format_that_is_not_written(database: Database, job: JobSummary) -> None:
    stored = import_capture(database, job.id, bench_files())
    with pytest.raises(NotFoundError, match="MAT is not written"):
        export_capture(database, stored.id, "MAT")


@pytest.mark.parametrize("with_vehicle", [True, False])
def test_a_bundle_comes_back_whole(database: Database, job: JobSummary, with_vehicle: bool) -> None:
    stored = import_capture(database, job.id, spoken_files())
    _, content = export_bundle(database, stored.id, with_vehicle=with_vehicle)
    opened = import_bundle(database, "x.bundle.zip", content)
    again = list_captures(database, opened.id)[0]
    for a, b in zip(recording(database, stored.id).channels, recording(database, again.id).channels, strict=True):
        np.testing.assert_array_equal(a.samples, b.samples)
        assert a.description == b.description
    assert engine_profile(database, opened.engine.id) == engine_profile(database, job.engine.id)
    assert (opened.vehicle == job.vehicle) == with_vehicle
    here, there = analyse_stored_job(database, job.id), analyse_stored_job(database, opened.id)
    assert here is not None
    assert there is not None
    assert [c.offset_deg for c in there.analysis.captures[0].cams] == [
        c.offset_deg for c in here.analysis.captures[0].cams
    ]


def test_without_the_vehicle_nothing_names_it(database: Database, job: JobSummary) -> None:
    stored = import_capture(database, job.id, spoken_files())
    _, whole = export_bundle(database, stored.id, with_vehicle=True)
    name, stripped = export_bundle(database, stored.id, with_vehicle=False)
    with zipfile.ZipFile(io.BytesIO(whole)) as one, zipfile.ZipFile(io.BytesIO(stripped)) as other:
        papers = {"hand-over.json", "hand-over.html"}
        assert papers <= set(one.namelist()) and not papers & set(other.namelist())
    assert SECRET in everything(whole)
    said = everything(stripped) + name
    for word in (SECRET, "annes", job.vehicle, job.complaint):
        assert word not in said, word


def everything(bundle: bytes) -> str:
    with zipfile.ZipFile(io.BytesIO(bundle)) as archive:
        return "\n".join(name + archive.read(name).decode("latin-1") for name in archive.namelist())


def test_broken_bundles_open_nothing(database: Database, job: JobSummary) -> None:
    stored = import_capture(database, job.id, bench_files())
    _, content = export_bundle(database, stored.id, with_vehicle=True)
    with pytest.raises(DataError, match="is no exported capture"):
        import_bundle(database, "x.zip", content[: len(content) // 2])
    with pytest.raises(DataError, match="is no exported capture"):
        import_bundle(database, "x.csv", b"time_s,c1\n")
    sink = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(content)) as archive, zipfile.ZipFile(sink, "w") as less:
        for name in archive.namelist():
            if name != "engine.json":
                less.writestr(name, archive.read(name))
    with pytest.raises(DataError, match="lacks a file"):
        import_bundle(database, "x.zip", sink.getvalue())


def with_member(content: bytes, ending: str, changed: bytes) -> bytes:
    """The same bundle with other content in the member whose name ends so."""
    sink = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(content)) as old, zipfile.ZipFile(sink, "w") as new:
        for name in old.namelist():
            new.writestr(name, changed if name.endswith(ending) else old.read(name))
    return sink.getvalue()


@pytest.mark.parametrize("changed", [b"", b"time_s,c1\n0,1\n", b"time_s,crank,cam\nx,y,z\n", b"\x00" * 100])
def test_a_bundle_whose_data_is_broken_leaves_no_job(database: Database, job: JobSummary, changed: bytes) -> None:
    stored = import_capture(database, job.id, bench_files())
    _, content = export_bundle(database, stored.id, with_vehicle=True)
    before = [row.job.id for row in board(database)]
    with pytest.raises((DataError, DocumentError)):
        import_bundle(database, "x.zip", with_member(content, ".csv", changed))
    assert [row.job.id for row in board(database)] == before


def test_a_disk_that_is_full_meanwhile_leaves_no_job(
    database: Database, job: JobSummary, monkeypatch: pytest.MonkeyPatch
) -> None:
    stored = import_capture(database, job.id, bench_files())
    _, content = export_bundle(database, stored.id, with_vehicle=True)
    before = [row.job.id for row in board(database)]

    def full(*given: object) -> None:
        raise DiskFullError("The disk is full")

    monkeypatch.setattr(exporting, "import_capture", full)
    with pytest.raises(DiskFullError):
        import_bundle(database, "x.zip", content)
    assert [row.job.id for row in board(database)] == before
