"""Spacing errors of the teeth: estimated where turns repeat them, left in the uncertainty where nothing shows them."""

import numpy as np
import pytest
from numpy.typing import NDArray

from phasko.core.crank.interpolation_error import between_error_sd, gap_error_sd
from phasko.core.crank.tooth_errors import misread_teeth, tooth_errors
from phasko.core.engine.firing_ripple import firing_ripple
from tests.builders import profile

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
TEETH = 36
RIPPLE = firing_ripple(profile())


def turned(turns: int, errors_deg: Floats, ripple_deg: float = 0.5, teeth: int = TEETH) -> tuple[Floats, Floats, Ints]:
    """(times, nominal angles, tooth) of a wheel whose teeth stand ``errors_deg`` further on, at a rippled speed."""
    number = np.arange(turns * teeth)
    nominal = number * 360.0 / teeth
    true = nominal + errors_deg[number % teeth]
    times = (true + ripple_deg * np.sin(np.radians(2 * true))) / 1200.0
    return times, nominal, number % teeth


def nothing(teeth: int = TEETH) -> Floats:
    return np.zeros((teeth, teeth))


def test_errors_of_single_teeth_are_found() -> None:
    """What is left is a small part; the slow rest round the wheel cannot be seen from neighbours."""
    true = 0.1 * np.random.default_rng(3).standard_normal(TEETH)
    found = tooth_errors(*turned(12, true), TEETH, nothing(), RIPPLE)
    left = true - true.mean() - (found.removed_deg - found.removed_deg.mean())
    assert np.std(left) < 0.6 * np.std(true)
    assert found.sd_deg == pytest.approx(0.1, rel=0.4)


def test_what_is_left_fits_the_covariance() -> None:
    ratios = []
    for seed in range(30):
        true = 0.1 * np.random.default_rng(seed).standard_normal(TEETH)
        found = tooth_errors(*turned(10, true), TEETH, nothing(), RIPPLE)
        ratios.append((true - found.removed_deg) / np.sqrt(np.diag(found.covariance_deg2)))
    assert 0.7 < np.std(np.concatenate(ratios)) < 1.2


def test_few_turns_and_coarse_wheels_are_left_as_they_are() -> None:
    true = 0.1 * np.random.default_rng(4).standard_normal(TEETH)
    assert not tooth_errors(*turned(3, true), TEETH, nothing(), RIPPLE).removed_deg.any()
    coarse = 0.1 * np.random.default_rng(4).standard_normal(12)
    assert not tooth_errors(*turned(12, coarse, teeth=12), 12, nothing(12), RIPPLE).removed_deg.any()


def test_a_sensors_own_doubt_stays_in_the_covariance() -> None:
    doubt = np.diag(np.where(np.arange(TEETH) == 5, 0.2**2, 0.0))
    found = tooth_errors(*turned(3, np.zeros(TEETH)), TEETH, doubt, RIPPLE)
    assert np.sqrt(found.covariance_deg2[5, 5]) == pytest.approx(0.2, rel=0.05)


def test_a_pulse_taken_for_a_tooth_is_told_from_a_bad_tooth() -> None:
    """A tooth that is off every turn is the wheel's; one that is off once is something else."""
    bad = np.where(np.arange(TEETH) == 7, 0.5, 0.0)
    times, nominal, tooth = turned(10, bad)
    assert not misread_teeth(times, nominal, tooth, TEETH).any()
    times[150] += 0.4 / 1200.0
    assert np.flatnonzero(misread_teeth(times, nominal, tooth, TEETH)).tolist() == [150]


def test_a_gap_costs_what_hidden_teeth_cost() -> None:
    times, nominal, tooth = turned(10, np.zeros(TEETH))
    kept = tooth < TEETH - 2
    calm = gap_error_sd(times[kept], nominal[kept], tooth[kept])
    rippled, *_ = turned(10, np.zeros(TEETH), ripple_deg=5.0)
    assert calm < 0.01
    assert gap_error_sd(rippled[kept], nominal[kept], tooth[kept]) > 3 * calm


def test_teeth_cost_less_the_more_there_are() -> None:
    rippled = [between_error_sd(*turned(10, np.zeros(n), ripple_deg=4.0, teeth=n)) for n in (36, 60)]
    assert 0.1 > rippled[0] > 5 * rippled[1] > 0.0


def gapped(turns: int, lean_deg: float) -> tuple[Floats, Floats, Ints]:
    """A 60-2 wheel whose teeth beside the gap seem to stand ``lean_deg`` towards it."""
    tooth = np.tile(np.arange(58), turns)
    nominal = 6.0 * tooth + 360.0 * np.repeat(np.arange(turns), 58)
    true = nominal + np.where(tooth == 57, lean_deg, 0.0) - np.where(tooth == 0, lean_deg, 0.0)
    return (true + 0.5 * np.sin(np.radians(2 * true))) / 1200.0, nominal, tooth


def test_teeth_beside_a_gap_are_told_from_both_sides_of_it() -> None:
    doubt = np.diag(np.where(np.isin(np.arange(58), [0, 57]), 0.3**2, 0.0))
    found = tooth_errors(*gapped(10, 0.2), 58, doubt, RIPPLE)
    assert found.removed_deg[57] == pytest.approx(0.2, abs=0.03)
    assert found.removed_deg[0] == pytest.approx(-0.2, abs=0.03)
    assert np.sqrt(found.covariance_deg2[57, 57]) < 0.05


def test_few_turns_leave_the_doubt_beside_the_gap() -> None:
    doubt = np.diag(np.where(np.isin(np.arange(58), [0, 57]), 0.3**2, 0.0))
    found = tooth_errors(*gapped(3, 0.2), 58, doubt, RIPPLE)
    assert np.sqrt(found.covariance_deg2[57, 57]) == pytest.approx(0.3, rel=0.1)


def test_a_ripple_on_a_wide_pitch_is_not_taken_for_tooth_errors() -> None:
    times, nominal, tooth = turned(12, np.zeros(24), ripple_deg=4.0, teeth=24)
    found = tooth_errors(times, nominal, tooth, 24, nothing(24), RIPPLE)
    assert not found.removed_deg.any()
    assert found.sd_deg <= 0.3


@pytest.mark.parametrize(("true_deg", "least", "most"), [(0.0, 0.0, 0.06), (0.1, 0.05, 0.2)])
def test_tooth_errors_of_a_coarse_wheel_are_told_from_its_ripple(true_deg: float, least: float, most: float) -> None:
    """Twelve teeth, a ripple of two firings a turn: opposite teeth see the same ripple, not the same errors."""
    own = true_deg * np.random.default_rng(11).standard_normal(12)
    times, nominal, tooth = turned(12, own, ripple_deg=2.0, teeth=12)
    assert least <= tooth_errors(times, nominal, tooth, 12, nothing(12), RIPPLE).sd_deg <= most


def test_few_teeth_leave_their_errors_open() -> None:
    """Every second of four teeth late: a ripple of two firings a turn looks the same."""
    times, nominal, tooth = turned(12, np.array([0.5, 0.0, 0.5, 0.0]), ripple_deg=0.0, teeth=4)
    assert 0.1 < tooth_errors(times, nominal, tooth, 4, nothing(4), RIPPLE).sd_deg < 0.3
