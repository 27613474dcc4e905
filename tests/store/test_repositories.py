"""Jobs, engines, captures and results in the workshop's file."""

from __future__ import annotations

import threading

import numpy as np
import pytest
from sqlalchemy.exc import IntegrityError

from phasko.core.documents.capture import ChannelDescription
from phasko.core.errors import ConflictError, NotFoundError
from phasko.core.signals.recording import Channel, Recording
from phasko.store import Database, captures, jobs, results
from phasko.store.arriving import NewCapture, arriving
from phasko.store.chunks import encode_chunks, pack_file
from phasko.store.models import Capture, CaptureFile, Job, Result, SampleChunk, Vehicle
from tests.builders import recording_of, square_wave

FILES = {"description": ("x.capture.json", b"{}"), "data": ("x.csv", b"time_s,c1\n")}


@pytest.fixture
def job_id(database: Database) -> int:
    with database.transaction() as session:
        engine = jobs.store_engine(session, "Engine", "{}", "a" * 64)
        return jobs.add_job(session, "Van", "Make", "rough", "P0016", engine.id).id


def added(database: Database, job_id: int, sha256: str = "b" * 64, recording: Recording | None = None) -> int:
    one = recording or recording_of(square_wave(100, 50))
    with arriving(database, job_id, one.file, sha256) as arrival:
        if not arrival.already:
            arrival.add_files({role: (name, pack_file(data)) for role, (name, data) in FILES.items()})
            for channel in one.channels:
                arrival.add_column(channel.name, encode_chunks(channel.samples))
            arrival.finish(new(one, sha256))
        return arrival.capture_id


def new(recording: Recording, sha256: str) -> NewCapture:
    count = recording.channels[0].samples.size
    about = (recording.file, recording.description, recording.start_s, recording.interval_s, count, sha256)
    return NewCapture(*about, confirmed=True)


def test_engines_are_versioned_by_name(database: Database) -> None:
    with database.transaction() as session:
        first = jobs.store_engine(session, "A", "one", "1" * 64)
        second = jobs.store_engine(session, "A", "two", "2" * 64)
        other = jobs.store_engine(session, "B", "one", "1" * 64)
        again = jobs.store_engine(session, "A", "one", "1" * 64)
        assert (first.version, second.version, other.version, again.id) == (1, 2, 1, first.id)
        assert [(e.name, e.version) for e in jobs.newest_engines(session)] == [("A", 2), ("B", 1)]


@pytest.mark.parametrize("ask", [jobs.get_job, jobs.engine_version, captures.get_capture])
def test_what_is_not_there_is_said(database: Database, ask: object) -> None:
    with database.transaction() as session, pytest.raises(NotFoundError, match="number 42"):
        ask(session, 42)  # type: ignore[operator]


def test_a_capture_brings_samples_and_files(database: Database, job_id: int) -> None:
    added(database, job_id)
    with database.transaction() as session:
        assert session.query(Capture).count() == 1
        assert session.query(SampleChunk).count() == 1
        assert session.query(CaptureFile).count() == 2
        assert captures.original_files(session, 1) == FILES


def test_the_same_content_is_refused_in_one_job_and_welcome_in_another(database: Database, job_id: int) -> None:
    added(database, job_id)
    with pytest.raises(ConflictError):
        added(database, job_id)
    with database.transaction() as session:
        other = jobs.add_job(session, "Bus", "", "", "", 1).id
    assert added(database, other) == 2


def test_missing_samples_come_back_missing(database: Database, job_id: int) -> None:
    samples = square_wave(100, 50)
    samples[17] = np.nan
    capture_id = added(database, job_id, recording=recording_of(samples))
    with database.transaction() as session:
        again = captures.load_recording(session, captures.get_capture(session, capture_id))
    np.testing.assert_array_equal(again.channels[0].samples, samples)


def test_an_envelope_outside_the_capture_is_empty(database: Database, job_id: int) -> None:
    capture_id = added(database, job_id)
    with database.transaction() as session:
        capture = captures.get_capture(session, capture_id)
        assert captures.load_envelope(session, capture, described("c1"), 90.0, 91.0, 100).levels.shape == (0, 2)
        with pytest.raises(NotFoundError, match="no column c9"):
            captures.load_envelope(session, capture, described("c9"), 0.0, 1.0, 100)


def described(column: str, **about: float) -> ChannelDescription:
    return ChannelDescription(column=column, role="crank", **about)


