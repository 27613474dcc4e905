"""Stated chances against what was found: a small workshop counted by hand, and bad luck told from bad chances."""

from __future__ import annotations

import math

import pytest

from phasko.core.calibration import ClosedCall, calibration, closed_call, own_priors
from phasko.core.documents.repair import Closing, Repair

JUMPED, WHEEL, SENSOR = "chain_jumped", "crank_signal_shifted", "cam_sensor_fault"


def call(job: int, chance: float, found: str | None, teardown: str = "go", cause: str = "confirmed") -> ClosedCall:
    """A call of a jump, the rest of its chance on the wheel."""
    return ClosedCall(
        job_id=job,
        stated={JUMPED: chance, WHEEL: 1.0 - chance},
        teardown=teardown,  # type: ignore[arg-type]
        undecided=False,
        cause=cause,  # type: ignore[arg-type]
        found=frozenset({found} if found else ()),  # type: ignore[arg-type]
        minutes=20.0 + job,
        hours=6.0,
    )


BOOK = (
    call(1, 0.96, JUMPED),
    call(2, 0.98, JUMPED),
    call(3, 0.96, WHEEL, cause="refuted"),
    call(4, 0.90, JUMPED, "confirm_first"),
    call(5, 0.70, WHEEL, "no", "refuted"),
    call(6, 0.60, JUMPED, "no"),
    call(7, 0.97, None, cause="unknown"),
)


def test_counted_by_hand() -> None:
    """Seven closed, one unknown; right: 1, 2, 4, 6. Expected: 0.96 + 0.98 + 0.96 + 0.90 + 0.70 + 0.60 = 5.10, with
    variance 0.0384 + 0.0196 + 0.0384 + 0.09 + 0.21 + 0.24 = 0.6364."""
    found = calibration(BOOK)
    assert (found.closed, found.judged, found.unknown, found.right) == (7, 6, 1, 4)
    assert found.expected == pytest.approx(5.10)
    assert found.expected_u95 == pytest.approx(1.959964 * math.sqrt(0.6364), rel=1e-6)
    assert found.honest is True
    # Job 3: opened, and the wheel had moved. Job 6: left closed, and the chain had jumped.
    assert (found.needless, found.missed) == ([3], [6])
    assert found.minutes == pytest.approx(20.0 + (1 + 2 + 3 + 4 + 5 + 6 + 7) / 7)
    assert [(one.from_chance, one.jobs, one.right) for one in found.bins] == [(0.5, 2, 1), (0.8, 1, 1), (0.95, 3, 2)]
    # Each score is 2 (1 - p)^2 where it was right, 2 p^2 where it was wrong; the unknown one has none.
    scores = [2 * 0.04**2, 2 * 0.02**2, 2 * 0.96**2, 2 * 0.1**2, 2 * 0.7**2, 2 * 0.4**2]
    assert found.score == pytest.approx(sum(scores) / 6)


def test_chances_that_are_too_bold_are_told() -> None:
    bold = [call(n, 0.97, JUMPED if n % 2 else WHEEL, cause="confirmed" if n % 2 else "refuted") for n in range(30)]
    found = calibration(bold)
    assert found.honest is False and found.right < found.expected


def test_one_job_says_next_to_nothing() -> None:
    (only,) = calibration([call(1, 0.96, JUMPED)]).bins
    assert only.low < 0.05 and only.high == 1.0


def test_nothing_closed_is_nothing_learnt() -> None:
    found = calibration([])
    assert (found.closed, found.honest, found.score, found.bins) == (0, None, None, [])


def closing(**changes: object) -> Closing:
    called = {
        "faults": [
            {"fault": JUMPED, "probability": 0.5, "title": "one pitch"},
            {"fault": JUMPED, "probability": 0.3, "title": "two pitches"},
            {"fault": WHEEL, "probability": 0.2},
            {"fault": SENSOR, "probability": 0.9, "besides": True},
        ],
        "teardown": "confirm_first",
        "undecided": False,
        "software": "s",
        "numbers": "n",
    }
    return Closing.model_validate(
        {"cause": "confirmed", "at": "2026-11-20T12:00:00+00:00", "called": called, **changes}
    )


def test_one_fault_at_several_places_is_one_and_what_holds_besides_excludes_nothing() -> None:
    found = closed_call(1, None, closing())
    assert found is not None
    assert found.stated == pytest.approx({JUMPED: 0.8, WHEEL: 0.2})
    assert (found.leader, found.right, found.truth) == (JUMPED, True, JUMPED)
    assert closed_call(1, None, closing(called=None)) is None


def test_what_was_found_comes_before_the_word_confirmed() -> None:
    repair = Repair.model_validate({"found": [{"fault": WHEEL}]})
    found = closed_call(1, repair, closing())
    assert found is not None and found.right is False


def jobs(found: str, count: int, first: int = 0) -> list[ClosedCall]:
    return [call(first + n, 0.9, found) for n in range(count)]


BEFORE = {n: {JUMPED: 0.1, WHEEL: 0.1, SENSOR: 0.8} for n in range(200)}


def test_too_few_jobs_move_nothing() -> None:
    assert own_priors(jobs(JUMPED, 9), BEFORE) == []


def test_own_odds_by_hand() -> None:
    """Ten jobs, all jumps, each expected one in ten: k = 0.1 x 40 = 4 expected in forty jobs, so the factor is
    (4 + 10) / (4 + 1) = 2.8."""
    rows = {one.fault: one for one in own_priors(jobs(JUMPED, 10), BEFORE)}
    assert (rows[JUMPED].found, rows[JUMPED].expected) == (10, pytest.approx(1.0))
    assert rows[JUMPED].factor == pytest.approx(2.8)
    assert rows[SENSOR].factor == pytest.approx(32.0 / 40.0)
    assert rows[JUMPED].low < 2.8 < rows[JUMPED].high


def test_what_is_found_as_often_as_expected_moves_nothing() -> None:
    calls = jobs(JUMPED, 10) + jobs(WHEEL, 10, 10) + jobs(SENSOR, 80, 20)
    assert all(one.factor == pytest.approx(1.0) for one in own_priors(calls, BEFORE))
