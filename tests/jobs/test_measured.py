"""One capture is measured once, and every screen says the same about it."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor

import pytest

from phasko.core.capture import known_good
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.capture import KnownGoodOf
from phasko.core.signals.recording import Recording
from phasko.jobs import measured
from phasko.jobs.analysing import analyse_stored_job, phase_strip, seal_picture
from phasko.jobs.captures import import_capture
from phasko.jobs.library import keep_as_known_good
from phasko.jobs.opening import JobSummary, open_job
from phasko.jobs.rulers import between, edges_in_span
from phasko.store import Database
from tests.builders import bench_files
from trials.measurements import measure_capture


@pytest.fixture
def counted(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    """The files that were measured, in order, from nothing remembered."""
    files: list[str] = []

    def measure(recording: Recording, *about: object) -> CaptureMeasurement:
        files.append(recording.file)
        return measure_capture(recording, *about)  # type: ignore[arg-type]

    measured._measured.forget()
    measured._known_good.forget()
    monkeypatch.setattr(known_good, "measure_capture", measure)
    return files


def other_job(database: Database, job: JobSummary, count: int, **shifts: float) -> None:
    """Another car with that engine, whose captures are kept as known good."""
    other = open_job(database, vehicle="Ferry 2", make_model="", complaint="", codes=[], engine_id=job.engine.id)
    for k in range(count):
        stored = import_capture(database, other.id, bench_files(f"good-{k}", seed=50 + k, **shifts))
        keep_as_known_good(database, stored.id, KnownGoodOf(how="set_up"))


def look_at_everything(database: Database, job_id: int) -> None:
    analysed = analyse_stored_job(database, job_id)
    assert analysed is not None
    for capture_id in analysed.capture_ids:
        phase_strip(database, capture_id)
        seal_picture(database, capture_id)
        edges_in_span(database, capture_id, 0.5, 0.6)
        between(database, capture_id, 0.5, 0.6)


def test_two_captures_and_three_known_good_are_five_measurements(
    database: Database, job: JobSummary, counted: list[str]
) -> None:
    other_job(database, job, 3)
    for k in range(2):
        import_capture(database, job.id, bench_files(f"own-{k}", seed=70 + k, B1I=8.5))
    look_at_everything(database, job.id)
    assert sorted(counted) == [
        *(f"good-{k}.capture.json" for k in range(3)),
        *(f"own-{k}.capture.json" for k in (0, 1)),
    ]
    look_at_everything(database, job.id)
    assert len(counted) == 5


def test_screens_that_ask_at_once_wait_for_one_measurement(
    database: Database, job: JobSummary, counted: list[str]
) -> None:
    stored = import_capture(database, job.id, bench_files("own", seed=70))
    with ThreadPoolExecutor(4) as screens:
        asked = [screens.submit(ask, database, stored.id) for ask in (phase_strip, seal_picture, phase_strip)]
        for one in asked:
            one.result()
    assert counted == ["own.capture.json"]


def test_the_strip_reads_against_the_same_reference_as_the_call(database: Database, job: JobSummary) -> None:
    """A known good car 4 degrees late by build, this one 8.5: 4.5 against it everywhere."""
    other_job(database, job, 3, B1I=4.0)
    stored = import_capture(database, job.id, bench_files("own", seed=70, B1I=8.5))
    analysed = analyse_stored_job(database, job.id)
    assert analysed is not None
    said = next(c for c in analysed.analysis.captures[0].cams if c.cam == "B1I")
    drawn = next(lane for lane in phase_strip(database, stored.id).lanes if lane.cam == "B1I")
    assert (said.reference, said.state) == ("reference", "in")
    assert said.offset_deg == pytest.approx(4.5, abs=0.6)
    assert drawn.offset_deg == said.offset_deg
    assert drawn.state == said.state
