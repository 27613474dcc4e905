"""What must not change an offset: where time begins, how volts are scaled, lost and added edges."""

import numpy as np
import pytest

from phasko.bench import pool_engine
from phasko.bench.faults import Spread
from phasko.bench.probe import Probe
from phasko.bench.sensors.hall import HallFault, HallPickup
from phasko.core.capture import crank_angle
from phasko.core.documents import EngineProfile
from phasko.core.found import Found
from phasko.core.signals.edge_trains import crank_edges
from phasko.core.signals.recording import Channel, Recording
from phasko.core.signals.switching import EdgeTrain
from tests.builders import FOUR, SIX, bench_recording, run_recording
from trials.measurements import measure_capture

USUAL = Spread(tooth_deg=0.03, chain_jitter_deg=0.06)


def offsets(recording: Recording, known: EngineProfile) -> dict[str, tuple[float, float]]:
    readings = measure_capture(recording, known).cams
    return {r.cam.id: (r.offset.offset.value, r.offset.offset.u95) for r in readings if r.offset is not None}


@pytest.mark.parametrize("start_s", [-12.5, 3600.0])
def test_where_time_begins(start_s: float) -> None:
    recording = bench_recording(FOUR, 71)
    later = Recording(recording.file, recording.description, start_s, recording.interval_s, recording.channels)
    before, after = offsets(recording, pool_engine(FOUR)), offsets(later, pool_engine(FOUR))
    assert {cam: value for cam, (value, _) in after.items()} == pytest.approx(
        {cam: value for cam, (value, _) in before.items()}, abs=1e-5
    )


@pytest.mark.parametrize("factor", [0.3, 2.5])
def test_how_volts_are_scaled(factor: float) -> None:
    recording = bench_recording(FOUR, 72)
    scaled = Recording(
        recording.file,
        recording.description,
        0.0,
        recording.interval_s,
        tuple(Channel(c.description, (c.samples * np.float32(factor)).astype(np.float32)) for c in recording.channels),
    )
    before, after = offsets(recording, pool_engine(FOUR)), offsets(scaled, pool_engine(FOUR))
    for cam, (value, _) in before.items():
        assert after[cam][0] == pytest.approx(value, abs=1e-4)


@pytest.mark.parametrize("engine", [FOUR, SIX, "ostrin-1.4-four", "haverel-2.4-five"])
def test_three_in_a_hundred_crank_edges_lost_or_added_move_no_offset_by_more_than_its_u95(
    engine: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    known = pool_engine(engine)
    probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in known.cams[:2])]
    recording, _ = run_recording(known, probes, 73, spread=USUAL)
    sound = offsets(recording, known)
    for seed in range(6):
        rng = np.random.default_rng([seed, 9])

        def damaged(
            recording: Recording,
            profile: EngineProfile,
            rng: np.random.Generator = rng,
        ) -> Found[EdgeTrain]:
            train = crank_edges(recording, profile).value
            assert train is not None
            times = train.of_kind(profile.crank.timing_edge)
            count = int(0.03 * times.size)
            added = int(rng.integers(0, count + 1))
            kept = np.delete(times, rng.choice(times.size, count - added, replace=False))
            every = np.sort(np.concatenate([kept, rng.uniform(times[0], times[-1], added)]))
            kinds = np.full(every.size, profile.crank.timing_edge == "rising")
            return Found(EdgeTrain(train.channel, every, kinds, train.levels, train.interval_s))

        with monkeypatch.context() as patched:
            patched.setattr(crank_angle, "crank_edges", damaged)
            moved = offsets(recording, known)
        for cam, (value, u95) in moved.items():
            assert abs(value - sound[cam][0]) <= u95, (engine, seed, cam)
        assert moved.keys() == sound.keys()


def test_a_dirty_capture_stays_within_half_a_degree() -> None:
    known = pool_engine(FOUR)
    pickup = HallPickup(fault=HallFault(dropped_share=0.005, added_per_s=2.0))
    for seed in range(4):
        probes = [Probe("crank", hall=pickup), Probe("cam", cam="B1I")]
        dirty, _ = run_recording(known, probes, 80 + seed, spread=USUAL)
        clean, _ = run_recording(known, [Probe("crank"), Probe("cam", cam="B1I")], 80 + seed, spread=USUAL)
        assert offsets(dirty, known)["B1I"][0] == pytest.approx(offsets(clean, known)["B1I"][0], abs=0.1)
