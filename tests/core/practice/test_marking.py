"""Marking what was read by hand."""

import pytest

from phasko.core.practice import TOPICS, Asked, curve_of, marked, topic_of
from phasko.core.practice.curve import Done

TEETH = Asked("teeth", "Teeth from the gap to the edge", "teeth", 0.3, places=1)
PLACE = Asked("place", "Where is the edge in the cycle?", "°", 2.0, modulo=720.0)


@pytest.mark.parametrize(("answer", "right"), [(23.3, True), (23.8, True), (23.0, False), (24.5, False)])
def test_right_within_the_tolerance_of_a_good_hand(answer: float, right: bool) -> None:
    found = marked(TEETH, answer, 23.55)
    assert found.right is right
    assert found.off_by == pytest.approx(answer - 23.55)


def test_a_wrong_answer_is_told_the_truth_and_which_way_it_is_off() -> None:
    assert marked(TEETH, 25.0, 23.55).words == "It is 23.6 teeth; yours is 1.4 teeth more."


def test_degrees_stand_close_to_their_number() -> None:
    assert marked(PLACE, 10.0, 9.0).words == "Right: 9°, within 2° of it."


def test_a_place_in_the_cycle_comes_round_again() -> None:
    assert marked(PLACE, 719.0, 0.5).right
    assert marked(PLACE, 360.0, 0.0).off_by == pytest.approx(-360.0)


def test_the_curve_is_the_mean_of_the_last_ten_and_topics_have_half_widths() -> None:
    done = [Done(float(10 * i), "teeth" if i % 2 else "sensor") for i in range(1, 13)]
    curve = curve_of(done)
    assert curve.points[0].mean == 10.0
    assert curve.points[-1].mean == pytest.approx(sum(10 * i for i in range(3, 13)) / 10)
    own = {one.topic: one for one in curve.topics}
    assert [one.topic for one in curve.topics] == [one.id for one in TOPICS]
    assert own["teeth"].mean == pytest.approx(60.0)
    # Student's t for five degrees of freedom, JCGM 100:2008, table G.2: 2.57; the deviation of 10, 30 ... 110 is 37.4.
    assert own["teeth"].u95 == pytest.approx(2.571 * 37.417 / 6**0.5, rel=1e-3)
    assert own["humps"].mean is None


def test_one_attempt_tells_nothing_of_its_scatter() -> None:
    own = {one.topic: one for one in curve_of([Done(40.0, "sensor")]).topics}
    assert (own["sensor"].mean, own["sensor"].u95) == (40.0, None)


def test_a_fault_teaches_its_topic() -> None:
    assert topic_of("crank_signal_shifted").id == "wheel_or_chain"
    assert topic_of("phaser_off_park").id == "phasers"
