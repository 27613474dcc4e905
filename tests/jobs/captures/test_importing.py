"""Captures go in whole or not at all, and come back exactly."""

import json
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from phasko.core.errors import ConflictError, DataError, DocumentError, NotFoundError
from phasko.formats import Table, memory_given_back, read_capture
from phasko.formats.csv.reader import CsvFormat
from phasko.jobs.captures import import_capture, import_from_disk, list_captures, remove_capture, restore_capture
from phasko.jobs.exporting import original_file
from phasko.jobs.opening import JobSummary
from phasko.jobs.raw_trace import packed, raw_trace
from phasko.store import Database, captures
from tests.builders import bench_files


def test_samples_and_files_come_back_exactly(database: Database, job: JobSummary) -> None:
    files = bench_files()
    stored = import_capture(database, job.id, files)
    assert original_file(database, stored.id, "data") == (files.data_name, files.data)
    assert original_file(database, stored.id, "description") == (files.description_name, files.description)
    read = read_capture(files)
    with database.transaction() as session:
        again = captures.load_recording(session, captures.get_capture(session, stored.id))
    assert (again.start_s, again.interval_s, again.file) == (read.start_s, read.interval_s, read.file)
    for a, b in zip(read.channels, again.channels, strict=True):
        np.testing.assert_array_equal(a.samples, b.samples)


def test_a_list_shows_what_is_in_it(database: Database, job: JobSummary) -> None:
    stored = import_capture(database, job.id, bench_files())
    assert [c.id for c in list_captures(database, job.id)] == [stored.id]
    assert (stored.condition, stored.channels) == ("cranking", ["crank", "B1I", "B1E"])
    assert stored.sample_rate_hz == pytest.approx(100_000.0)


@pytest.mark.parametrize(
    ("broken", "error"),
    [
        ({"data": b"time_s,c1\n0,zero\n"}, DataError),
        ({"description": b"{}"}, DocumentError),
        ({"data_name": "other.csv"}, DataError),
    ],
)
def test_a_broken_capture_leaves_the_job_as_it_was(
    database: Database, job: JobSummary, broken: dict[str, object], error: type[Exception]
) -> None:
    with pytest.raises(error, match="The job is as it was"):
        import_capture(database, job.id, replace(bench_files(), **broken))
    assert list_captures(database, job.id) == []


def test_a_capture_is_not_stored_twice(database: Database, job: JobSummary) -> None:
    import_capture(database, job.id, bench_files())
    with pytest.raises(ConflictError, match=r"already in the job, as [^.]*\. Nothing"):
        import_capture(database, job.id, bench_files())
    assert len(list_captures(database, job.id)) == 1


def test_a_removed_capture_can_come_back_or_be_imported_again(database: Database, job: JobSummary) -> None:
    stored = import_capture(database, job.id, bench_files())
    remove_capture(database, stored.id)
    assert list_captures(database, job.id) == []
    assert restore_capture(database, stored.id).id == stored.id
    remove_capture(database, stored.id)
    assert import_capture(database, job.id, bench_files()).id == stored.id


def test_a_job_that_is_not_there(database: Database) -> None:
    with pytest.raises(NotFoundError, match="no job number 7"):
        import_capture(database, 7, bench_files())


def test_a_raw_trace_bounds_the_samples(database: Database, job: JobSummary) -> None:
    files = bench_files()
    stored = import_capture(database, job.id, files)
    whole, levels = raw_trace(database, stored.id, None, None, 500)
    samples = read_capture(files).channels[0].samples
    assert whole.channels[0].steps == len(levels[0]) <= 501
    assert levels[0][:, 0].min() == samples.min()
    assert levels[0][:, 1].max() == samples.max()


def test_close_up_every_sample_is_there(database: Database, job: JobSummary) -> None:
    files = bench_files()
    stored = import_capture(database, job.id, files)
    trace, levels = raw_trace(database, stored.id, 0.5, 0.501, 2000)
    close, samples = trace.channels[1], read_capture(files).channels[1].samples
    first = round(close.start_s * 1e5)
    assert close.step_s == pytest.approx(1e-5)
    np.testing.assert_array_equal(levels[1][:, 0], samples[first : first + close.steps])
    np.testing.assert_array_equal(levels[1][:, 0], levels[1][:, 1])


def test_a_trace_is_packed_for_a_screen(database: Database, job: JobSummary) -> None:
    stored = import_capture(database, job.id, bench_files())
    trace, levels = raw_trace(database, stored.id, 0.2, 0.9, 300)
    answer = packed(trace, levels)
    head = int.from_bytes(answer[:4], "little")
    assert head % 4 == 0
    assert json.loads(answer[4 : 4 + head]) == trace.model_dump()
    numbers = np.frombuffer(answer[4 + head :], dtype="<f4")
    np.testing.assert_array_equal(numbers[: levels[0].shape[0]], levels[0][:, 0])
    assert numbers.size == sum(2 * channel.steps for channel in trace.channels)


def test_a_long_file_leaves_no_memory_behind(database: Database, job: JobSummary, tmp_path: Path) -> None:
    rng = np.random.default_rng(1)
    samples = {name: np.round(rng.normal(size=1_200_000), 4).astype(np.float32) for name in ("c1", "c2", "c3")}
    long = tmp_path / "long.csv"
    long.write_bytes(CsvFormat().write(Table(start_s=0.0, interval_s=1e-5, columns=samples)))
    assert long.stat().st_size > 1 << 25
    with memory_given_back():
        pass
    before = _own_mb()
    import_from_disk(database, job.id, long)
    assert (
        _own_mb() - before < 20.0
    )  # with Arrow's own pool 103; with large pieces among the small ones 37, and more each time


def _own_mb() -> float:
    """What this process holds for itself; pages of mapped files can be taken back at any time."""
    lines = Path("/proc/self/status").read_text(encoding="ascii").splitlines()
    return next(int(line.split()[1]) / 1024.0 for line in lines if line.startswith("RssAnon"))
