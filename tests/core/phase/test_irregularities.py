"""Dirty signals: lost and added pulses, dead stretches and disturbances are dated, counted and never silent."""

import numpy as np
import pytest

from phasko.bench import pool_engine
from phasko.bench.probe import Disturbance, Probe
from phasko.bench.scenario import clear_flood_cranking
from phasko.bench.sensors.hall import HallFault, HallPickup
from phasko.core.analyse import HashedCapture
from phasko.core.documents import EngineProfile
from phasko.core.documents.engine import AuxWheel
from phasko.core.phase.pulse_counts import odd_one_out
from phasko.core.signals.recording import Channel, Recording
from tests.builders import FOUR, codes, run_recording
from trials.analyses import analyse_job
from trials.measurements import measure_capture

EVEN = "haverel-1.3-even"
WITH_AUX = "ostrin-1.6-distributor"


def with_channel(recording: Recording, index: int, samples: np.ndarray) -> Recording:
    channels = list(recording.channels)
    channels[index] = Channel(channels[index].description, samples.astype(np.float32))
    return Recording(recording.file, recording.description, 0.0, recording.interval_s, tuple(channels))


def held(recording: Recording, index: int, from_s: float, to_s: float, level: float = 4.9) -> Recording:
    """The channel rests at one level for a while, as with a loose connection."""
    samples = recording.channels[index].samples.copy()
    samples[round(from_s / recording.interval_s) : round(to_s / recording.interval_s)] = level
    return with_channel(recording, index, samples)


def crank_and_cam(engine: str = FOUR, cam: str = "B1I", seed: int = 21) -> Recording:
    return run_recording(engine, [Probe("crank"), Probe("cam", cam=cam)], seed)[0]


def test_one_pulse_of_the_crank_lost_is_dated_with_cycle_and_angle() -> None:
    recording = held(crank_and_cam(), 0, 1.8, 1.806)
    measured = measure_capture(recording, pool_engine(FOUR))
    crank = [event for event in measured.events if event.signal == "crank"]
    assert [(e.kind, e.count) for e in crank] == [("missing", 1)]
    assert crank[0].time_s == pytest.approx(1.8, abs=0.02)
    assert crank[0].cycle is not None
    assert crank[0].angle_deg is not None
    assert next(c for c in measured.counts if c.signal == "crank").bad_windows == 1


@pytest.mark.parametrize("length_s", [0.06, 0.2, 0.8])
def test_a_dropout_is_bridged_or_left_out_and_never_silent(length_s: float) -> None:
    clean = crank_and_cam()
    known = pool_engine(FOUR)
    truth = measure_capture(clean, known).cams[0].offset
    measured = measure_capture(held(clean, 0, 1.5, 1.5 + length_s), known)
    silent = [event for event in measured.events if event.kind == "silent"]
    assert [event.signal for event in silent] == ["crank"]
    assert silent[0].time_s == pytest.approx(1.5, abs=0.03)
    assert silent[0].to_s == pytest.approx(1.5 + length_s, abs=0.03)
    assert "signal_dropout" in codes(measured)
    assert [s.kind for s in measured.segments if s.from_s < 1.6 < s.to_s] != ["rest"]
    offset = measured.cams[0].offset
    assert truth is not None
    assert offset is not None
    assert offset.offset.value == pytest.approx(truth.offset.value, abs=0.05)


def test_where_crank_and_cams_end_together_the_engine_stands() -> None:
    """A heavy cold engine stops within a tooth of a coarse wheel; that accuses no sensor. Where the cam goes on it is
    the crank's signal that ended."""
    clean = crank_and_cam()
    crank_only = held(clean, 0, 2.4, 9.0)
    both = held(crank_only, 1, 2.4, 9.0)
    for recording, ended in ((crank_only, True), (both, False)):
        events = measure_capture(recording, pool_engine(FOUR)).events
        silent = [e for e in events if e.signal == "crank" and e.kind == "silent"]
        assert bool(silent) == ended


def test_a_cam_that_dies_is_silent_from_then_on() -> None:
    recording = crank_and_cam()
    measured = measure_capture(held(recording, 1, 1.6, 9.0), pool_engine(FOUR))
    silent = [event for event in measured.events if event.kind == "silent"]
    assert {event.signal for event in silent} == {"B1I"}
    assert silent[0].time_s == pytest.approx(1.6, abs=0.25)


def test_a_pulse_added_to_a_cam_is_one_pulse() -> None:
    recording = crank_and_cam()
    samples = recording.channels[1].samples.copy()
    at = round(1.7 / recording.interval_s)
    samples[at : at + 40] = 5.2 - samples[at : at + 40]
    measured = measure_capture(with_channel(recording, 1, samples), pool_engine(FOUR))
    assert [(e.signal, e.kind, e.count) for e in measured.events] == [("B1I", "extra", 1)]
    assert measured.cams[0].extra_edges == 1


def test_pulses_tied_to_the_ignition_are_told_from_random_ones() -> None:
    known = pool_engine(FOUR)
    loud = Probe("crank", disturbance=Disturbance(spark_spike_v=6.0))
    recording, _ = run_recording(known, [loud, Probe("cam", cam="B1I")], 22, clear_flood_cranking(5.0))
    assert "induced_pulses" in codes(measure_capture(recording, known))
    random = Probe("crank", hall=HallPickup(fault=HallFault(added_per_s=4.0)))
    recording, _ = run_recording(known, [random, Probe("cam", cam="B1I")], 23, clear_flood_cranking(5.0))
    measured = measure_capture(recording, known)
    assert "irregular_signal" in codes(measured)
    assert "induced_pulses" not in codes(measured)


