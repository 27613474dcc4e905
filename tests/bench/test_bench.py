"""The bench: deterministic, with the truth it claims, independent of the measuring code."""

import json

import numpy as np
import pytest

from phasko.bench import Cranking, HallSensor, HookUp, Nuisances, Shift, capture_files, pool_engines, record
from phasko.bench.motion import crank_motion
from tests.builders import FOUR, pool_engine


def test_the_same_seed_gives_the_same_samples() -> None:
    usual = Nuisances(tooth_deg=0.1, cam_jitter_deg=0.1, cam_swing_deg=0.1, profile_edge_deg=0.3)
    a, b, c = (record(pool_engine(FOUR), seed, nuisances=usual).columns["c2"] for seed in (1, 1, 2))
    assert np.array_equal(a, b)
    assert not np.array_equal(a[: c.size], c[: a.size])


def test_truth_is_read_against_the_wheel() -> None:
    made = record(pool_engine(FOUR), 1, shift=Shift({"B1I": 17.0}, crank_wheel_deg=5.0))
    assert made.true_cam_offsets_deg == {"B1I": 12.0, "B1E": -5.0}


def test_the_truth_lies_beside_the_files_and_not_in_them() -> None:
    files = capture_files(record(pool_engine(FOUR), 3, shift=Shift({"B1I": 17.0}), name="jumped"))
    assert sorted(files) == ["jumped.capture.json", "jumped.csv", "jumped.truth.json"]
    assert json.loads(files["jumped.truth.json"])["cam_offsets_deg"]["B1I"] == 17.0
    assert b"17" not in files["jumped.capture.json"]


@pytest.mark.parametrize("engine", pool_engines())
def test_edges_pass_where_the_profile_has_them(engine: str) -> None:
    """Counted by the eye's way: samples over half height, at a constant speed, no analysis code."""
    known = pool_engine(engine)
    calm = Cranking(mean_rpm=200.0, swing=0.0, cylinder_spread=0.0, wander=0.0, cycles=3.0, start_deg=0.0)
    made = record(known, 4, cranking=calm, hookup=HookUp(cam=HallSensor(noise_v=0.0, edge_s=2e-5)))
    for i, cam in enumerate(known.cams, start=2):
        high = made.columns[f"c{i}"] > 2.5
        changes = np.flatnonzero(high[1:] != high[:-1]) + 0.5
        angles = changes * made.interval_s * 1200.0 % 720.0
        expected = [edge.deg for edge in cam.edges]
        off = np.abs((angles[:, None] - np.array(expected) + 360.0) % 720.0 - 360.0).min(axis=1)
        assert off.max() < 0.2, cam.id


def test_speed_sags_at_every_tdc() -> None:
    known = pool_engine(FOUR)
    motion = crank_motion(known, Cranking(cycles=4, wander=0.0, start_deg=0.0), np.random.default_rng(1))
    speed = np.gradient(motion.angles_deg, motion.times_s)
    for tdc in (720.0, 900.0, 1080.0, 1260.0):
        near, far = (np.interp(tdc + off, motion.angles_deg, speed) for off in (0.0, 90.0))
        assert near < 0.92 * far


def test_the_converter_has_its_steps() -> None:
    samples = record(pool_engine(FOUR), 5, hookup=HookUp(bits=8)).columns["c1"]
    assert np.allclose(samples / (20.0 / 256), np.rint(samples / (20.0 / 256)))


def test_from_rest_begins_with_silence() -> None:
    made = record(pool_engine(FOUR), 6, cranking=Cranking(from_rest=True, rest_s=0.5, cycles=2))
    assert np.ptp(made.columns["c1"][: int(0.5 / made.interval_s)]) < 0.5
