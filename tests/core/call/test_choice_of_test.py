"""The next test: what it parts, what it costs, and what may not be proposed."""

from __future__ import annotations

import pytest

from phasko.bench import Shift
from phasko.core import numbers
from phasko.core.call.posterior import Weighed, judge
from phasko.core.call.technician_tests import TESTS
from phasko.core.call.test_choice import expected_bits, next_test
from phasko.core.capture.steps import measure_capture
from phasko.core.evidence import EVIDENCE, Observable
from tests.builders import FOUR, bench_recording, pool_engine

PITCH = 360.0 / 21


def weighed_and_observed(shift: Shift) -> tuple[tuple[Weighed, ...], tuple[Observable, ...]]:
    known = pool_engine(FOUR)
    capture = measure_capture(bench_recording(FOUR, 130, shift), known)
    observed = tuple(o for kind in EVIDENCE for o in kind.observe([capture], known))
    return judge(known, observed), observed


def proposed(shift: Shift, *, may_crank: bool = True) -> str | None:
    found = next_test(pool_engine(FOUR), *weighed_and_observed(shift), may_crank=may_crank)
    return None if found is None else found.test


def test_names_are_told_apart_and_every_test_says_how() -> None:
    assert len({test.test for test in TESTS}) == len(TESTS)
    for test in TESTS:
        assert test.how.endswith(".")
        assert test.minutes > 0
        assert test.title[0].isupper()


def test_nothing_is_asked_of_a_healthy_engine() -> None:
    assert proposed(Shift()) is None


def test_nothing_is_asked_without_a_measurement() -> None:
    assert next_test(pool_engine(FOUR), judge(pool_engine(FOUR), ()), (), may_crank=True) is None


def test_a_jump_is_looked_at() -> None:
    assert proposed(Shift({"B1I": PITCH, "B1E": PITCH})) == "marks"


def test_an_early_phased_cam_is_swept() -> None:
    assert proposed(Shift({"B1I": -21.0})) == "phaser_sweep"


@pytest.mark.parametrize("offset", [PITCH, 2 * PITCH, -PITCH, 12.0, -21.0])
def test_where_cranking_is_advised_against_no_test_cranks(offset: float) -> None:
    found = next_test(pool_engine(FOUR), *weighed_and_observed(Shift({"B1I": offset, "B1E": offset})), may_crank=False)
    assert found is not None
    assert not found.cranks


@pytest.mark.parametrize("test", TESTS, ids=lambda t: t.test)
def test_information_is_never_negative_nor_more_than_there_is(test: object) -> None:
    import math

    weighed, _ = weighed_and_observed(Shift({"B1E": 12.0}))
    there_is = -sum(w.probability * math.log2(w.probability) for w in weighed if w.probability > 0)
    bits = expected_bits(test, weighed)  # type: ignore[arg-type]
    assert -1e-12 <= bits <= there_is + 1e-9


def test_a_look_is_thought_to_fail_now_and_then() -> None:
    assert 0.8 < numbers.LOOK_RELIABILITY.value < 1.0


def test_the_reason_names_both_sides() -> None:
    found = next_test(pool_engine(FOUR), *weighed_and_observed(Shift({"B1I": PITCH, "B1E": PITCH})), may_crank=True)
    assert found is not None
    assert found.why == "Parts “chain jumped one pitch late” from “crank wheel 17° early”."
