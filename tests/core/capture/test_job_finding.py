"""What a job's lists say in a few words: the finding that the call rests on, or that captures contradict each other."""

from __future__ import annotations

from datetime import UTC, datetime

from phasko.bench import Shift
from phasko.core.documents import Analysis
from phasko.core.signals.recording import Recording
from tests.builders import FOUR, analysed, bench_recording, pool_engine, probabilities, without

PITCH = 360.0 / 21


def healthy(seed: int = 11, **about: object) -> Recording:
    return named("first", bench_recording(FOUR, seed, **about))


def jumped(seed: int = 12, late_deg: float = PITCH, **about: object) -> Recording:
    return named("second", bench_recording(FOUR, seed, shift=Shift({"B1I": late_deg, "B1E": late_deg}), **about))


def named(name: str, recording: Recording) -> Recording:
    return Recording(
        f"{name}.capture.json",
        recording.description,
        recording.start_s,
        recording.interval_s,
        recording.channels,
    )


def said(analysis: Analysis) -> str:
    assert analysis.finding is not None
    return analysis.finding.short


def test_two_states_say_the_one_farthest_from_its_reference() -> None:
    found = analysed(healthy(temperature="cold"), jumped(temperature="hot"))
    assert said(found) == "17.1° late"
    assert not found.verdict.undecided


def test_a_capture_from_while_the_symptom_was_absent_does_not_replace_one_with_it() -> None:
    found = analysed(jumped(symptom="present"), healthy(symptom="absent"))
    assert said(found).endswith("late")
    assert said(analysed(healthy(symptom="absent"))) == "in time"


def test_without_any_reference_nothing_is_in_time() -> None:
    bare = without(pool_engine(FOUR), index=True, edges=True)
    found = analysed(healthy(), engine=bare)
    assert said(found) == "nothing to compare with"
    assert found.finding is not None
    assert "in time" not in found.finding.text


def test_without_captures_there_is_no_finding() -> None:
    assert analysed().finding is None


def test_captures_of_one_state_that_contradict_each_other_are_never_averaged() -> None:
    found = analysed(healthy(), jumped())
    assert said(found) == "captures differ by 17.1°"
    assert found.finding is not None
    assert "in time at first" in found.finding.text
    assert "late later" in found.finding.text
    assert "first came first, then second" in found.finding.detail
    for capture in found.captures:
        assert "captures_disagree" in {problem.code for problem in capture.problems}


def test_nothing_is_concluded_from_contradictory_captures() -> None:
    """In time twice, and 22 degrees early twice: the mean of 11 degrees early is what neither shows."""
    found = analysed(healthy(), jumped(late_deg=-22.0))
    verdict = found.verdict
    assert verdict.undecided
    assert "apart" in (verdict.undecided_because or "")
    assert verdict.teardown == "confirm_first"
    assert verdict.next_test is not None
    assert not verdict.next_test.cranks
    chances = probabilities(found)
    timing = ("chain_jumped", "cam_slipped", "chain_stretched", "cam_signal_shifted", "crank_signal_shifted")
    assert max(chances[fault] for fault in timing) < 0.2
    assert not any("11" in reason for fault in verdict.faults for reason in (*fault.for_, *fault.against))


def test_which_came_first_is_what_was_noted_before_the_order_of_import() -> None:
    later = healthy(recorded_at=datetime(2026, 11, 20, 10, tzinfo=UTC))
    earlier = jumped(recorded_at=datetime(2026, 11, 20, 9, tzinfo=UTC))
    finding = analysed(later, earlier).finding
    assert finding is not None
    assert "second came first, then first" in finding.detail


def test_the_same_twice_is_no_contradiction() -> None:
    found = analysed(jumped(12), jumped(13))
    assert said(found).endswith("late")
    assert probabilities(found)["chain_jumped"] > 0.5


def test_a_capture_after_the_repair_is_not_joined_with_those_before() -> None:
    found = analysed(jumped(repair="before"), healthy(repair="after"))
    assert said(found) == "in time"
    assert probabilities(found)["none"] > 0.6
    assert not found.verdict.undecided
