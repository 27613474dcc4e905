"""One travel of a phaser, against curves whose begin, rate and end are known."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest

from phasko.core.phasers.travel import Level, fitted_travel, level_of

RNG = np.random.default_rng(3)
TIMES_S = np.sort(RNG.uniform(2.0, 4.0, 60))
START = Level(1.5, 0.1, 0.0, 2.0, 40)


def ramp(share: float) -> Callable[[np.ndarray], np.ndarray]:
    return lambda since: np.clip(since / share, 0.0, 1.0)


SHAPES = {
    "steady": ramp(0.3),
    "slow but whole": ramp(1.2),
    "lag": lambda since: 1.0 - np.exp(-np.maximum(since, 0.0) / 0.1),
    "soft at both ends": lambda since: 0.5 - 0.5 * np.cos(np.pi * np.clip(since / 0.35, 0.0, 1.0)),
}


@pytest.mark.parametrize("shape", SHAPES)
def test_begin_and_end_are_found(shape: str) -> None:
    """The contract's aims are 20 ms and 0.5 degrees; a soft start hides its first few degrees."""
    late = 1.5 - 45.0 * SHAPES[shape](TIMES_S - 2.2) + RNG.normal(0.0, 0.1, 60)
    found = fitted_travel(2.0, TIMES_S, late, START, 0.05)
    assert found is not None
    assert found.arrived
    assert found.begins_s == pytest.approx(2.2, abs=0.05 if shape == "soft at both ends" else 0.02)
    assert found.to_deg == pytest.approx(-43.5, abs=0.3)
    assert abs(found.to_deg + 43.5) < found.to_u95_deg


def test_the_rate_is_the_mean_of_the_way() -> None:
    found = fitted_travel(2.0, TIMES_S, 1.5 - 45.0 * SHAPES["steady"](TIMES_S - 2.2), START, 0.05)
    assert found is not None
    assert found.rate_deg_s == pytest.approx(-150.0, rel=0.05)


def test_a_travel_that_is_cut_off_has_no_stop() -> None:
    late = 1.5 - np.maximum(TIMES_S - 2.2, 0.0) * 12.0
    found = fitted_travel(2.0, TIMES_S, late, START, 0.05)
    assert found is not None
    assert not found.arrived
    assert found.rate_deg_s == pytest.approx(-12.0, rel=0.03)


def test_a_level_of_few_edges_is_wide_and_one_of_none_is_none() -> None:
    assert level_of(np.empty(0), np.empty(0), 0.1) is None
    one, many = (level_of(np.linspace(0, n / 20, n), RNG.normal(0.0, 0.2, n), 0.0) for n in (4, 200))
    assert one is not None and many is not None
    assert one.u95_deg > 3.0 * many.u95_deg
