"""What is seen, heard and read off gauges, and how much it weighs in the call."""

from __future__ import annotations

import math

import pytest

from phasko.core.call import call
from phasko.core.call.gate import decide_gate
from phasko.core.call.posterior import judge
from phasko.core.documents.analysis import FaultName, Verdict
from phasko.core.errors import DocumentError
from phasko.core.explanations import EXPLANATIONS, FAULTS_IN_TIME, Branch, EngineState, Place
from phasko.core.looks import (
    QUESTIONS,
    Look,
    check_look,
    log_chance_of_looks,
    look_reasons,
    look_results,
    second_kind_log_odds,
    weight_words,
)
from tests.builders import pool_engine, profile

ENGINE = profile()
SIX = pool_engine("brimholt-3.2-six")
NOTHING = Branch(1.0, EngineState(), Place(""))
JUMPED = Branch(1.0, EngineState(valves_deg={"B1I": 34.3, "B1E": 34.3}), Place("Chain"))
LITTLE = Branch(1.0, EngineState(valves_deg={"B1I": 6.0}), Place("Chain"))
BANK = Branch(1.0, EngineState(), Place("Bank 2", 2, (), (2, 4, 6)))
THREE = Branch(1.0, EngineState(), Place("Cylinder 3", None, (), (3,)))


def saw(question: str, answer: str | None = None, **more: object) -> Look:
    return Look.model_validate({"question": question, "answer": answer, **more})


def odds(look: Look, fault: FaultName, branch: Branch) -> float:
    """For a fault against a sound engine."""
    return math.exp(log_chance_of_looks(fault, branch, [look]) - log_chance_of_looks("none", NOTHING, [look]))


def leader(*looks: Look) -> Verdict:
    return call([], ENGINE, looks)


def test_every_answer_has_two_chances_that_leave_room_for_the_others() -> None:
    for question in QUESTIONS:
        assert question.answers or question.unit
        for way in ("chance", "otherwise"):
            for subject in {answer.speaks for answer in question.answers} - {"nothing"}:
                total = sum(getattr(answer, way) for answer in question.answers if answer.speaks == subject)
                assert total <= 1.0 + 1e-9, question.id


def test_questions_have_their_own_ids_and_answers() -> None:
    assert len({q.id for q in QUESTIONS}) == len(QUESTIONS)
    for question in QUESTIONS:
        assert len({a.id for a in question.answers}) == len(question.answers)


def test_push_back_is_strong_and_only_for_valves_far_out() -> None:
    pushes = saw("throttle_hand", "pushes_back")
    assert odds(pushes, "chain_jumped", JUMPED) >= 20.0
    assert odds(pushes, "chain_jumped", LITTLE) == pytest.approx(1.0)
    assert odds(pushes, "weak_cylinder", THREE) == pytest.approx(1.0)
    assert "Points to valves far out of time, 50 to 1" in weight_words(pushes, [pushes])


def test_slack_felt_by_hand_weighs_nothing() -> None:
    felt = saw("slack", "felt")
    for explanation in (*EXPLANATIONS, *FAULTS_IN_TIME):
        for branch in explanation.branches(SIX):
            assert odds(felt, explanation.fault, branch) == pytest.approx(1.0)
    assert "weighs nothing" in weight_words(felt, [felt])


def test_an_even_rhythm_speaks_against_one_weak_cylinder_but_not_against_a_dead_bank() -> None:
    even = saw("rhythm", "even")
    assert odds(even, "weak_cylinder", THREE) < 0.25
    assert odds(even, "weak_cylinder", BANK) == pytest.approx(1.0)
    uneven = saw("rhythm", "uneven")
    assert odds(uneven, "weak_cylinder", THREE) > 10.0


def test_no_spark_may_be_the_control_unit_s_answer() -> None:
    absent = saw("spark", "absent")
    assert odds(absent, "chain_jumped", JUMPED) == pytest.approx(5.0)
    assert odds(absent, "cam_sensor_fault", NOTHING) == pytest.approx(5.0)
    assert odds(absent, "chain_stretched", LITTLE) == pytest.approx(1.0)


def test_a_sensor_replaced_in_vain_is_a_later_suspect_one_fitted_just_before_the_first() -> None:
    assert odds(saw("replaced", "sensor_in_vain"), "cam_sensor_fault", NOTHING) < 0.5
    assert odds(saw("replaced", "sensor_before"), "cam_sensor_fault", NOTHING) > 3.0
    assert odds(saw("replaced", "drive_before"), "cam_slipped", JUMPED) > 3.0


def test_gauges_are_judged_against_the_highest_of_the_engine() -> None:
    readings = [saw("gauge", cylinder=c, value=v) for c, v in ((1, 12.0), (2, 11.5), (3, 7.0))]
    found = look_results(readings)
    assert ["Points to" in one.weight for one in found] == [False, False, True]
    assert found[2].answer == "7 bar"
    assert odds(readings[2], "weak_cylinder", THREE) == pytest.approx(1.0)
    together = log_chance_of_looks("weak_cylinder", THREE, readings) - log_chance_of_looks("none", NOTHING, readings)
    assert math.exp(together) > 10.0
    assert "take the others too" in weight_words(readings[0], readings[:1])


