"""Recording from the simulated scope in its own process: kept whole, cut, with holes, marked, measured meanwhile."""

from __future__ import annotations

import itertools
import json
import time
from collections.abc import Callable, Iterator

import numpy as np
import pytest

from phasko.core.documents import CaptureDescription
from phasko.core.errors import ConflictError, DeviceError, NotFoundError, RefusedError
from phasko.core.signals.recording import Recording
from phasko.jobs.captures import list_captures
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.opening import open_job
from phasko.jobs.preparing.hooking_up import hook_up_page, keep_hook_up
from phasko.jobs.recording import Recordings, RecordingView, StartRecording
from phasko.jobs.recording.recordings import EngineSaid
from phasko.jobs.recording.sensor_test import sensor_test
from phasko.store import Database, captures, jobs
from phasko.store.arriving import arriving, forget_halves, keep_cut_recordings
from phasko.store.chunks import encode_chunks
from tests.builders import FOUR, pool_engine

DISTRIBUTOR = "ostrin-1.6-distributor"


@pytest.fixture
def recordings(database: Database) -> Iterator[Recordings]:
    found = Recordings(database)
    yield found
    found.close()


def job_of(database: Database, engine: str, question: str, **car: object) -> int:
    """A job with its hook-up ticked, before the instruments a car as told."""
    document = pool_engine(engine).model_dump_json(by_alias=True, exclude_none=True).encode()
    version = save_engine(database, document, "e.json").id
    job = open_job(database, vehicle="Sled 4", make_model="", complaint="", codes=[], engine_id=version).id
    page = hook_up_page(database, job, question, 4)
    ticked = [caution.id for caution in page.cautions]
    keep_hook_up(database, job, page.hook_up.model_copy(update={"question": question, "ticked": ticked}))
    with database.transaction() as session:
        jobs.get_job(session, job).simulated_car = json.dumps({"seed": 5, **car})
    return job


def until(
    recordings: Recordings, job: int, seen: Callable[[RecordingView], bool], seconds: float = 30.0
) -> RecordingView:
    ends = time.monotonic() + seconds
    while time.monotonic() < ends:
        view = recordings.view(job)
        assert view is not None
        if seen(view):
            return view
        time.sleep(0.05)
    raise AssertionError(f"not seen within {seconds} s: {view}")


def longer_than(seconds: float) -> Callable[[RecordingView], bool]:
    return lambda view: view.seconds > seconds


def samples_of(database: Database, capture_id: int) -> Recording:
    with database.reading() as session:
        return captures.load_recording(session, captures.get_capture(session, capture_id))


def test_what_was_recorded_is_a_capture_with_marks_and_state(database: Database, recordings: Recordings) -> None:
    job = job_of(database, FOUR, "sensor")
    said = EngineSaid(temperature="cold", symptom="present")
    recordings.start(database, job, StartRecording(said=said, name="rig 1"))
    until(recordings, job, longer_than(0.6))
    recordings.mark(job, "")
    recordings.name_mark(job, 0, "tapped")
    recordings.say(job, EngineSaid(condition="bench", temperature="hot"))
    with pytest.raises(RefusedError, match="being recorded already"):
        recordings.start(database, job, StartRecording())
    assert list_captures(database, job) == []
    done = recordings.stop(job)
    assert (done.phase, done.failure, done.lost) == ("done", None, 0)
    capture = list_captures(database, job)[0]
    assert (capture.name, capture.condition, capture.temperature) == ("rig 1", "bench", "hot")
    recording = samples_of(database, capture.id)
    assert recording.sample_count == done.samples
    assert [(mark.text, mark.t_s > 0.5) for mark in recording.description.marks] == [("tapped", True)]
    assert {len(channel.samples) for channel in recording.channels} == {done.samples}
    assert all(np.isfinite(channel.samples).all() for channel in recording.channels)


def test_nothing_is_recorded_before_every_caution_is_ticked(database: Database, recordings: Recordings) -> None:
    job = job_of(database, FOUR, "sensor")
    page = hook_up_page(database, job)
    keep_hook_up(database, job, page.hook_up.model_copy(update={"ticked": page.hook_up.ticked[1:]}))
    with pytest.raises(RefusedError, match="Still to tick: Wear gloves"):
        recordings.start(database, job, StartRecording())
    with pytest.raises(RefusedError, match="no round 9"):
        recordings.start(database, job_of(database, DISTRIBUTOR, "sensor"), StartRecording(round=8))
    with pytest.raises(NotFoundError, match="Nothing is being recorded"):
        recordings.stop(job)


