"""The alignment kernel on plain arrays: lost, added, late edges, unknown beginnings, holes."""

import numpy as np
import pytest

from phasko.core.crank.alignment import align
from phasko.core.engine.wheel import gaps_deg
from tests.builders import profile, tooth_times

KNOWN = profile(crank__wheel={"slots": 12, "missing": [12]})
GAPS = gaps_deg(KNOWN.crank.known_wheel)
TIMES = tooth_times(KNOWN, 4)


def test_without_damage_every_edge_is_the_next_tooth() -> None:
    found = align(TIMES, GAPS)
    assert (found.first, found.tooth) == (0, 0)
    assert found.steps.tolist() == list(range(TIMES.size))


@pytest.mark.parametrize("skipped", [3, 8, 10])
def test_the_first_tooth_need_not_be_known(skipped: int) -> None:
    assert align(TIMES[skipped:], GAPS).tooth == skipped


@pytest.mark.parametrize("lost", [5, 11, 21])
def test_a_lost_tooth_leaves_a_step_of_two(lost: int) -> None:
    """Also just behind the gap, where the interval looks like a longer gap."""
    found = align(np.delete(TIMES, lost), GAPS)
    assert np.diff(found.steps).tolist().count(2) == 1
    assert found.steps[lost] == lost + 1


@pytest.mark.parametrize("share", [0.2, 0.5, 0.8])
def test_an_added_edge_is_left_out(share: float) -> None:
    extra = (1 - share) * TIMES[15] + share * TIMES[16]
    found = align(np.insert(TIMES, 16, extra), GAPS)
    assert np.flatnonzero(found.steps < 0).tolist() == [16]
    assert found.steps[17] == 16


def test_a_hole_of_most_of_a_turn_is_counted_over() -> None:
    found = align(np.delete(TIMES, np.arange(13, 20)), GAPS)
    assert found.steps[13] - found.steps[12] == 8


def test_a_known_start_is_kept() -> None:
    slowness = float(np.log(1.0 / 1200.0))
    found = align(TIMES[4:], GAPS, 4, slowness)
    assert (found.first, found.tooth) == (0, 4)


@pytest.mark.parametrize("growth", [0.7, 1.4])
def test_a_steady_change_of_speed_loses_no_tooth(growth: float) -> None:
    """Per turn 40 per cent quicker or slower, as while starting and stopping."""
    angle = TIMES * 1200.0
    times = angle / 1200.0 * np.exp(np.log(growth) * angle / 720.0)
    assert align(times, GAPS).steps.tolist() == list(range(TIMES.size))
