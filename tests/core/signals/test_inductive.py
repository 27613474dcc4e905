"""Inductive signals: crossings of the signal's own middle, whatever the height, bias, noise or side of the sensor."""

import numpy as np
import pytest
from scipy.optimize import brentq

from phasko.bench.faults import Spread
from phasko.bench.probe import Disturbance, Probe
from phasko.bench.recorder import ScopeSettings, true_offsets_deg
from phasko.bench.run import Run
from phasko.bench.scenario import clear_flood_cranking, starting
from phasko.bench.sensors.inductive import InductivePickup
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents import EngineProfile
from phasko.core.signals.inductive import inductive_edges
from phasko.core.signals.recording import Channel, Recording
from tests.builders import codes, pool_engine, recording_of
from trials.measurements import measure_capture
from trials.recordings import record_run, run_engine

STRAIGHT_SIX = "tarrant-3.0-straight-six"


@pytest.fixture(scope="module")
def run() -> Run:
    return run_engine(pool_engine(STRAIGHT_SIX), clear_flood_cranking(3.4), 11)


def recorded(
    run: Run, crank: Probe | None = None, engine: EngineProfile | None = None, rate_hz: float = 100_000.0
) -> Recording:
    known = engine or run.engine
    probes = [crank or Probe("crank"), *[Probe("cam", cam=cam.id) for cam in known.cams]]
    made = record_run(run, probes, ScopeSettings(rate_hz=rate_hz))
    channels = tuple(Channel(d, made.columns[d.column]) for d in made.description.channels)
    return Recording("vr.capture.json", made.description, 0.0, made.interval_s, channels)


def offsets(measured: CaptureMeasurement, segment: str = "cranking") -> dict[str, float]:
    return {r.cam.id: r.offset.offset.value for r in measured.cams if r.offset and r.segment == segment}


@pytest.mark.parametrize("frequency_hz", [37.0, 211.3])
def test_a_sine_crosses_where_brent_finds_it(frequency_hz: float) -> None:
    """Against scipy.optimize.brentq on the function itself, 60 samples a period and more."""
    rate = 20_000.0

    def wave(t: float) -> float:
        return float(np.sin(2 * np.pi * frequency_hz * t + 0.4)) * (1 + 0.1 * t)

    t = np.arange(int(0.5 * rate)) / rate
    recording = recording_of(np.array([wave(x) for x in t], dtype=np.float32), rate)
    found_edges = inductive_edges(recording.channels[0], recording)
    assert found_edges is not None
    for found in found_edges.train.times_s[2:-2]:
        half = 0.2 / frequency_hz
        assert found == pytest.approx(brentq(wave, found - half, found + half), abs=0.05 / rate)


@pytest.mark.parametrize("samples", [np.zeros(5000), np.random.default_rng(1).normal(0.0, 0.01, 5000)])
def test_nothing_waves_nothing_crosses(samples: np.ndarray) -> None:
    recording = recording_of(samples.astype(np.float32))
    assert inductive_edges(recording.channels[0], recording) is None


@pytest.mark.parametrize(
    "probe",
    [
        Probe("crank"),
        Probe("crank", inductive=InductivePickup(bias_v=2.5)),
        Probe("crank", inductive=InductivePickup(volt_s_per_rad=0.01), disturbance=Disturbance(noise_v=0.004)),
        Probe("crank", disturbance=Disturbance(noise_v=0.1, hum_v=0.1)),
        Probe("crank", disturbance=Disturbance(spark_spike_v=2.0)),
        Probe("crank", range_v=1.0),
    ],
    ids=["plain", "biased", "small", "noisy", "spikes", "clipped"],
)
def test_offsets_are_read_within_their_interval(run: Run, probe: Probe) -> None:
    measured = measure_capture(recorded(run, probe), run.engine)
    truth = true_offsets_deg(run)
    for reading in measured.cams:
        assert reading.offset is not None
        off = abs(reading.offset.offset.value - truth[reading.cam.id])
        assert off < max(0.08, 2 * reading.offset.offset.u95), reading.cam.id
    assert len(measured.cams) == 2
    assert "mirrored_signal" not in codes(measured)


def test_the_other_wire_is_recognised_and_read_all_the_same(run: Run) -> None:
    plain = measure_capture(recorded(run), run.engine)
    mirrored = measure_capture(recorded(run, Probe("crank", inductive=InductivePickup(mirrored=True))), run.engine)
    assert "mirrored_signal" in codes(mirrored)
    for cam, value in offsets(plain).items():
        assert offsets(mirrored)[cam] == pytest.approx(value, abs=0.01)