def test_a_pulled_cable_keeps_what_came_and_says_so(database: Database, recordings: Recordings) -> None:
    job = job_of(database, FOUR, "sensor", trouble={"unplugged_at_s": 0.8})
    recordings.start(database, job, StartRecording())
    view = until(recordings, job, lambda view: view.phase == "done")
    assert view.failure is not None and "unplugged" in view.failure and "were kept" in view.failure
    capture = list_captures(database, job)[0]
    assert capture.cut_off == view.failure
    assert samples_of(database, capture.id).duration_s == pytest.approx(0.8, abs=0.2)


def test_lost_blocks_are_missing_samples_and_what_follows_stays_at_its_time(
    database: Database, recordings: Recordings
) -> None:
    job = job_of(database, FOUR, "sensor", trouble={"lose_every": 4})
    recordings.start(database, job, StartRecording())
    until(recordings, job, longer_than(1.2))
    done = recordings.stop(job)
    assert done.lost > 0
    recording = samples_of(database, done.capture_id)
    missing = np.isnan(recording.channels[0].samples)
    assert missing.sum() == done.lost
    # The magnet passes 24 times a second on either side of a hole.
    signal = recording.channels[0].samples
    rises = np.flatnonzero((signal[1:] > 2.5) & (signal[:-1] <= 2.5)) * recording.interval_s
    off = np.abs((rises * 24.0) - np.rint(rises * 24.0))
    assert off.size > 10 and off.max() < 0.05


def test_a_clock_that_is_off_is_noticed(database: Database, recordings: Recordings) -> None:
    job = job_of(database, FOUR, "sensor", trouble={"clock_share": 0.08})
    recordings.start(database, job, StartRecording())
    view = until(recordings, job, longer_than(4.0))
    assert view.clock_off == pytest.approx(0.08, abs=0.03)
    recordings.stop(job)


def test_what_a_kill_leaves_of_a_recording_is_kept_and_marked(database: Database) -> None:
    job = job_of(database, FOUR, "sensor")
    stack = arriving(database, job, "cut.capture.json", "f" * 64)
    arrival = stack.__enter__()

    channels = [{"column": "c1", "role": "other"}, {"column": "c2", "role": "other"}]
    described = CaptureDescription.model_validate(
        {"schema": "phasko.capture/1", "data": "cut", "condition": "bench", "channels": channels}
    )
    arrival.describe("cut.capture.json", described, 0.001)
    samples = np.sin(np.arange(4096, dtype=np.float32))
    (chunk,) = encode_chunks(samples)
    arrival.add_piece({"c1": chunk, "c2": chunk})
    assert list_captures(database, job) == []
    assert (keep_cut_recordings(database), forget_halves(database)) == (1, 0)
    kept = list_captures(database, job)[0]
    assert kept.cut_off == "The server ended while it was recorded; 4.1 s were kept"
    assert np.array_equal(samples_of(database, kept.id).channels[1].samples, samples)


def test_a_recording_without_a_single_sample_leaves_nothing(database: Database) -> None:
    job = job_of(database, FOUR, "sensor")
    with arriving(database, job, "none.capture.json", "e" * 64):
        with pytest.raises(ConflictError), arriving(database, job, "same", "e" * 64):
            pass
        assert keep_cut_recordings(database) == 0
    assert list_captures(database, job) == []


def test_cranking_is_measured_while_it_streams_and_says_stop(database: Database, recordings: Recordings) -> None:
    faults = {"drive": {"jumped_at_crank": 1}}
    job = job_of(database, FOUR, "timing", faults=faults, length_s=5.0)
    recordings.start(database, job, StartRecording(said=EngineSaid(phasers="unplugged", temperature="hot")))
    view = until(recordings, job, lambda view: view.live is not None and view.live.stop is not None)
    assert view.live is not None and len(view.live.cams) == 2
    assert all(cam.offset_deg == pytest.approx(17.1, abs=1.6) for cam in view.live.cams)
    assert view.live.teeth == 58 and "late" in view.finding.text
    assert [lane.good for lane in view.lanes] == [True] * 4
    strip = recordings.strip(job, 0.5, 100)
    assert len(strip.lanes) == 4 and 50 <= len(strip.lanes[0].low) <= 100
    assert recordings.stop(job).phase == "done"
    log = samples_of(database, view.capture_id).description.scan_log
    assert len(log) >= 2 and all(b.t_s > a.t_s for a, b in itertools.pairwise(log))
    assert all(row.rpm is not None and 100 < row.rpm < 350 and row.coolant_c == 88.0 for row in log)


