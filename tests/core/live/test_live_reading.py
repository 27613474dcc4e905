"""The last seconds of a recording, measured while it runs: as the whole capture is measured afterwards."""

from __future__ import annotations

import pytest

from phasko.bench.faults import DriveFaults, EngineFaults, Spread
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.bench.scenario import Scenario, clear_flood_cranking, idling
from phasko.core.live import live_finding, live_reading
from phasko.core.live.reading import LiveReading
from phasko.core.signals.recording import Channel, Recording
from tests.builders import pool_engine
from trials.measurements import measure_capture
from trials.recordings import record_run, run_engine

FOUR = "corvane-2.1-four"
TRUE = Spread(edge_deg=0.0, index_deg=0.0, build_deg=0.0)


def recorded(engine: str, scenario: Scenario, drive: DriveFaults, *more: Probe) -> Recording:
    profile = pool_engine(engine)
    run = run_engine(profile, scenario, 31, faults=EngineFaults(drive), spread=TRUE)
    probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in profile.cams), *more]
    made = record_run(run, probes, ScopeSettings(rate_hz=25_000.0))
    channels = tuple(Channel(c, made.columns[c.column]) for c in made.description.channels)
    return Recording("live", made.description, 0.0, made.interval_s, channels)


def between(recording: Recording, from_s: float, to_s: float) -> Recording:
    first, last = round(from_s / recording.interval_s), round(to_s / recording.interval_s)
    channels = tuple(Channel(c.description, c.samples[first:last]) for c in recording.channels)
    return Recording("live", recording.description, from_s, recording.interval_s, channels)


@pytest.fixture(scope="module")
def jumped() -> Recording:
    return recorded(FOUR, clear_flood_cranking(4.4), DriveFaults(jumped_at_crank=1))


def offsets(reading: LiveReading) -> dict[str, float | None]:
    return {cam.cam: cam.offset_deg for cam in reading.cams}


def test_the_last_cycles_read_what_the_whole_capture_reads(jumped: Recording) -> None:
    profile = pool_engine(FOUR)
    whole = {r.cam.id: r.offset.offset.value for r in measure_capture(jumped, profile).cams if r.offset}
    live = live_reading(between(jumped, 1.2, 3.9), profile)
    for cam, value in offsets(live).items():
        assert value == pytest.approx(whole[cam], abs=0.15)
        assert value == pytest.approx(17.14, abs=0.3)
    assert (live.teeth, live.expected_teeth) == (58, 58)
    assert live.rpm is not None and 150 < live.rpm < 300
    assert all(cam.edges_per_cycle == cam.expected_edges for cam in live.cams)


def test_it_says_stop_where_valves_come_towards_the_pistons(jumped: Recording) -> None:
    profile = pool_engine(FOUR)
    assert "exhaust cam is this late" in (live_reading(between(jumped, 1.0, 3.9), profile).stop or "")
    free = profile.model_copy(update={"interference": False})
    assert live_reading(between(jumped, 1.0, 3.9), free).stop is None
    early = recorded(FOUR, clear_flood_cranking(3.2), DriveFaults(jumped_at_cam={"B1E": -1}))
    assert live_reading(early, profile).stop is None


def test_before_two_turns_it_waits_and_names_no_other_wheel(jumped: Recording) -> None:
    profile = pool_engine(FOUR)
    assert live_reading(between(jumped, 0.0, 0.2), profile).why == "The crank does not turn yet."
    short = live_reading(between(jumped, 0.0, 0.6), profile)
    assert short.why == "Less than two turns so far." and short.cams == ()
    without = between(jumped, 0.0, 0.6)
    cams_only = Recording("x", without.description, 0.0, without.interval_s, without.channels[1:])
    assert live_reading(cams_only, profile).why == "No crank signal is hooked up."


def test_an_engine_that_stands_again_is_said_to_stand(jumped: Recording) -> None:
    ended = recorded(FOUR, clear_flood_cranking(4.4, stop_s=1.4), DriveFaults())
    assert live_reading(between(ended, 0.8, 4.4), pool_engine(FOUR)).rpm == 0.0


def test_a_running_engine_reads_its_spark_and_its_sync_drive() -> None:
    name = "ostrin-1.6-distributor"
    running = recorded(name, idling(1.6), DriveFaults(sync_deg=12.0), Probe("coil", cylinder=1))
    live = live_reading(running, pool_engine(name))
    assert offsets(live)["CAM"] == pytest.approx(12.0, abs=0.3)
    assert [spark.cylinder for spark in live.sparks] == [1]


def test_the_sentence_tells_cams_that_agree_together(jumped: Recording) -> None:
    profile = pool_engine(FOUR)
    finding = live_finding(live_reading(between(jumped, 0.6, 3.9), profile), True)
    assert finding.text.startswith("Recording: both cams read 17.") and finding.emphasis is not None
    one = recorded(FOUR, clear_flood_cranking(3.2), DriveFaults(jumped_at_cam={"B1E": 1}))
    told = live_finding(live_reading(one, profile), True).text
    assert told.startswith("Recording: exhaust cam reads") and "intake cam in time" in told
    assert "waiting" in live_finding(None, True).text
