"""Some drawn sweeps against their truth; the whole table is in the docs."""

from __future__ import annotations

import numpy as np
import pytest

from trials import phaser_sweeps
from trials.cache import cached_on_disk
from trials.phaser_sweeps import Measured

pytestmark = pytest.mark.exhaustive

sweep_of_seed = cached_on_disk(phaser_sweeps.sweep_of_seed)


@pytest.fixture(scope="module")
def sweeps() -> list[Measured]:
    return [sweep_of_seed(seed) for seed in range(700, 708)]


def test_every_state_is_right_and_no_pulse_is_lost(sweeps: list[Measured]) -> None:
    assert [one.seed for one in sweeps if not one.right] == []
    assert {one.lost for one in sweeps} == {0}


def test_stops_and_dead_times_are_within_the_aims(sweeps: list[Measured]) -> None:
    """Half a degree and 20 ms; one dead time of them may be further off, where the start is soft."""
    assert max(abs(one.stop_off_deg) for one in sweeps if one.stop_off_deg is not None) < 0.5
    dead = np.abs([one.dead_off_s for one in sweeps if one.dead_off_s is not None])
    assert np.count_nonzero(dead > 0.02) <= 1


def test_no_sweep_opens_anything(sweeps: list[Measured]) -> None:
    assert all("caution" not in one.called for one in sweeps)
