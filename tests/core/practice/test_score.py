"""What a call is worth. The quadratic rule after Brier (1950) and Gneiting and Raftery (2007), from memory."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from phasko.core.practice import LearnersCall, Truth, score_of
from phasko.core.practice.score import quadratic_loss

JUMPED = Truth("chain_jumped", ("cam_slipped",), covers="off", ruins=True)
SENSOR = Truth("cam_sensor_fault", covers="on")


def points(call: LearnersCall, truth: Truth, cost: float = 30.0, cheapest: float = 30.0) -> float:
    return score_of(call, truth, 20, cost, cheapest).points


@given(st.floats(0.0, 1.0), st.booleans(), st.integers(2, 30))
def test_the_loss_is_the_sum_of_squares_of_all_chances(sure: float, right: bool, explanations: int) -> None:
    """Counted out one by one: what is left is spread evenly over the others."""
    rest = (1.0 - sure) / (explanations - 1)
    said = [sure] + [rest] * (explanations - 1)
    true = [1.0, *[0.0] * (explanations - 1)] if right else [0.0, 1.0, *[0.0] * (explanations - 2)]
    assert quadratic_loss(sure, right, explanations) == pytest.approx(
        sum((s - t) ** 2 for s, t in zip(said, true, strict=True))
    )


@pytest.mark.parametrize("believed", [0.2, 0.5, 0.7, 0.95])
def test_nobody_gains_by_saying_more_or_less_than_he_believes(believed: float) -> None:
    """A proper score: its expectation is best where the chance that was said is the one that is believed."""

    def expected(sure: float) -> float:
        right, wrong = quadratic_loss(sure, True, 20), quadratic_loss(sure, False, 20)
        return believed * right + (1.0 - believed) * wrong

    said = [i / 100 for i in range(101)]
    assert min(said, key=expected) == pytest.approx(believed, abs=0.011)


def test_guessing_evenly_gets_nothing_for_what_it_says() -> None:
    even = score_of(LearnersCall("none", 1.0 / 20, "on"), SENSOR, 20, 30.0, 30.0)
    assert even.said.points == pytest.approx(0.0, abs=1e-9)


def test_being_sure_and_wrong_costs_more_than_being_unsure() -> None:
    sure, unsure = (points(LearnersCall("weak_cylinder", s, "on"), SENSOR) for s in (0.95, 0.3))
    assert sure < unsure - 20


def test_the_two_worst_failures_cost_more_than_anything_else_can_win_back() -> None:
    """Whatever was said, taking down for nothing and driving on with a drive that has jumped end below nought."""
    for sure in (0.05, 0.5, 1.0):
        assert points(LearnersCall("cam_sensor_fault", sure, "off"), SENSOR) < 0
        assert points(LearnersCall("chain_jumped", sure, "on"), JUMPED) < 0


def test_all_right_at_the_least_cost_is_a_hundred() -> None:
    assert points(LearnersCall("chain_jumped", 1.0, "off"), JUMPED) == pytest.approx(100.0)
    # A slipped cam cannot be told from a jump of one pitch: either word is right.
    assert points(LearnersCall("cam_slipped", 1.0, "off"), JUMPED) == pytest.approx(100.0)


def test_what_it_cost_counts_only_for_a_call_that_was_right() -> None:
    dear = score_of(LearnersCall("chain_jumped", 1.0, "off"), JUMPED, 20, 120.0, 30.0)
    assert dear.spent.points == pytest.approx(5.0)
    wrong = score_of(LearnersCall("none", 0.5, "on"), JUMPED, 20, 0.0, 30.0)
    assert wrong.spent.points == 0.0


@pytest.mark.parametrize(("covers", "sure"), [("off", 0.1), ("on", 0.1), ("off", 0.9), ("on", 0.9)])
def test_where_either_is_good_work_both_get_the_same(covers: str, sure: float) -> None:
    weak = Truth("weak_cylinder", covers="either")
    found = score_of(LearnersCall("weak_cylinder", sure, covers), weak, 20, 30.0, 30.0)  # type: ignore[arg-type]
    assert found.decision == "either"
    assert found.decided.points == found.decided.most
