"""The crank clock: angle between teeth and across the gap, from rest, and what it says of its own error."""

import numpy as np
import pytest

from phasko.bench import Cranking, Nuisances
from phasko.core.crank.clock import ClockSetting, crank_clock
from phasko.core.crank.tooth_count import count_teeth
from phasko.core.engine.firing_ripple import firing_ripple
from tests.builders import FOUR, bench_recording, clock_of, pool_engine, profile, tooth_times
from trials.measurements import measure_capture


def swung_clock(index_deg: float | None = 276.0):
    """60-2 at 200 rpm with 12 % swing, four times a cycle; returns the clock and the true angle over time."""
    known = profile()
    teeth = np.array(known.crank.wheel.angles_deg)
    angles = (teeth[None, :] + 360.0 * np.arange(12)[:, None]).ravel()
    fine = np.arange(-10.0, 12 * 360.0, 0.05)
    speed = 1200.0 * (1.0 - 0.12 * np.cos(np.radians(2 * (fine + 276.0))))
    time = np.concatenate([[0.0], np.cumsum(0.05 / (0.5 * (speed[1:] + speed[:-1])))])
    times = np.interp(angles, fine, time)
    clock = crank_clock(
        times, count_teeth(times, known.crank.wheel), known.crank.wheel, ClockSetting(index_deg, firing_ripple(known))
    )
    return clock, lambda t: 276.0 + np.interp(t, time, fine)


def test_angle_is_carried_across_the_gap() -> None:
    clock, truth = swung_clock()
    piece = clock.pieces[0]
    inside = np.linspace(*piece.usable_s, 5000)[200:-200]
    off = (piece.angle_deg(inside) - truth(inside)) % 360.0
    off = (off + 180.0) % 360.0 - 180.0
    assert np.abs(off).max() < 0.01


def test_time_is_the_inverse_of_angle() -> None:
    piece = swung_clock()[0].pieces[0]
    angles = np.linspace(piece.angles_deg[3], piece.angles_deg[-3], 700)
    assert piece.angle_deg(piece.time_s(angles)) == pytest.approx(angles, abs=1e-6)


def test_ideal_teeth_have_no_spacing_error() -> None:
    assert swung_clock()[0].pieces[0].tooth_sd_deg < 0.01


@pytest.mark.parametrize("tooth_deg", [0.1, 0.3])
def test_spacing_error_is_estimated_from_its_repetition(tooth_deg: float) -> None:
    found = []
    for seed in range(5):
        recording = bench_recording(FOUR, seed, nuisances=Nuisances(tooth_deg=tooth_deg))
        clock = measure_capture(recording, pool_engine(FOUR)).clock
        assert clock is not None
        found.append(clock.pieces[0].tooth_sd_deg)
    assert np.mean(found) == pytest.approx(tooth_deg, rel=0.25)


def test_the_first_turn_from_rest_is_left_out() -> None:
    recording = bench_recording(FOUR, 2, cranking=Cranking(cycles=4.2, from_rest=True, rest_s=0.5))
    measured = measure_capture(recording, pool_engine(FOUR))
    assert [out.reason for out in measured.left_out][:2] == ["at rest", "start from rest"]
    assert measured.clock is not None
    piece = measured.clock.pieces[0]
    assert piece.angle_deg(np.array([piece.usable_s[0]]))[0] - piece.angles_deg[0] >= 359.0


def test_under_a_turn_there_is_no_clock() -> None:
    known = profile()
    times = tooth_times(known, 0.8)
    assert clock_of(known, times, 0.0).pieces == ()


def test_without_index_the_clock_says_so() -> None:
    assert not swung_clock(None)[0].index_known
