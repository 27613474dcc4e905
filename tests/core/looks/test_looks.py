"""What is seen, heard and read off gauges, and how much it weighs in the call."""

from __future__ import annotations

import math

import pytest

from phasko.core.documents.analysis import Verdict
from phasko.core.engine.state import EngineState
from phasko.core.errors import DocumentError
from phasko.core.evidence import WORD_KINDS, JobEvidence, Word
from phasko.core.looks import QUESTIONS, Look, asked_of, check_look, look_results, told_answer, weight_words
from tests.builders import called, chances, pool_engine, profile, saw

ENGINE = profile()
SIX = pool_engine("brimholt-3.2-six")
KINDS = {kind.name: kind for kind in WORD_KINDS}
NOTHING = EngineState()
JUMPED = EngineState(valves_deg={"B1I": 34.3, "B1E": 34.3}, worn=True)
LITTLE = EngineState(valves_deg={"B1I": 6.0}, elongation_percent=0.8)
BANK = EngineState(seal=dict.fromkeys((2, 4, 6), 0.1))
THREE = EngineState(seal={3: 0.1})


def odds(look: Look, state: EngineState) -> float:
    """For a state against a sound engine."""
    (word,) = [w for kind in ("looks", "marks") for w in KINDS[kind].observe(JobEvidence(SIX, looks=[look])).words]
    kind = KINDS[word.kind]
    return kind.chance(word, state, SIX) / kind.chance(word, NOTHING, SIX)


def leader(*looks: Look) -> Verdict:
    return called(engine=ENGINE, looks=looks)


def test_every_answer_has_two_chances_that_leave_room_for_the_others() -> None:
    for question in QUESTIONS:
        by_thing: dict[str, tuple[float, float]] = {}
        for answer in question.answers:
            shown, otherwise = by_thing.get(answer.speaks, (0.0, 0.0))
            by_thing[answer.speaks] = (shown + answer.chance, otherwise + answer.otherwise)
        for shown, otherwise in by_thing.values():
            assert 0.0 < shown <= 1.0 + 1e-9
            assert 0.0 < otherwise <= 1.0 + 1e-9


def test_questions_have_their_own_ids_and_answers() -> None:
    assert len({q.id for q in QUESTIONS}) == len(QUESTIONS)
    for question in QUESTIONS:
        assert len({a.id for a in question.answers}) == len(question.answers)


def test_push_back_is_strong_and_not_for_valves_a_little_out() -> None:
    pushes = saw("throttle_hand", "pushes_back")
    assert odds(pushes, JUMPED) >= 20.0
    assert odds(pushes, LITTLE) == pytest.approx(1.0)
    assert "Points to valves far out of time, 60 to 1" in weight_words(pushes, [pushes])


def test_slack_felt_by_hand_weighs_nothing_and_is_said_not_to_count() -> None:
    felt = saw("slack", "felt")
    assert "weighs nothing" in weight_words(felt, [felt])
    verdict = leader(felt, saw("oil", "good"))
    assert [n.text for n in verdict.not_counted] == ["Slack felt by hand: felt"]
    assert chances(verdict) == chances(leader(saw("oil", "good")))


def test_an_even_rhythm_weighs_little_against_one_weak_cylinder_and_nothing_against_a_dead_bank() -> None:
    even, uneven = saw("rhythm", "even"), saw("rhythm", "uneven")
    assert 1 / 3 < odds(even, THREE) < 1.0
    assert odds(even, BANK) == pytest.approx(1.0), "every second cylinder in firing order sounds even"
    assert odds(uneven, THREE) > 5.0


def test_an_uneven_rhythm_says_nothing_of_an_odd_firing_engine() -> None:
    odd = pool_engine("brimholt-3.8-odd-six")
    (word,) = KINDS["looks"].observe(JobEvidence(odd, looks=[saw("rhythm", "uneven")])).words
    kind = KINDS["looks"]
    assert kind.chance(word, THREE, odd) == kind.chance(word, NOTHING, odd)


def test_no_spark_may_be_the_control_unit_s_answer() -> None:
    absent = saw("spark", "absent")
    assert odds(absent, JUMPED) > 4.0
    assert odds(absent, EngineState(signals={"B1I": "lost"})) > 4.0
    assert odds(absent, LITTLE) == pytest.approx(1.0)


def test_no_reaction_to_fuel_speaks_clearly_against_a_fuel_fault() -> None:
    nothing = saw("fuel_by_hand", "nothing")
    assert odds(nothing, EngineState(outside=True)) < 0.4


