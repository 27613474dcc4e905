"""A practice car with every test at hand, and simulated learners at it."""

import numpy as np
import pytest

from phasko.bench.blind import drawn_car
from phasko.jobs.practice.on_the_stand import CarOnTheStand, StandTest, cheapest_way, covers_of, truth_of
from phasko.jobs.practice.testing import recording_minutes, runs
from trials.learners import GUESSES, LEARNERS, MACHINE, OPENS, points_of_everybody

SEEDS = range(31_000_000, 31_000_036, 7)
"""So few that they have to be spread over what can be wrong: the first ones all belong opened."""
SOME = LEARNERS[4::10]


@pytest.fixture(scope="module")
def jumped() -> CarOnTheStand:
    return CarOnTheStand(drawn_car(5, engine="corvane-2.1-four", fault="chain_jumped"))


def test_marks_and_signals_together_open_the_covers(jumped: CarOnTheStand) -> None:
    verdict = jumped.verdict([StandTest("capture", "timing"), StandTest("look", "marks")])
    assert verdict.faults[0].fault == "chain_jumped"
    assert covers_of(verdict) == truth_of(jumped.car).covers == "off"


def test_the_cheapest_way_is_right_and_no_test_of_it_can_be_left_out(jumped: CarOnTheStand) -> None:
    way = cheapest_way(jumped)
    assert way.right
    assert way.minutes == sum(test.minutes for test in way.tests)
    for test in way.tests:
        fewer = [one for one in way.tests if one != test]
        verdict = jumped.verdict(fewer)
        right = verdict.faults[0].fault in truth_of(jumped.car).right and covers_of(verdict) == "off"
        assert not (fewer and right and verdict.faults[0].probability >= way.sure), test


def test_a_test_without_an_answer_here_is_none(jumped: CarOnTheStand) -> None:
    assert jumped.stand_test("sync_adjust", None) is None
    assert jumped.stand_test("profile_check", None) is None
    wiggled = jumped.stand_test("wiggle", None)
    assert wiggled == StandTest("look", "wiring")
    felt, second = (jumped.stand_test(name, 1) for name in ("cylinder_pressure", "second_cylinder_pressure"))
    assert felt is not None and second is not None and felt.cylinder != second.cylinder


def test_a_car_that_does_not_run_is_not_tested_running() -> None:
    broken = CarOnTheStand(drawn_car(5, engine="corvane-2.1-four", fault="drive_broken"))
    assert not runs(broken.car)
    assert broken.stand_test("capture_running", None) is None
    assert broken.stand_test("capture_cranking", None) is not None


def test_once_more_with_the_leads_on_costs_little() -> None:
    assert recording_minutes("timing", ()) > 3.0


def test_learners_of_mixed_skill_are_no_two_alike() -> None:
    assert len(LEARNERS) == 100
    assert len({(one.follows, one.understands, one.boasts) for one in LEARNERS}) == 100
    assert LEARNERS[-1].understands > LEARNERS[0].understands + 0.4


@pytest.mark.exhaustive
def test_who_follows_the_machine_is_better_than_most_and_guessing_or_opening_every_engine_is_far_behind() -> None:
    """A small part of the table of learners in docs/practice.md."""
    rows = [points_of_everybody(seed, SOME)[0] for seed in SEEDS]
    mean = {name: float(np.mean([row[name] for row in rows])) for name in rows[0]}
    assert sum(mean[MACHINE] > mean[one.name] for one in SOME) >= 0.9 * len(SOME)
    assert mean[MACHINE] > mean[GUESSES] + 40.0
    assert mean[OPENS] < mean[MACHINE] - 40.0
