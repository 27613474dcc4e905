"""What comes from cars: supplies, slow and ringing edges, couplings, any speed from 20 rpm up, snaps, stalls."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import pytest

from phasko.bench import Shift
from phasko.bench.faults import Spread
from phasko.bench.hookup import HallSensor, HookUp, Nuisances
from phasko.bench.probe import Probe
from phasko.bench.recorder import true_offsets_deg
from phasko.bench.scenario import clear_flood_cranking, idling, snapping
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.crank.segments import segments_by_speed
from phasko.core.phase.learning import learn_what_is_missing
from phasko.core.signals.edge_trains import cam_trains, crank_edges
from phasko.core.signals.inductive import inductive_edges
from phasko.core.signals.recording import Channel, Recording
from tests.builders import (
    FOUR,
    bench_recording,
    clock_of,
    codes,
    pool_engine,
    profile,
    recording_of,
    run_recording,
    without,
)
from trials.measurements import measure_capture

LATE = 11.3


def offsets(measured: CaptureMeasurement, segment: str = "cranking") -> dict[str, float]:
    return {r.cam.id: r.offset.offset.value for r in measured.cams if r.offset and r.segment == segment}


def reads_late(recording: Recording, within_deg: float) -> None:
    measured = measure_capture(recording, pool_engine(FOUR))
    assert offsets(measured) == {
        "B1I": pytest.approx(LATE, abs=within_deg),
        "B1E": pytest.approx(0.0, abs=within_deg),
    }


@pytest.mark.parametrize(
    "sensor",
    [
        HallSensor(low_v=0.1, high_v=4.9),
        HallSensor(low_v=0.4, high_v=8.1),
        HallSensor(low_v=0.6, high_v=12.4),
        HallSensor(low_v=0.3, high_v=3.4),
        HallSensor(low_v=0.2, high_v=1.1, noise_v=0.004),
        HallSensor(edge_s=150e-6),
        HallSensor(noise_v=0.12, hum_v=0.15),
    ],
    ids=["5 V", "8 V", "battery", "below its supply", "through a divider", "slow edges", "noise and hum"],
)
def test_a_hall_sensor_is_read_from_whatever_supply(sensor: HallSensor) -> None:
    hookup = HookUp(crank=sensor, cam=sensor, range_v=20.0, bits=14)
    reads_late(bench_recording(FOUR, 71, Shift({"B1I": LATE}), hookup=hookup), 0.06)


def changed(recording: Recording, change: Callable[[np.ndarray, float], np.ndarray]) -> Recording:
    """Every channel's samples changed; ``change`` gets them and the interval."""
    return replace(
        recording,
        channels=tuple(
            Channel(c.description, change(c.samples.astype(np.float64), recording.interval_s).astype(np.float32))
            for c in recording.channels
        ),
    )


def through_a_capacitor(volts: np.ndarray, interval_s: float) -> np.ndarray:
    """First-order high-pass of 0.2 s, as a scope's AC coupling."""
    from scipy.signal import lfilter

    keep = np.exp(-interval_s / 0.2)
    return np.asarray(lfilter([1.0, -1.0], [1.0, -keep], volts - volts[0]))


def ringing(volts: np.ndarray, interval_s: float) -> np.ndarray:
    """A fifth of every jump rings at 15 kHz and dies away within a fifth of a millisecond."""
    jumps = np.concatenate([[0.0], np.diff(volts)])
    t = np.arange(round(4e-4 / interval_s)) * interval_s
    return volts + np.convolve(jumps, 0.2 * np.exp(-t / 6e-5) * np.sin(2 * np.pi * 15e3 * t))[: volts.size]


def drifting(volts: np.ndarray, interval_s: float) -> np.ndarray:
    """A bad ground that wanders by a volt and a half."""
    t = np.arange(volts.size) * interval_s
    return volts + 1.5 * np.sin(2 * np.pi * 0.9 * t)


@pytest.mark.parametrize(
    ("change", "within_deg"),
    [(through_a_capacitor, 0.3), (ringing, 0.06), (drifting, 0.3)],
    ids=["AC-coupled", "ringing", "drifting"],
)
def test_a_hall_signal_is_read_through_bad_leads(
    change: Callable[[np.ndarray, float], np.ndarray], within_deg: float
) -> None:
    reads_late(changed(bench_recording(FOUR, 72, Shift({"B1I": LATE})), change), within_deg)


