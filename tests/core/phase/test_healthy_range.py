"""The range of one more healthy engine: how often it holds one, for few and for many."""

from __future__ import annotations

import numpy as np
import pytest

from phasko.core.phase.healthy_range import healthy_range

DRAWS = 600


@pytest.mark.parametrize("count", [1, 2, 5, 20])
@pytest.mark.parametrize("spread", [0.3, 0.45, 0.7])
def test_the_range_holds_one_more_engine_as_often_as_it_says(count: int, spread: float) -> None:
    """Whatever engines of the kind really differ by within a factor of 1.5 of what is usual. With one engine nothing
    but what is usual is known, so the interval is too wide where they differ little."""
    rng = np.random.default_rng(count)
    inside = 0
    for _ in range(DRAWS):
        values = rng.normal(2.0, spread, count + 1)
        found = healthy_range(values[:-1].tolist(), [0.02] * count, 0.42)
        inside += abs(values[-1] - found.mean_deg) <= found.u95_deg
    share = inside / DRAWS
    least = 0.80 if spread > 0.6 and count < 3 else 0.90
    assert least <= share <= (1.0 if count < 5 else 0.992)
    if count == 20 or (spread == 0.45 and count == 5):
        assert 0.92 <= share <= 0.98


def test_one_engine_counts_its_own_build_and_the_next_ones() -> None:
    """Spread 0.42 known exactly would give 1.96 * 0.42 * sqrt(2) = 1.16; not knowing it well makes that wider."""
    found = healthy_range([3.0], [0.0], 0.42)
    assert found.mean_deg == pytest.approx(3.0)
    assert 1.16 < found.u95_deg < 2.2


def test_many_engines_give_the_prediction_interval_of_the_textbook() -> None:
    """With many engines the prior is forgotten: t(n-1) * s * sqrt(1 + 1/n) (Hahn and Meeker, Statistical Intervals,
    1991, section 4.7; from memory)."""
    values = np.random.default_rng(4).normal(0.0, 0.5, 40)
    expected = 2.0227 * float(np.std(values, ddof=1)) * np.sqrt(1.0 + 1.0 / 40)
    assert healthy_range(values.tolist(), [0.0] * 40, 0.42).u95_deg == pytest.approx(expected, rel=0.04)


def test_a_doubtful_engine_counts_less() -> None:
    sure = healthy_range([0.0, 3.0], [0.1, 0.1], 0.42)
    doubtful = healthy_range([0.0, 3.0], [0.1, 2.0], 0.42)
    assert sure.mean_deg == pytest.approx(1.5, abs=0.01)
    assert doubtful.mean_deg < 0.5
