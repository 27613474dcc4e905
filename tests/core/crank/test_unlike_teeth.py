"""Wheels of unlike teeth: which tooth is which is told by whole turns."""

import numpy as np

from phasko.core.crank.tooth_count import count_teeth
from phasko.core.crank.unlike_teeth import clearest_turn, turns_read_wrongly
from phasko.core.documents.engine import Wheel

GAPS = np.array([15, 18, 12, 15, 15, 18, 12, 15, 18, 12, 15, 15, 18, 15, 12, 15, 18, 15, 15, 15, 15, 12, 18, 12.0])
TEETH = GAPS.size


def passings(turns: int, ripple: float = 0.1, from_tooth: int = 0) -> np.ndarray:
    """Times at a speed that swings four times a turn, beginning with that tooth."""
    angle = np.concatenate([[0.0], np.cumsum(np.tile(np.roll(GAPS, -from_tooth), turns))])
    grid = np.linspace(0.0, angle[-1], 40_000)
    time = np.concatenate(
        [[0.0], np.cumsum(np.diff(grid) / (1200.0 * (1 + ripple * np.sin(np.radians(4 * grid[1:])))))]
    )
    return np.interp(angle, grid, time)


def test_the_tooth_at_the_beginning_of_the_clearest_turn() -> None:
    found = clearest_turn(passings(4, from_tooth=7), GAPS)
    assert found is not None
    edge, tooth = found
    assert tooth == (edge + 7) % TEETH


def test_like_teeth_and_gaps_need_no_such_help() -> None:
    assert clearest_turn(passings(4), np.full(24, 15.0)) is None
    assert clearest_turn(passings(4)[:10], GAPS) is None


def test_a_wheel_that_does_not_fit_is_never_clear() -> None:
    even = np.arange(100) * 0.01
    assert clearest_turn(even, GAPS) is None


def test_turns_that_were_counted_rotated_are_found() -> None:
    times = passings(4)
    right = np.arange(times.size)
    assert not turns_read_wrongly(times, right, GAPS).any()
    assert turns_read_wrongly(times, right + 5, GAPS).all()


def test_a_count_starts_right_behind_a_rough_start() -> None:
    """Lost and added pulses in the first turns must not set the count for the rest."""
    wheel = Wheel(teeth_deg=[float(a) for a in np.cumsum(GAPS) - GAPS[0]])
    gaps = np.diff([*wheel.angles_deg, 360.0])
    angle = np.concatenate([[0.0], np.cumsum(np.tile(gaps, 6))])
    times = angle / 1200.0
    rough = np.sort(np.concatenate([np.delete(times, [3, 9, 10, 22, 30]), [0.021, 0.055, 0.2112]]))
    count = count_teeth(rough, wheel)
    steady = np.flatnonzero((rough > 0.6) & (count.tooth_number >= 0))
    expected = np.searchsorted(times, rough[steady] - 1e-9) % TEETH
    assert np.array_equal(count.tooth_number[steady] % TEETH, expected)
    assert steady.size > 60