@pytest.mark.parametrize("points", [16, 100, 3000])
def test_an_envelope_has_about_the_points_asked_for(database: Database, job_id: int, points: int) -> None:
    wave = np.sin(np.arange(200_000) / 997.0).astype(np.float32)
    capture_id = added(database, job_id, recording=recording_of(wave, 10_000.0))
    with database.transaction() as session:
        found = captures.load_envelope(
            session, captures.get_capture(session, capture_id), described("c1"), 0, 20, points
        )
    assert len(found.levels) <= points + 1
    assert found.step_s * len(found.levels) == pytest.approx(20.0, rel=0.1)
    assert found.levels[:, 0].min() == pytest.approx(-1.0, abs=1e-5)
    assert found.levels[:, 1].max() == pytest.approx(1.0, abs=1e-5)


@pytest.mark.parametrize("zoom_s", [20.0, 3.0, 0.4, 0.02])
def test_every_zoom_bounds_the_samples(database: Database, job_id: int, zoom_s: float) -> None:
    """Coarse levels, fine ones or samples: each step's minimum and maximum are those of its own samples."""
    wave = np.random.default_rng(2).normal(size=1_200_000).astype(np.float32)
    capture_id = added(database, job_id, recording=recording_of(wave, 60_000.0))
    with database.transaction() as session:
        capture = captures.get_capture(session, capture_id)
        found = captures.load_envelope(session, capture, described("c1"), 0.0, zoom_s, 200)
    step = round(found.step_s * 60_000.0)
    for k in (0, len(found.levels) // 2):
        part = wave[k * step : (k + 1) * step]
        assert found.levels[k].tolist() == [part.min(), part.max()]


def test_a_turned_clamp_keeps_minimum_below_maximum(database: Database, job_id: int) -> None:
    capture_id = added(database, job_id)
    with database.transaction() as session:
        capture = captures.get_capture(session, capture_id)
        turned = described("c1", scale=-1000.0, offset=2.0)
        found = captures.load_envelope(session, capture, turned, 0.0, 5.0, 10)
    assert found.levels.min() == pytest.approx(-4998.0)
    assert found.levels.max() == pytest.approx(2.0)
    assert np.all(found.levels[:, 0] <= found.levels[:, 1])


def test_a_result_is_keyed_by_everything_it_rests_on() -> None:
    base = results.result_key(1, ["a", "b"], "e", "n", "s")
    assert base == results.result_key(1, ["a", "b"], "e", "n", "s")
    changed = {
        results.result_key(2, ["a", "b"], "e", "n", "s"),
        results.result_key(1, ["b", "a"], "e", "n", "s"),
        results.result_key(1, ["a"], "e", "n", "s"),
        results.result_key(1, ["a", "b"], "f", "n", "s"),
        results.result_key(1, ["a", "b"], "e", "m", "s"),
        results.result_key(1, ["a", "b"], "e", "n", "t"),
    }
    assert len(changed | {base}) == 7


def test_the_first_of_two_results_stays(database: Database, job_id: int) -> None:
    with database.transaction() as session:
        first = results.store_result(session, results.NewResult(job_id=job_id, key="k", document="one"))
        second = results.store_result(session, results.NewResult(job_id=job_id, key="k", document="two"))
        assert (second.id, second.document) == (first.id, "one")
        assert session.query(Result).count() == 1


def test_a_key_is_unique_in_the_file_too(database: Database, job_id: int) -> None:
    with pytest.raises(IntegrityError), database.transaction() as session:
        session.add_all([Result(job_id=job_id, key="k", document=""), Result(job_id=job_id, key="k", document="")])


def test_two_tabs_write_one_after_the_other(database: Database, job_id: int) -> None:
    """Eight imports at once: all of them are stored, none is torn."""
    failures: list[Exception] = []

    def one(number: int) -> None:
        try:
            added(database, job_id, sha256=f"{number:064d}")
        except Exception as error:
            failures.append(error)

    threads = [threading.Thread(target=one, args=(i,)) for i in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert failures == []
    with database.transaction() as session:
        assert len(captures.captures_of(session, job_id)) == 8
        assert session.query(SampleChunk).count() == 8


def test_channels_keep_their_description(database: Database, job_id: int) -> None:
    recording = recording_of(square_wave(100, 10))
    capture_id = added(database, job_id, recording=recording)
    with database.transaction() as session:
        again = captures.load_recording(session, captures.get_capture(session, capture_id))
        assert session.query(Vehicle).one().name == session.query(Job).one().vehicle.name
    assert isinstance(again.channels[0], Channel)
    assert again.channels[0].description == recording.channels[0].description
    assert again.description == recording.description