def test_scaling_and_inverting_change_nothing(run: Run) -> None:
    recording = recorded(run)
    crank = recording.channels[0]
    value = offsets(measure_capture(recording, run.engine))["B1I"]
    for factor in (-1.0, 0.2, 30.0):
        changed = Channel(crank.description, (crank.samples * factor).astype(np.float32))
        other = Recording("x", recording.description, 0.0, recording.interval_s, (changed, *recording.channels[1:]))
        assert offsets(measure_capture(other, run.engine))["B1I"] == pytest.approx(value, abs=0.01)


def test_a_dead_wire_is_told_from_a_wrong_wheel(run: Run) -> None:
    measured = measure_capture(recorded(run, Probe("crank", inductive=InductivePickup(dead_wire=True))), run.engine)
    assert "no_crank_signal" in codes(measured)
    assert "other wire" in next(p.text for p in measured.problems if p.code == "no_crank_signal")


def test_height_follows_speed_from_start_to_idle() -> None:
    started = run_engine(pool_engine(STRAIGHT_SIX), starting(3.4), 12)
    measured = measure_capture(recorded(started), started.engine)
    truth = true_offsets_deg(started)
    assert {r.segment for r in measured.cams} == {"cranking", "running"}
    for cam, value in offsets(measured, "running").items():
        assert value == pytest.approx(truth[cam], abs=0.1)


@pytest.mark.parametrize("mirrored", [False, True])
def test_an_inductive_cam(mirrored: bool) -> None:
    known = pool_engine("solan-2.0-flat-four")
    crossings = [{"deg": d, "kind": "falling"} for d in (60.0, 240.0, 300.0, 510.0)]
    cam = {"id": "B1I", "bank": 1, "shaft": "intake", "sensor": "vr", "edges": crossings}
    inductive = EngineProfile.model_validate(
        {**known.model_dump(by_alias=True, exclude_none=True, exclude={"drive"}), "cams": [cam]}
    )
    turned = run_engine(inductive, clear_flood_cranking(3.4), 13, spread=Spread(edge_deg=0.0))
    probes = [Probe("crank"), Probe("cam", cam="B1I", inductive=InductivePickup(mirrored=mirrored))]
    made = record_run(turned, probes)
    channels = tuple(Channel(d, made.columns[d.column]) for d in made.description.channels)
    measured = measure_capture(Recording("x", made.description, 0.0, made.interval_s, channels), inductive)
    assert offsets(measured)["B1I"] == pytest.approx(true_offsets_deg(turned)["B1I"], abs=0.15)
    assert ("mirrored_signal" in codes(measured)) == mirrored


def test_the_steep_side_is_that_of_the_teeth() -> None:
    """One tooth's two lobes stand close together: plus then minus for a tooth, the other way on the other wire."""
    t = np.arange(20_000) / 20_000
    wave = sum(-(t - c) * np.exp(-(((t - c) / 0.004) ** 2)) for c in (0.2, 0.4, 0.6, 0.8)) * 400
    for sign, kind in ((1.0, "falling"), (-1.0, "rising")):
        recording = recording_of((sign * wave).astype(np.float32), 20_000.0)
        found = inductive_edges(recording.channels[0], recording)
        assert found is not None
        assert found.steep_kind == kind


def waving(drift_v: float = 0.0) -> Recording:
    """Two seconds of a 200 Hz wave of 1 V that stands on 0.3 V and drifts by so much in all."""
    t = np.arange(40_000) / 20_000.0
    return recording_of((0.3 + np.sin(2 * np.pi * 200.0 * t) + drift_v * t / 2.0).astype(np.float32), 20_000.0)


def test_a_middle_that_wanders_is_less_sure() -> None:
    """Its doubt is what shifts all crossings alike: the drift over the slope of the wave, 1257 V/s."""
    found = [inductive_edges(waving(drift).channels[0], waving(drift)) for drift in (0.0, 0.2)]
    calm, wanders = (edges.train.alike_s for edges in found if edges is not None)
    assert calm < 3e-6
    assert 0.2 / 8 / 1257.0 / 3 < wanders < 0.2 / 1257.0


def test_a_long_stretch_without_samples_leaves_the_middle_known() -> None:
    recording = waving()
    samples = recording.channels[0].samples.copy()
    samples[9_000:26_000] = np.nan
    gone = recording_of(samples, 20_000.0)
    found = inductive_edges(gone.channels[0], gone)
    assert found is not None
    assert 0.5 * (found.train.levels.low + found.train.levels.high) == pytest.approx(0.3, abs=0.01)
    assert found.train.alike_s < 1e-5
