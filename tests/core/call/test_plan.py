"""The plan: which test first, before anything is measured and after an answer."""

from __future__ import annotations

from phasko.core.call.first_capture import first_capture_outcomes
from phasko.core.call.plan import PlannedTest, plan_tests
from phasko.core.call.verdict import with_told
from phasko.core.documents.job import JobDocument
from phasko.core.engine.state import EngineState
from phasko.core.evidence import JobEvidence
from phasko.core.explanations import EXPLANATIONS
from tests.builders import pool_engine

FOUR = pool_engine("corvane-2.1-four")
CLOCKED = pool_engine("ostrin-1.6-distributor")


def told(**parts: object) -> JobDocument:
    return JobDocument.model_validate({"schema": "phasko.job/1", **parts})


def planned(engine: object = FOUR, **parts: object) -> tuple[PlannedTest, ...]:
    document = told(**parts)
    return plan_tests(JobEvidence(engine, (), tuple(document.looks), (), document))  # type: ignore[arg-type]


def test_there_is_a_plan_before_anything_is_told() -> None:
    tests = planned()
    assert tests[0].gain_bits > 0.1
    assert [one.worth for one in tests] == sorted((one.worth for one in tests), reverse=True)
    assert "capture_cranking" in {one.test for one in tests[:4]}
    assert any(one.parts >= 3 and "parts" in one.why for one in tests)


def test_no_test_that_cranks_is_planned_once_cranking_is_to_stop() -> None:
    told_only = {"codes": [{"code": "P0016"}, {"code": "P0017"}], "complaint": {"symptoms": ["no_start"]}}
    pushed = planned(**told_only, looks=[{"question": "throttle_hand", "answer": "pushes_back"}])
    assert pushed and not any(one.cranks for one in pushed)
    # What was only told forbids nothing; its risk counts.
    risky = next(one for one in planned(**told_only) if one.test == "capture_cranking")
    assert risky.risk_minutes > 3.0 and "turns the engine" in risky.why


def test_an_answer_makes_its_test_leave_the_plan() -> None:
    assert "wiring" in {one.test for one in planned(CLOCKED)}
    after = planned(CLOCKED, looks=[{"question": "wiring", "answer": "good"}])
    assert "wiring" not in {one.test for one in after}


def test_minutes_of_the_job_count() -> None:
    first = next(one for one in planned(CLOCKED) if one.test == "marks")
    dear = next(one for one in planned(CLOCKED, minutes={"marks": 90.0}) if one.test == "marks")
    assert dear.minutes == 90.0 and dear.worth < first.worth / 5


def test_the_risk_of_cranking_is_counted_on_an_engine_whose_valves_can_meet() -> None:
    free = FOUR.model_copy(update={"interference": False})
    risk = {one.test: one.risk_minutes for one in planned()}
    assert risk["capture_cranking"] > 0.0 and risk["marks"] == 0.0
    assert {one.risk_minutes for one in planned(free)} == {0.0}


def test_a_notice_moves_the_odds_once_and_the_gate_not_at_all() -> None:
    document = told(background=[{"what": "bulletin", "fault": "chain_stretched"}] * 3)
    profile = with_told(JobEvidence(FOUR, (), (), (), document)).profile
    assert [(one.fault, one.factor) for one in profile.typical_failures] == [("chain_stretched", 2.0)]
    assert with_told(JobEvidence(FOUR, (), (), (), told())).profile is FOUR


def test_the_first_capture_shows_every_state_with_chances_that_sum_to_one() -> None:
    for explanation in EXPLANATIONS:
        for branch in explanation.branches(FOUR):
            shown = first_capture_outcomes(branch.state, FOUR)
            assert abs(sum(shown.values()) - 1.0) < 1e-9


def test_the_first_capture_parts_one_cam_from_all() -> None:
    one = first_capture_outcomes(EngineState(valves_deg={"B1I": 17.0}), FOUR)
    every = first_capture_outcomes(EngineState(valves_deg={"B1I": 17.0, "B1E": 17.0}), FOUR)
    assert max(one, key=lambda name: one[name]).startswith("one cam off")
    assert max(every, key=lambda name: every[name]).startswith("all off")