def test_the_accurate_edge_is_the_one_that_stands_more_evenly() -> None:
    """The falling edges are exact, the rising ones come up to a degree off: without a profile's word falling is taken;
    with the signal upside down the rising ones are."""
    known = without(pool_engine(FOUR), wheel=True)
    bare = known.model_copy(
        update={"crank": known.crank.__class__.model_validate({"sensor": "hall", "tooth_deg": known.crank.tooth_deg})}
    )
    recording = ragged_rising(bench_recording(FOUR, 73))
    for upside_down, edge in ((False, "falling"), (True, "rising")):
        turned = changed(recording, (lambda v, _: 5.2 - v) if upside_down else (lambda v, _: v))
        train = crank_edges(turned, bare).value
        assert train is not None
        learnt = learn_what_is_missing(bare, train, cam_trains(turned, bare).value).value
        assert learnt.engine.crank.timing_edge == edge


def ragged_rising(recording: Recording) -> Recording:
    """The crank's rising edges moved by up to 0.8 ms, each turn's tooth otherwise."""
    crank = recording.channels[0]
    volts = crank.samples.copy()
    high = volts > 2.5
    rng = np.random.default_rng(1)
    for rise in np.flatnonzero(high[1:] & ~high[:-1]):
        volts[rise + 1 : rise + 1 + int(rng.integers(0, 80))] = 0.3
    return replace(recording, channels=(Channel(crank.description, volts), *recording.channels[1:]))


@pytest.mark.parametrize(
    "wheel",
    [
        {"teeth_deg": [*(10.0 * k for k in range(36)), 355.0]},
        {"slots": 36, "missing": [9, 18, 27, 36][:2]},
        {"slots": 12, "missing": [12]},
        {"teeth_deg": [0, 60, 120, 180, 240, 300, 315]},
    ],
    ids=["36 and one added", "36 with two unlike gaps", "12-1", "six and a sync tooth"],
)
def test_wheels_with_added_teeth_and_several_gaps(wheel: dict[str, object]) -> None:
    edges = [{"deg": d, "kind": k} for d, k in ((40, "rising"), (130, "falling"), (310, "rising"), (580, "falling"))]
    known = profile(crank__wheel=wheel, crank__tooth_deg=2.0, cams=[{"id": "CAM", "edges": edges}])
    measured = measure_capture(bench_recording(known, 74, Shift({"CAM": LATE})), known)
    (reading,) = [r for r in measured.cams if r.offset is not None]
    assert reading.offset is not None
    error = abs(reading.offset.offset.value - LATE)
    assert error < max(0.2, reading.offset.offset.u95)


@pytest.mark.parametrize("rpm", [20.0, 60.0, 250.0, 1000.0, 6500.0])
def test_an_inductive_wheel_is_armed_at_any_speed(rpm: float) -> None:
    """A sine per tooth whose height goes with the speed, 0.8 V at 100 rpm: every tooth of 20 turns crosses once, within
    a hundredth of the pitch."""
    rate = max(20_000.0, 60.0 * rpm)
    t = np.arange(round(20 * 60.0 / rpm * rate)) / rate
    turned = 2 * np.pi * rpm / 60.0 * t
    noise = np.random.default_rng(2).normal(0.0, 0.003, t.size)
    recording = recording_of((0.008 * rpm * np.sin(36 * turned) + noise).astype(np.float32), rate)
    found = inductive_edges(recording.channels[0], recording)
    assert found is not None
    falling = found.train.of_kind("falling")
    assert falling.size == pytest.approx(20 * 36, abs=2)
    places = (falling * rpm / 60.0 * 36) % 1.0
    assert places == pytest.approx(np.full(falling.size, 0.5), abs=0.01)


def test_an_inductive_wheel_is_followed_from_a_crawl_to_full_speed() -> None:
    """From 20 to 6000 rpm within two seconds: the height grows three hundredfold and no tooth is lost."""
    rate = 200_000.0
    t = np.arange(round(2.0 * rate)) / rate
    rpm = 20.0 * (300.0 ** (t / 2.0))
    turned = np.cumsum(2 * np.pi * rpm / 60.0) / rate
    recording = recording_of((0.008 * rpm * np.sin(36 * turned)).astype(np.float32), rate)
    found = inductive_edges(recording.channels[0], recording)
    assert found is not None
    expected = int(36 * turned[-1] / (2 * np.pi))
    assert found.train.of_kind("falling").size == pytest.approx(expected, abs=3)