def test_the_odd_signal_of_three_is_named_by_vote() -> None:
    at = np.arange(0.0, 40.0, 1.0)
    sound = {"crank": (np.arange(0.0, 40.0, 0.05), 20), "A1": (np.arange(0.0, 40.0, 1 / 6), 6)}
    lost = np.delete(np.sort(np.concatenate([at, at + 0.3])), [20, 41])
    votes = odd_one_out({**sound, "B1I": (lost, 2)})
    assert votes["crank"][0] == votes["A1"][0] == 0
    assert votes["B1I"][0] >= 2
    assert odd_one_out({**sound, "B1I": (lost, 2)}, [(9.0, 12.0), (19.0, 23.0)])["B1I"][0] < votes["B1I"][0]


def test_a_further_wheel_is_counted_against_the_profile() -> None:
    known = pool_engine(WITH_AUX)
    recording, _ = run_recording(known, [Probe("crank"), Probe("aux", wheel="A1"), Probe("cam", cam="CAM")], 24)
    counts = {c.signal: c for c in measure_capture(recording, known).counts}
    assert (counts["A1"].per_cycle, counts["A1"].expected, counts["A1"].bad_windows) == (6.0, 6, 0)
    dropped = measure_capture(held(recording, 1, 1.4, 1.6), known)
    assert next(c for c in dropped.counts if c.signal == "A1").bad_windows >= 1


def test_another_wheel_on_the_crank_tells_the_turn_of_an_even_one() -> None:
    """Alone an even wheel leaves offsets open modulo its pitch; one tooth fixed to the crank settles it."""
    plain = pool_engine(EVEN)
    wheel = {"id": "A1", "turns_with": "crank", "sensor": "hall", "teeth_deg": [40.0]}
    known = EngineProfile.model_validate({**plain.model_dump(by_alias=True, exclude_none=True), "aux_wheels": [wheel]})
    probes = [Probe("crank"), Probe("cam", cam="CAM"), Probe("aux", wheel="A1")]
    recording, _ = run_recording(known, probes, 25)
    alone = measure_capture(recording, plain).cams[0]
    assert alone.ambiguous_modulo_deg == pytest.approx(30.0)
    settled = measure_capture(recording, known).cams[0]
    assert settled.ambiguous_modulo_deg is None
    assert settled.offset is not None
    assert abs(settled.offset.offset.value) < 2.0


def test_between_two_pulses_the_place_is_a_fraction() -> None:
    recording, _ = run_recording(EVEN, [Probe("crank"), Probe("cam", cam="CAM")], 26)
    result = analyse_job([HashedCapture(recording, "0" * 64)], pool_engine(EVEN), "1" * 64).captures[0]
    for edge in result.cams[0].edges:
        assert edge.between_teeth is not None
        assert edge.measured_deg is not None
        assert edge.between_teeth == pytest.approx(((edge.measured_deg - 10.0) % 30.0) / 30.0, abs=0.02)


def with_crank_wheel_as_aux() -> tuple[EngineProfile, Recording]:
    """The four with a second pick-up on its crank wheel, 18 degrees on, described as a further wheel."""
    known = pool_engine(FOUR)
    places = [(known.crank.index_deg + angle + 18.0) % 360.0 for angle in known.crank.known_wheel.angles_deg]
    wheel = AuxWheel(id="A1", turns_with="crank", timing_edge=known.crank.timing_edge, teeth_deg=sorted(places))
    engine = known.model_copy(update={"aux_wheels": [wheel]})
    probes = [Probe("crank"), Probe("cam", cam="B1I"), Probe("aux", wheel="A1")]
    return engine, run_recording(engine, probes, 23)[0]


def test_a_dead_crank_sensor_is_replaced_by_a_further_wheel_on_the_crank() -> None:
    engine, recording = with_crank_wheel_as_aux()
    whole = measure_capture(recording, engine)
    dead = with_channel(recording, 0, np.full(recording.sample_count, 4.9))
    measured = measure_capture(dead, engine)
    assert {"no_crank_signal", "crank_from_aux"} <= codes(measured)
    assert measured.cams[0].offset is not None
    assert whole.cams[0].offset is not None
    assert measured.cams[0].offset.offset.value == pytest.approx(whole.cams[0].offset.offset.value, abs=0.05)
    call = analyse_job([HashedCapture(dead, "0" * 64)], engine, "1" * 64)
    assert "crank_sensor_fault" in [fault.fault for fault in call.verdict.faults]


def test_few_teeth_are_no_clock() -> None:
    recording = run_recording(WITH_AUX, [Probe("crank"), Probe("aux", wheel="A1")], 24)[0]
    dead = with_channel(recording, 0, np.full(recording.sample_count, 4.9))
    assert not measure_capture(dead, pool_engine(WITH_AUX)).usable


def test_of_two_crank_channels_the_living_one_is_the_clock() -> None:
    recording = crank_and_cam()
    flat = Channel(
        recording.channels[0].description.model_copy(update={"column": "flat"}), 0 * recording.channels[0].samples
    )
    both = Recording("x", recording.description, 0.0, recording.interval_s, (flat, *recording.channels))
    measured = measure_capture(both, pool_engine(FOUR))
    assert measured.usable
    assert measured.cams[0].offset is not None
