"""What a fleet teaches of one kind of engine: within its own intervals, honest for few, not led by the jumped."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest

from phasko.core.errors import DataError
from phasko.core.population import KindReadings, index_of, population_of, spread_of
from phasko.core.population.cams import EDGE_PRIOR_SD_DEG, WEAR_PRIOR_SD_DEG, _given_spreads
from trials.fleets import REACH, Drawn, expected_fleet, held_of, index_fleet, index_held, usual_fleet


@pytest.mark.parametrize("draw", [usual_fleet, expected_fleet])
@pytest.mark.parametrize("engines", [4, 25])
def test_truths_lie_within_their_intervals(engines: int, draw: Callable[[np.random.Generator, int], Drawn]) -> None:
    """Of 20 fleets: edges of 80, and 20 each of wear and both spreads. Fewer than 15 of 20 at 95 in 100 is a chance of
    one in three thousand (binomial)."""
    rng = np.random.default_rng(900 + engines)
    drawn = [draw(rng, engines) for _ in range(20)]
    held = [held_of(one, population_of(one.readings)) for one in drawn]
    assert np.mean([mark for one in held for mark in one.edges]) >= 0.86
    assert min(sum(getattr(one, name) for one in held) for name in ("wear", "build", "whole")) >= 15


def test_more_engines_say_more() -> None:
    rng = np.random.default_rng(5)
    wide, close = (population_of(usual_fleet(rng, engines).readings) for engines in (4, 200))
    assert wide.wear is not None and close.wear is not None
    assert close.edges[0].u95 < 0.4 * wide.edges[0].u95
    assert close.wear.u95 < 0.4 * wide.wear.u95


def test_the_jumped_count_for_nothing_and_a_sound_one_called_badly_is_let_in() -> None:
    rng = np.random.default_rng(8)
    drawn = usual_fleet(rng, 60, jumped=0.0).readings
    offsets, chances = drawn.offsets_deg.copy(), drawn.chances.copy()
    offsets[:6] += 20.0
    chances[:6] = 0.2
    chances[6] = 0.4
    found = population_of(KindReadings(offsets, drawn.sds_deg, drawn.distances, chances, REACH))
    assert found.weights[:6].max() < 0.01
    assert found.weights[6] > 0.9
    assert found.engines == pytest.approx(54.0, abs=1.0)


def test_one_that_was_called_sound_and_lies_far_off_does_not_lead() -> None:
    drawn = usual_fleet(np.random.default_rng(9), 30, jumped=0.0).readings
    offsets = drawn.offsets_deg.copy()
    offsets[0] += 17.0
    with_it = population_of(KindReadings(offsets, drawn.sds_deg, drawn.distances, drawn.chances, REACH))
    without = population_of(drawn)
    assert with_it.weights[0] < 0.05
    assert with_it.whole.value < 1.3 * without.whole.value


def test_nobody_at_all_leaves_what_was_expected_before() -> None:
    nothing = KindReadings(np.empty((0, 2)), np.empty((0, 2)), np.empty(0), np.empty(0), np.ones(2))
    found = population_of(nothing)
    assert found.wear is None
    assert found.engines == 0.0
    for edge in found.edges:
        assert edge.value == pytest.approx(0.0, abs=1e-6)
        assert edge.u95 == pytest.approx(1.96 * EDGE_PRIOR_SD_DEG, rel=0.01)


def test_without_distances_nothing_is_said_of_wear() -> None:
    drawn = usual_fleet(np.random.default_rng(4), 20).readings
    few = drawn.distances.copy()
    few[5:] = np.nan
    assert population_of(KindReadings(drawn.offsets_deg, drawn.sds_deg, few, drawn.chances, REACH)).wear is None


def test_the_closed_form_is_that_of_the_whole_matrices() -> None:
    """Generalised least squares with normal priors, written out with every covariance matrix (Aitken 1936; Rasmussen
    and Williams 2006, section 2.7; from memory)."""
    drawn = usual_fleet(np.random.default_rng(2), 7).readings
    weights = np.linspace(0.2, 1.0, 7)
    build, whole = 0.4, 0.7
    normal = np.diag([*np.full(4, EDGE_PRIOR_SD_DEG**-2), WEAR_PRIOR_SD_DEG**-2])
    right = np.zeros(5)
    for i in range(7):
        seen = np.isfinite(drawn.offsets_deg[i])
        covariance = np.diag(build**2 + drawn.sds_deg[i, seen] ** 2) + whole**2
        design = np.column_stack([np.eye(4), REACH * drawn.distances[i]])[seen]
        inverse = weights[i] * np.linalg.inv(covariance)
        normal += design.T @ inverse @ design
        right += design.T @ inverse @ drawn.offsets_deg[i, seen]
    _, mean, covariance = _given_spreads(drawn, weights, np.array([0.1, build]), np.array([2.0, whole]))
    np.testing.assert_allclose(mean[1], np.linalg.solve(normal, right), rtol=1e-9)
    np.testing.assert_allclose(covariance[1], np.linalg.inv(normal), rtol=1e-9)


def test_readings_that_do_not_fit_are_refused() -> None:
    with pytest.raises(DataError, match="number"):
        KindReadings(np.zeros((2, 3)), np.zeros((2, 2)), np.zeros(2), np.zeros(2), np.ones(3))
    with pytest.raises(DataError, match="chance"):
        KindReadings(np.zeros((1, 1)), np.ones((1, 1)), np.zeros(1), np.array([1.2]), np.ones(1))


def test_the_spread_of_compression_is_recovered_and_the_measurement_taken_off() -> None:
    rng = np.random.default_rng(12)
    inside = []
    for _ in range(40):
        true = float(np.exp(rng.normal(np.log(0.02), 0.4)))
        sds = np.full((40, 4), 0.02)
        raw = 1.0 + rng.normal(0.0, true, (40, 4)) + rng.normal(0.0, 0.02, (40, 4))
        found = spread_of(raw / raw.mean(axis=1, keepdims=True), sds, np.ones(40)).share
        inside.append(found.low <= true <= found.high)
    assert sum(inside) >= 34, "of forty at 95 in 100, fewer is a chance of one in two thousand (binomial)"


def test_with_exact_measurements_it_is_the_pooled_standard_deviation() -> None:
    """Within groups, one degree of freedom lost for each mean (any handbook of statistics)."""
    rng = np.random.default_rng(13)
    raw = 1.0 + rng.normal(0.0, 0.03, (300, 4))
    pooled = float(np.sqrt(((raw - raw.mean(axis=1, keepdims=True)) ** 2).sum() / (300 * 3)))
    assert spread_of(raw, np.full((300, 4), 1e-6), np.ones(300)).share.value == pytest.approx(pooled, rel=0.03)


def test_a_weak_cylinder_counts_by_its_engines_chance() -> None:
    rng = np.random.default_rng(14)
    raw = 1.0 + rng.normal(0.0, 0.02, (60, 4))
    raw[:10, 0] = 0.4
    chances = np.ones(60)
    chances[:10] = 0.001
    assert spread_of(raw, np.full((60, 4), 0.005), chances).share.value == pytest.approx(0.02, rel=0.3)


@pytest.mark.parametrize("engines", [4, 25])
def test_the_truth_of_the_index_lies_within_its_intervals(engines: int) -> None:
    """Of 200 fleets at 95 in 100: fewer than 178 is a chance of one in three thousand (binomial)."""
    rng = np.random.default_rng(950 + engines)
    held = [index_held(index_fleet(rng, engines)) for _ in range(200)]
    assert sum(one.place for one in held) >= 178
    assert sum(one.spread for one in held) >= 178


def test_what_all_engines_share_no_number_of_them_takes_away() -> None:
    rng = np.random.default_rng(16)
    read = rng.normal(1.0, 0.5, 4000)
    found = index_of(read, np.full(4000, 0.9), np.ones(4000), 0.8)
    alone = index_of(read, np.full(4000, 0.9), np.ones(4000), 0.0)
    assert found.place.u95 == pytest.approx(1.96 * 0.8, rel=0.05)
    assert alone.place.u95 < 0.05
    assert found.place.value == pytest.approx(1.0 * 9.0 / (9.0 + 0.64), abs=0.05)


def test_exact_readings_of_an_index_have_their_own_standard_deviation() -> None:
    """Mean and standard deviation of a sample (any handbook of statistics)."""
    read = np.random.default_rng(17).normal(0.4, 0.3, 500)
    found = index_of(read, np.full(500, 1e-4), np.ones(500), 0.0)
    assert found.place.value == pytest.approx(read.mean(), abs=0.002)
    assert found.place.u95 == pytest.approx(1.96 * read.std(ddof=1) / np.sqrt(500), rel=0.05)
    assert found.spread.value == pytest.approx(read.std(ddof=1), rel=0.03)


def test_a_wheel_that_has_moved_does_not_lead_and_one_not_read_counts_for_nothing() -> None:
    rng = np.random.default_rng(18)
    read, sds, chances = rng.normal(0.0, 0.3, 40), np.full(40, 0.5), np.full(40, 0.95)
    read[:3] += 12.0
    read[3] = np.nan
    found = index_of(read, sds, chances, 0.0)
    assert abs(found.place.value) < 0.4
    assert found.engines == pytest.approx(36.0, abs=0.5)
    with pytest.raises(DataError):
        index_of(read, sds[:5], chances, 0.0)