def test_a_part_fitted_just_before_is_the_first_suspect_one_in_vain_a_later_one() -> None:
    lost = EngineState(signals={"crank": "lost"})
    assert odds(saw("replaced", "sensor_in_vain"), lost) < 0.5
    assert odds(saw("replaced", "sensor_before"), lost) > 3.0
    assert odds(saw("replaced", "drive_before"), JUMPED) > 3.0


def test_swaps_plugs_and_meters_speak() -> None:
    assert odds(saw("solenoid_swapped", "moved"), EngineState(phaser_deg={"B1I": -9.0}, phaser_when="connected")) > 10
    assert odds(saw("coil_swapped", "moved"), EngineState(outside=True)) > 10
    assert odds(saw("plug", "crushed", cylinder=2), JUMPED) > 20
    assert odds(saw("borescope", "bent_valve", cylinder=2), JUMPED) > 10
    assert odds(saw("sensor_wires", "ground_missing"), EngineState(signals={"B1I": "lost"})) > 5
    assert odds(saw("spark", "weak"), EngineState(outside=True)) > 1


def marks(look: Look, state: EngineState) -> float:
    (word,) = KINDS["marks"].observe(JobEvidence(SIX, looks=[look])).words
    return KINDS["marks"].chance(word, state, SIX)


def test_marks_see_valves_not_signal_wheels() -> None:
    out = saw("marks", "out")
    assert marks(out, JUMPED) > 20 * marks(out, EngineState(crank_wheel_deg=34.0))
    assert marks(out, JUMPED) > 20 * marks(out, EngineState(cam_signals_deg={"B1I": 34.0}))


def test_a_look_through_a_filler_tells_eight_crank_degrees_not_three() -> None:
    out = saw("marks", "out")
    assert marks(out, EngineState(valves_deg={"B1I": 3.0})) < 0.1
    assert marks(out, EngineState(valves_deg={"B1I": 12.0})) > 0.9


def test_marks_with_the_crank_on_its_own_mark_prove_nothing_of_a_hub() -> None:
    hub = EngineState(hub_deg=20.0)
    assert marks(saw("marks", "true"), hub) == pytest.approx(marks(saw("marks", "true"), NOTHING))
    assert marks(saw("marks", "out", crank_at="tdc"), hub) > 20 * marks(saw("marks", "out", crank_at="tdc"), NOTHING)


def test_how_far_a_mark_is_out_is_compared() -> None:
    read = saw("marks", "out", cam="B1I", amount_deg=16.0)
    one = EngineState(valves_deg={"B1I": 15.7})
    two = EngineState(valves_deg={"B1I": 31.3})
    assert marks(read, one) > 20 * marks(read, two)


def test_gauges_are_held_against_their_own_highest_and_the_profile_s_range() -> None:
    readings = [saw("gauge", cylinder=c, value=v) for c, v in ((1, 12.0), (2, 11.5), (3, 7.0))]
    found = look_results(readings)
    assert ["Points to" in one.weight for one in found] == [False, False, True]
    assert found[2].answer == "7 bar"
    assert "take the others too" in weight_words(readings[0], readings[:1])
    ranged = profile(cranking_pressure_bar=[9.0, 13.0])
    low = [saw("gauge", cylinder=c, value=6.0) for c in (1, 2, 3, 4)]
    answer = told_answer(low[0], low, ranged)
    assert answer is not None
    assert answer.id == "low"


def test_four_times_six_bar_is_not_fine() -> None:
    ranged = profile(cranking_pressure_bar=[9.0, 13.0])
    low = [saw("gauge", cylinder=c, value=6.0) for c in (1, 2, 3, 4)]
    fine = [saw("gauge", cylinder=c, value=11.0) for c in (1, 2, 3, 4)]
    assert chances(called(engine=ranged, looks=fine))["none"] > 3 * chances(called(engine=ranged, looks=low))["none"]


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
        (saw("marks", "out", cam="B7X"), "no cam B7X"),
    ],
)
def test_what_does_not_fit_is_refused_by_name(look: Look, says: str) -> None:
    with pytest.raises(DocumentError, match=says):
        check_look(look, ENGINE)