def test_a_distributor_that_is_turned_is_followed_within_a_second(database: Database, recordings: Recordings) -> None:
    job = job_of(database, DISTRIBUTOR, "sync", faults={"drive": {"sync_deg": 14.0}}, length_s=4.0)
    recordings.start(database, job, StartRecording())
    first = until(recordings, job, lambda view: view.adjusting is not None and view.adjusting.where == "late")
    assert first.adjusting is not None and first.adjusting.mean_deg is not None
    began = first.adjusting.mean_deg
    for to_deg in (8.0, 2.0):
        recordings.turn(job, to_deg)
        time.sleep(1.0)
        wanted = began + to_deg - 14.0
        near = until(recordings, job, lambda view, wanted=wanted: _reads(view, wanted), seconds=8.0)  # type: ignore[misc]
        assert near.adjusting is not None
    settled = until(recordings, job, lambda view: view.adjusting is not None and view.adjusting.where == "in")
    assert settled.adjusting is not None and "Tighten" in settled.adjusting.words
    done = recordings.stop(job)
    marks = [mark.text for mark in samples_of(database, done.capture_id).description.marks]
    assert [mark.split(":")[0] for mark in marks] == ["Before", "After"]
    assert marks[0].endswith("late")


def _reads(view: RecordingView, wanted: float) -> bool:
    adjusting = view.adjusting
    return adjusting is not None and bool(adjusting.readings) and abs(adjusting.readings[-1] - wanted) < 0.3


def test_a_sensor_on_the_stand_is_read_from_its_recording(database: Database, recordings: Recordings) -> None:
    heat = {"behaves": "flat", "from_c": 60.0, "up_s": 2.0, "down_s": 2.0, "top_c": 110.0}
    job = job_of(database, FOUR, "sensor", heat=heat)
    recordings.start(database, job, StartRecording(beside=True))
    view = until(recordings, job, longer_than(10.2))
    assert view.finding.text.startswith("Recording: the sensor's signal is ") and "°C" in view.finding.text
    done = recordings.stop(job)
    found = sensor_test(database, done.capture_id)
    assert found.fails is True and "It is the sensor" in found.words
    assert found.healthy is not None and {span.health for span in found.healthy.spans} == {"good"}
    assert max(found.temperature_c) > 90.0


def test_temperatures_may_be_typed_as_marks(database: Database, recordings: Recordings) -> None:
    heat = {"behaves": "flat", "from_c": 60.0, "up_s": 2.0, "down_s": 30.0, "top_c": 110.0}
    job = job_of(database, FOUR, "sensor", heat=heat)
    recordings.start(database, job, StartRecording())
    for at_s, celsius in ((0.3, "22"), (4.9, "22 °C"), (7.0, "110 °C")):
        until(recordings, job, longer_than(at_s))
        recordings.mark(job, celsius)
    until(recordings, job, longer_than(9.0))
    done = recordings.stop(job)
    found = sensor_test(database, done.capture_id)
    assert found.fails is True and " °C on" in found.words
    assert found.temperature_c[0] == 22.0 and max(found.temperature_c) == pytest.approx(110.0, abs=1.0)


def test_the_scan_tool_reads_the_car_of_the_job(database: Database, recordings: Recordings) -> None:
    job = job_of(database, FOUR, "timing", faults={"drive": {"jumped_at_crank": 1}}, length_s=2.0)
    scan = recordings.scan(database, job, "hot")
    assert {code.code for code in scan.codes} == {"P0016", "P0017"}
    assert scan.codes[0].freeze_frame is not None
    with database.transaction() as session:
        jobs.get_job(session, job).simulated_car = json.dumps({"trouble": {"late_every": -1}})
    with pytest.raises(DeviceError, match="late_every"):
        recordings.scan(database, job, "hot")
