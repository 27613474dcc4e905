"""The next test: what it parts, what it costs, and what may not be proposed."""

from __future__ import annotations

import math
from functools import cache

import numpy as np
import pytest

from phasko.bench import Shift
from phasko.core import numbers
from phasko.core.call.posterior import Judgement, judge
from phasko.core.call.technician_tests import TESTS, Target
from phasko.core.call.test_choice import expected_information
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.engine.state import EngineState
from phasko.core.evidence import JobEvidence, observe_all
from tests.builders import FOUR, bench_recording, called, pool_engine, saw
from trials.measurements import measure_capture

PITCH = 360.0 / 21
CRANKING_LOOKS = {
    "gauge",
    "manifold",
    "throttle_hand",
    "rhythm",
    "rattle",
    "spark",
    "injector",
    "fuel_by_hand",
    "exhaust_opened",
    "intake_opened",
    "solenoid_swapped",
    "coil_swapped",
    "capture_cranking",
    "capture_running",
    "cylinder_pressure",
    "second_cylinder_pressure",
    "phaser_sweep",
    "sync_adjust",
    "road_test",
    "relative_compression",
    "spark_turned",
}
"""What turns the engine by its starter or lets it run, as the result document has it."""


@cache
def captured(intake: float, exhaust: float, phasers: str = "unplugged") -> CaptureMeasurement:
    shift = Shift({"B1I": intake, "B1E": exhaust})
    return measure_capture(bench_recording(FOUR, 130, shift, phasers=phasers), pool_engine(FOUR))


@cache
def judged(intake: float, exhaust: float) -> Judgement:
    known = pool_engine(FOUR)
    return judge(known, observe_all(JobEvidence(known, [captured(intake, exhaust)])))


def test_names_are_told_apart_and_every_test_says_how() -> None:
    assert len({test.test for test in TESTS}) == len(TESTS)
    for test in TESTS:
        assert test.how.endswith(".")
        assert test.minutes.value > 0
        assert test.title[0].isupper()


@pytest.mark.parametrize("test", TESTS, ids=lambda t: t.test)
def test_what_cranks_says_so(test: object) -> None:
    assert test.cranks == (test.test in CRANKING_LOOKS)  # type: ignore[attr-defined]


def test_nothing_is_asked_of_a_healthy_engine() -> None:
    assert called(captured(0.0, 0.0)).next_test is None


def test_somebody_who_complains_is_asked_for_the_next_thing() -> None:
    found = called(captured(0.0, 0.0), complaint={"symptoms": ["misfire"]}).next_test
    assert found is not None


def test_nothing_is_asked_without_a_measurement() -> None:
    assert called().next_test is None


def test_a_jump_is_looked_at_without_cranking() -> None:
    found = called(captured(PITCH, PITCH)).next_test
    assert found is not None
    assert (found.test, found.cranks) == ("marks", False)
    assert found.why == "Parts “chain jumped one pitch late” from “crank wheel 17° early”."
    assert found.parts == ["chain_jumped", "crank_signal_shifted"]


def test_an_early_phased_cam_is_swept_or_its_control_looked_at() -> None:
    found = called(captured(-21.0, 0.0, "active")).next_test
    assert found is not None
    assert found.test in ("phaser_sweep", "solenoid_swapped", "marks", "cam_target")


def test_a_sweep_is_oil_fed_and_needs_a_running_engine() -> None:
    sweep = next(test for test in TESTS if test.test == "phaser_sweep")
    known = pool_engine(FOUR)
    from phasko.core.documents.job import JobDocument

    dead = JobDocument.model_validate({"schema": "phasko.job/1", "complaint": {"symptoms": ["no_start"]}})
    assert sweep.possible(JobEvidence(known))
    assert not sweep.possible(JobEvidence(known, told=dead))
    assert "idling" in sweep.how


@pytest.mark.parametrize(("intake", "exhaust"), [(PITCH, PITCH), (2 * PITCH, 2 * PITCH), (-PITCH, 0.0), (0.0, 12.0)])
def test_where_cranking_is_advised_against_no_test_cranks(intake: float, exhaust: float) -> None:
    verdict = called(captured(intake, exhaust))
    if "stop_cranking" in verdict.cautions:
        assert verdict.next_test is not None
        assert not verdict.next_test.cranks


@pytest.mark.parametrize("test", TESTS, ids=lambda t: t.test)
def test_information_is_never_negative_nor_more_than_there_is(test: object) -> None:
    judgement = judged(0.0, 12.0)
    rows = [i for i, chance in enumerate(judgement.chances) if chance > 1e-4]
    there_is = -sum(w.probability * math.log2(w.probability) for w in judgement.weighed if w.probability > 1e-12)
    bits = expected_information(test, judgement, rows, Target(pool_engine(FOUR), 3))  # type: ignore[arg-type]
    assert -1e-9 <= bits <= there_is + 1e-6


@pytest.mark.parametrize("test", TESTS, ids=lambda t: t.test)
def test_outcomes_of_a_state_are_chances_that_sum_to_one(test: object) -> None:
    target = Target(pool_engine(FOUR), 3)
    for state in (
        EngineState(),
        EngineState(valves_deg={"B1I": 17.0}),
        EngineState(outside=True),
        EngineState(cams_turn=False),
    ):
        made = test.outcomes(state, target)  # type: ignore[attr-defined]
        assert sum(made.values()) == pytest.approx(1.0)
        assert all(0.0 <= chance <= 1.0 for chance in made.values())


def test_what_was_looked_at_is_done() -> None:
    first = called(captured(PITCH, PITCH), looks=[saw("marks", "true")]).next_test
    assert first is None or first.test != "marks"


def test_minutes_of_this_engine_weigh_and_are_shown() -> None:
    dear = called(captured(PITCH, PITCH), minutes={"marks": 400.0}).next_test
    assert dear is not None
    assert dear.test != "marks"
    cheap = called(captured(PITCH, PITCH), minutes={"marks": 3.0}).next_test
    assert cheap is not None
    assert (cheap.test, cheap.minutes) == ("marks", 3.0)


def test_costs_both_ways_are_shown() -> None:
    verdict = called(captured(PITCH, PITCH), costs={"labour_per_hour": 80.0, "currency": "EUR", "opening_hours": 5.0})
    assert verdict.costs is not None
    assert verdict.costs.opening_hours == 5.0
    assert "EUR" in verdict.costs.text
    assert verdict.costs.driving_on_hours > verdict.costs.in_vain_hours


def test_a_diesel_is_not_asked_for_spark_or_fuel_by_hand() -> None:
    diesel = pool_engine("corvane-2.2-diesel")
    capture = measure_capture(bench_recording(diesel, 131, Shift({"B1E": 9.0})), diesel)
    for looks in ((), (saw("marks", "true"),), (saw("marks", "true"), saw("cam_target", "sits_right"))):
        found = called(capture, engine=diesel, looks=looks).next_test
        assert found is None or found.test not in ("spark", "fuel_by_hand", "coil_swapped", "spark_turned")


def test_a_look_is_thought_to_fail_now_and_then() -> None:
    assert 0.8 < numbers.LOOK_RELIABILITY.value < 1.0
    assert np.isfinite(numbers.LOOK_RELIABILITY.value)