def test_what_fits_is_taken() -> None:
    check_look(saw("oil", "low"), ENGINE)
    check_look(saw("leak_down", cylinder=2, value=35.0), ENGINE)
    check_look(saw("valve_moves", "still", cylinder=2), ENGINE)
    check_look(saw("manifold", value=0.9), ENGINE)
    check_look(saw("marks", "out", cam="B1I", amount_deg=16.0, crank_at="tdc"), ENGINE)


def test_a_diesel_is_not_asked_for_spark_nor_for_fuel_by_hand() -> None:
    diesel = pool_engine("corvane-2.2-diesel")
    left_out = {q.id for q in QUESTIONS if not asked_of(q, diesel)}
    assert {"spark", "fuel_by_hand", "coil_swapped"} <= left_out
    assert "gauge" not in left_out


def test_cautions_stand_where_hands_are_at_risk() -> None:
    by_id = {q.id: q for q in QUESTIONS}
    assert "by hand" in by_id["valve_moves"].how
    assert "hands clear" in by_id["valve_moves"].how
    assert "chain jump" in by_id["tensioner"].how
    assert "glow plugs" in by_id["fuel_by_hand"].caution


def test_the_call_moves_with_a_look() -> None:
    assert not leader().measured
    assert leader(saw("leak_down", cylinder=2, value=60.0), saw("rhythm", "uneven")).faults[0].fault == "weak_cylinder"
    seen = (saw("valve_moves", "still", cylinder=4), saw("valve_moves", "moves", cylinder=1))
    still = leader(*seen, saw("rhythm", "uneven"))
    assert still.faults[0].fault == "valve_train"
    assert still.faults[0].where.cylinders == [4]
    better = chances(leader(saw("exhaust_opened", "better")))
    assert better["exhaust_restricted"] > 10 * chances(leader(saw("exhaust_opened", "same")))["exhaust_restricted"]


def test_looks_that_find_nothing_do_not_make_a_sound_engine_doubtful() -> None:
    good = leader(saw("oil", "good"), saw("rattle", "none"), saw("throttle_hand", "pulls"), saw("spark", "present"))
    assert good.faults[0].fault == "none"
    assert good.teardown == "no"


def test_for_and_against_name_the_look() -> None:
    verdict = leader(saw("rhythm", "uneven"), saw("leak_down", cylinder=3, value=55.0))
    weak = next(f for f in verdict.faults if f.fault == "weak_cylinder")
    assert any("Rhythm while cranking: uneven" in line for line in weak.for_)
    assert any("Leak-down, cylinder 3: 55 %" in line for line in weak.for_)
    sound = next(f for f in verdict.faults if f.fault == "none")
    assert any("Leak-down, cylinder 3" in line for line in sound.against)


def test_a_test_that_was_done_is_not_proposed_again() -> None:
    first = leader(saw("marks", "true"), saw("rhythm", "uneven"))
    assert first.next_test is not None
    done = [
        saw(first.next_test.test, a.answers[0].id, cylinder=1 if a.per_cylinder else None)
        for a in QUESTIONS
        if a.id == first.next_test.test and a.answers
    ]
    after = leader(saw("marks", "true"), saw("rhythm", "uneven"), *done)
    assert not done or after.next_test is None or after.next_test.test != first.next_test.test


def test_a_reading_says_what_it_points_to_and_what_it_speaks_against() -> None:
    gauges = [saw("gauge", None, cylinder=c, value=v) for c, v in ((1, 11.5), (2, 11.0), (3, 5.5), (4, 11.2))]
    assert weight_words(gauges[2], gauges) == "Points to a leak in cylinder 3, 17 to 1."
    assert weight_words(gauges[0], gauges) == "Speaks against a leak in cylinder 1, 6 to 1."
    leaks = saw("leak_down", None, cylinder=2, value=45.0)
    assert weight_words(leaks, [leaks]) == "Points to a leak in cylinder 2, 22 to 1."
    still = saw("valve_moves", "still", cylinder=3)
    assert weight_words(still, [still]).startswith("Points to a valve fault in cylinder 3, ")


def test_the_leak_rises_with_what_the_gauge_reads() -> None:
    kind = KINDS["leak_down"]
    read = [Word("leak_down", "3", "leak_down", "leaks", "", cylinder=3, value=v) for v in (6.0, 45.0)]
    sound, leaking = (
        [math.log(kind.chance(w, state, ENGINE)) for w in read] for state in (NOTHING, EngineState(seal={3: 0.4}))
    )
    assert sound[0] > leaking[0]
    assert leaking[1] > sound[1]
