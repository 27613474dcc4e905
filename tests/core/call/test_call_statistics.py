"""A small seeded part of the benchmark: the call over drawn jobs with nuisances wider than it assumes."""

from __future__ import annotations

from collections.abc import Sequence

import pytest

from trials import drawn_jobs
from trials.cache import cached_on_disk
from trials.called_jobs import Called, called_job
from trials.measurements import measure_capture

drawn_job = cached_on_disk(drawn_jobs.drawn_job)

FIRST_SEED = 700_000
JOBS = 20


@pytest.fixture(scope="module")
def rows() -> Sequence[Called]:
    found = []
    for seed in range(FIRST_SEED, FIRST_SEED + JOBS):
        drawn = drawn_job("like the priors", seed)
        captures = [measure_capture(recording, drawn.profile) for recording in drawn.recordings]
        found.append(called_job(drawn, captures, False))
    return found


def test_most_first_explanations_are_acceptable(rows: Sequence[Called]) -> None:
    """Of twenty at 90 in 100, fewer than 14 is a one in four hundred chance (binomial)."""
    assert sum(row.acceptable for row in rows) >= 14


def test_none_is_told_to_open_for_nothing(rows: Sequence[Called]) -> None:
    assert not [row.seed for row in rows if row.wrong_go]


def test_what_is_stated_as_nearly_sure_is_nearly_always_right(rows: Sequence[Called]) -> None:
    sure = [row for row in rows if row.probability > 0.95]
    assert sum(not row.acceptable for row in sure) <= 1


def test_chances_of_every_job_sum_to_one(rows: Sequence[Called]) -> None:
    for row in rows:
        assert sum(row.chances.values()) == pytest.approx(1.0, abs=1e-6)