@pytest.mark.parametrize(
    ("look", "says"),
    [
        (saw("nonsense", "yes"), "not among"),
        (saw("oil", "blue"), "no answer"),
        (saw("oil"), "no answer"),
        (saw("gauge", value=9.0), "cylinder"),
        (saw("gauge", cylinder=1), "reading in bar"),
        (saw("gauge", cylinder=9, value=9.0), "no cylinder 9"),
        (saw("leak_down", cylinder=1, value=140.0), "beyond"),
        (saw("valve_moves", "still"), "cylinder"),
    ],
)
def test_what_does_not_fit_is_refused_by_name(look: Look, says: str) -> None:
    with pytest.raises(DocumentError, match=says):
        check_look(look, ENGINE)


def test_what_fits_is_taken() -> None:
    check_look(saw("oil", "low"), ENGINE)
    check_look(saw("leak_down", cylinder=2, value=35.0), ENGINE)
    check_look(saw("valve_moves", "still", cylinder=2), ENGINE)


def test_the_call_moves_with_a_look() -> None:
    assert leader().undecided
    assert leader(saw("leak_down", cylinder=2, value=60.0), saw("rhythm", "uneven")).faults[0].fault == "weak_cylinder"
    still = leader(saw("valve_moves", "still", cylinder=4))
    assert still.faults[0].fault == "valve_train"
    assert still.faults[0].where.cylinders == [4]
    assert leader(saw("exhaust_opened", "better")).faults[0].fault == "exhaust_restricted"
    assert leader(saw("intake_opened", "better")).faults[0].fault == "intake_restricted"


def test_looks_that_find_nothing_do_not_make_a_sound_engine_doubtful() -> None:
    good = leader(saw("oil", "good"), saw("rattle", "none"), saw("throttle_hand", "pulls"), saw("spark", "present"))
    assert good.faults[0].fault == "none"
    assert good.faults[0].probability > 0.5
    assert not any(f.fault in ("weak_cylinder", "valve_train") for f in good.faults)


def test_for_and_against_name_the_look() -> None:
    verdict = leader(saw("rhythm", "uneven"), saw("leak_down", cylinder=3, value=55.0))
    weak = next(f for f in verdict.faults if f.fault == "weak_cylinder")
    assert "Rhythm while cranking: uneven" in weak.for_
    assert any("Leak-down, cylinder 3: 55 %" in line for line in weak.for_)


def test_a_test_that_was_done_is_not_proposed_again() -> None:
    first = leader(saw("rhythm", "uneven"))
    assert first.next_test is not None
    assert first.next_test.test in ("valve_look", "leak_down")
    done = [saw("leak_down", cylinder=1, value=5.0), saw("valve_moves", "moves", cylinder=1)]
    after = leader(saw("rhythm", "uneven"), *done)
    assert after.next_test is None or after.next_test.test not in ("valve_look", "leak_down")


def test_marks_are_a_second_kind_a_hand_on_the_throttle_is_not() -> None:
    first, second = ("chain_jumped", JUMPED), ("crank_signal_shifted", NOTHING)
    marks = second_kind_log_odds(first, second, [saw("marks", "out")])  # type: ignore[arg-type]
    assert math.exp(marks) > 20.0
    assert second_kind_log_odds(first, second, [saw("throttle_hand", "pushes_back")]) == 0.0  # type: ignore[arg-type]
    assert second_kind_log_odds(first, second, [saw("marks", "true")]) < 0.0  # type: ignore[arg-type]


def test_a_dead_cylinder_opens_up_only_with_leak_down_and_another_kind() -> None:
    def gate(*looks: Look) -> str:
        weighed = judge(ENGINE, (), (), looks)
        return decide_gate(ENGINE, weighed, (), None, looks).teardown

    leak, gauges = (
        saw("leak_down", cylinder=3, value=70.0),
        [saw("gauge", cylinder=c, value=3.0 if c == 3 else 12.0) for c in range(1, 5)],
    )
    assert gate(leak, saw("rhythm", "uneven")) == "confirm_first"
    assert gate(*gauges, saw("rhythm", "uneven")) == "confirm_first"
    assert gate(leak, *gauges, saw("rhythm", "uneven")) == "go"
    other = saw("leak_down", cylinder=2, value=70.0)
    assert gate(other, *gauges, saw("rhythm", "uneven")) != "go"


def test_a_reading_says_what_it_points_to_and_what_it_speaks_against() -> None:
    gauges = [saw("gauge", None, cylinder=c, value=v) for c, v in ((1, 11.5), (2, 11.0), (3, 5.5), (4, 11.2))]
    assert weight_words(gauges[2], gauges) == "Points to a leak in cylinder 3, 17 to 1."
    assert weight_words(gauges[0], gauges) == "Speaks against a leak in cylinder 1, 6 to 1."
    leaks = saw("leak_down", None, cylinder=2, value=45.0)
    assert weight_words(leaks, [leaks]) == "Points to a leak in cylinder 2, 22 to 1."
    still = saw("valve_moves", "still", cylinder=3)
    assert weight_words(still, [still]).startswith("Points to a valve fault in cylinder 3, ")


def test_reasons_against_stand_under_against() -> None:
    """A leak in cylinder 3 speaks for its seal, and against everything that does not make it leak."""
    leaks = [saw("leak_down", None, cylinder=3, value=45.0)]
    tight = [saw("leak_down", None, cylinder=3, value=4.0)]
    said = "Leak-down, cylinder 3: 45 % (leaks)"
    assert look_reasons("weak_cylinder", THREE, leaks) == ([said], [])
    for fault, branch in (("none", NOTHING), ("chain_jumped", JUMPED)):
        assert look_reasons(fault, branch, leaks) == ([], [said])  # type: ignore[arg-type]
    assert look_reasons("weak_cylinder", THREE, tight) == ([], ["Leak-down, cylinder 3: 4 % (tight)"])
