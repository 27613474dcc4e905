"""The chance error of a cam's mean offset, whatever its edges and cycles have in common."""

import math

import numpy as np
import pytest

from phasko.core.phase.offset_statistics import CycleStatistics, offset_of_cycles
from phasko.core.uncertainty import combine_u95

CAPTURES = 300


def shared_by_cycle(rng: np.random.Generator, times_s: np.ndarray, cycles: np.ndarray) -> np.ndarray:
    return 0.2 * rng.standard_normal(cycles.max() + 1)[cycles] + 0.02 * rng.standard_normal(cycles.size)


def partly_shared(rng: np.random.Generator, times_s: np.ndarray, cycles: np.ndarray) -> np.ndarray:
    return 0.2 * rng.standard_normal(cycles.max() + 1)[cycles] + 0.15 * rng.standard_normal(cycles.size)


def edges_alone(rng: np.random.Generator, times_s: np.ndarray, cycles: np.ndarray) -> np.ndarray:
    return 0.2 * rng.standard_normal(cycles.size)


def slack_strand(rng: np.random.Generator, times_s: np.ndarray, cycles: np.ndarray) -> np.ndarray:
    """Lasts about a sixth of a second: a first-order autoregression sampled at the edges."""
    kept = np.exp(-np.diff(times_s) / 0.15)
    wander = [0.2 * rng.standard_normal()]
    for share in kept:
        wander.append(share * wander[-1] + 0.2 * math.sqrt(1 - share**2) * rng.standard_normal())
    return np.array(wander)


def statistics(kind: object, rng: np.random.Generator, cycles: int, edges: int, cycle_s: float) -> CycleStatistics:
    cycle, edge = np.repeat(np.arange(cycles), edges), np.tile(np.arange(edges), cycles)
    times_s = (cycle + edge / edges) * cycle_s
    return offset_of_cycles(kind(rng, times_s, cycle), edge, cycle, times_s, edges, 0.002)  # type: ignore[operator]


def half_width(found: CycleStatistics) -> float:
    return combine_u95([(found.random_sd, found.random_dof)])


@pytest.mark.parametrize(
    ("kind", "cycles", "cycle_s", "least"),
    [
        (edges_alone, 8, 0.6, 0.93),
        (edges_alone, 20, 0.15, 0.93),
        (partly_shared, 8, 0.6, 0.90),
        (shared_by_cycle, 3, 0.6, 0.93),
        (shared_by_cycle, 8, 0.6, 0.93),
        (slack_strand, 14, 0.15, 0.93),
        (slack_strand, 8, 0.6, 0.90),
    ],
)
def test_nineteen_in_twenty_means_lie_within_it(kind: object, cycles: int, cycle_s: float, least: float) -> None:
    """And it is no wider for that than a few cycles need: at most three and a half times the error (four from three
    cycles, where Student's factor alone is 4.3)."""
    rng = np.random.default_rng(11)
    found = [statistics(kind, rng, cycles, 4, cycle_s) for _ in range(CAPTURES)]
    errors, widths = np.array([f.mean for f in found]), np.array([half_width(f) for f in found])
    assert least <= np.mean(np.abs(errors) <= widths) <= 0.99
    assert np.median(widths) < (4.0 if cycles == 3 else 3.5) * np.sqrt(np.mean(errors**2))


def test_what_a_cycle_shares_makes_it_wider() -> None:
    """Forty edges that move by tens say no more than ten; that the mean is the same shows it is not the scatter."""
    rng = np.random.default_rng(5)
    alone = np.median([half_width(statistics(edges_alone, rng, 10, 4, 0.6)) for _ in range(50)])
    shared = np.median([half_width(statistics(shared_by_cycle, rng, 10, 4, 0.6)) for _ in range(50)])
    assert shared / alone == pytest.approx(math.sqrt(4), rel=0.25)


def test_minutes_of_cycles_cost_no_more_than_their_groups() -> None:
    rng = np.random.default_rng(6)
    found = statistics(edges_alone, rng, 3000, 4, 0.15)
    assert found.cycle_values.size == 3000
    assert half_width(found) == pytest.approx(1.96 * 0.2 / math.sqrt(12_000), rel=0.15)


def test_never_below_the_sampling_step() -> None:
    """Edges that all fall on the same place are still not known better than their step."""
    cycle = np.arange(8)
    found = offset_of_cycles(np.full(8, 0.3), np.zeros(8, np.int64), cycle, 0.6 * cycle, 1, 0.01)
    assert found.mean == pytest.approx(0.3)
    assert found.random_sd >= 0.9 * 0.01 / math.sqrt(8)