def test_a_stall_is_running_that_becomes_rest() -> None:
    """Idle that dies within half a second: the way down belongs to neither state's offsets, the end is rest."""
    known = profile()
    t = np.arange(0.0, 3.2, 1e-4)
    speed = np.interp(t, [0.0, 2.0, 2.6, 3.2], [800.0, 800.0, 60.0, 60.0]) * (t < 2.7)
    angle = np.concatenate([[0.0], np.cumsum(6.0 * speed[:-1] * 1e-4)])
    turns = range(int(angle[-1] // 360) + 1)
    teeth = np.array([a + 360.0 * k for k in turns for a in known.crank.wheel.angles_deg if a + 360.0 * k < angle[-1]])
    moving = t <= 2.7
    times = np.interp(teeth, angle[moving], t[moving])
    clock = clock_of(known, times, 276.0)
    found = segments_by_speed(clock, 0.0, 5.0)
    assert found[0].kind == "running"
    assert found[-1].kind == "rest"
    assert found[-1].from_s == pytest.approx(2.7, abs=0.1)


BUILT = Spread(edge_deg=0.0, tooth_deg=0.03, run_out_deg=0.03, chain_jitter_deg=0.06)


@pytest.mark.parametrize(
    ("scenario", "segment"),
    [
        (clear_flood_cranking(3.4), "cranking"),
        (idling(2.0), "running"),
        (snapping(), "running"),
    ],
    ids=["from rest to roll-back", "idle", "snap"],
)
@pytest.mark.parametrize("engine", [FOUR, "haverel-2.4-five"])
def test_starts_roll_backs_and_snaps_are_read_within_a_fifth_of_a_degree(
    engine: str, scenario: object, segment: str
) -> None:
    known = pool_engine(engine)
    probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in known.cams[:2])]
    recording, run = run_recording(known, probes, 75, scenario, spread=BUILT)  # type: ignore[arg-type]
    truth, found = true_offsets_deg(run), offsets(measure_capture(recording, known), segment)
    assert set(found) == {cam.id for cam in known.cams[:2]}
    for cam, value in found.items():
        assert value == pytest.approx(truth[cam], abs=0.2)


def test_a_loose_connection_is_dated_and_bridged() -> None:
    """Twelve milliseconds without a crank signal: said with its moment, and the offsets stay."""
    recording = bench_recording(FOUR, 76, Shift({"B1I": LATE}))
    crank = recording.channels[0]
    volts = crank.samples.copy()
    first = round(1.2 / recording.interval_s)
    volts[first : first + round(0.012 / recording.interval_s)] = 0.3
    loose = replace(recording, channels=(Channel(crank.description, volts), *recording.channels[1:]))
    measured = measure_capture(loose, pool_engine(FOUR))
    lost = [event for event in measured.events if event.signal == "crank"]
    assert lost
    assert all(1.19 < event.time_s < 1.22 for event in lost)
    assert offsets(measured)["B1I"] == pytest.approx(LATE, abs=0.1)


def test_a_probe_on_the_wrong_scale_is_mentioned() -> None:
    measured = measure_capture(changed(bench_recording(FOUR, 77), lambda volts, _: 10.0 * volts), pool_engine(FOUR))
    assert "implausible_levels" in codes(measured)
    assert "implausible_levels" not in codes(measure_capture(bench_recording(FOUR, 77), pool_engine(FOUR)))


def test_a_cam_that_is_right_at_first_and_late_after_is_said_so() -> None:
    """A step of 12 degrees in the middle, dated within a cycle."""
    before = bench_recording(FOUR, 78, Shift({"B1E": 0.0}), Nuisances())
    after = bench_recording(FOUR, 78, Shift({"B1E": 12.0}), Nuisances())
    place = next(i for i, c in enumerate(before.channels) if c.description.cam == "B1E")
    half = before.sample_count // 2
    joined = np.concatenate([before.channels[place].samples[:half], after.channels[place].samples[half:]])
    channels = list(before.channels)
    channels[place] = Channel(channels[place].description, joined)
    measured = measure_capture(replace(before, channels=tuple(channels)), pool_engine(FOUR))
    step = next(r.relative.step for r in measured.cams if r.cam.id == "B1E" and r.relative is not None)
    assert step is not None
    assert step.time_s == pytest.approx(half * before.interval_s, abs=0.6)
    assert (step.before_deg, step.after_deg) == (pytest.approx(0.0, abs=0.5), pytest.approx(12.0, abs=0.5))
    assert any("right at first" in problem.text for problem in measured.problems)
