"""The exact interval of a share, and the quadratic score, against printed values."""

from __future__ import annotations

import pytest

from phasko.core.calibration import ClosedCall, calibration


def closed(job: int, chance: float, right: bool) -> ClosedCall:
    return ClosedCall(
        job_id=job,
        stated={"chain_jumped": chance, "none": 1.0 - chance},
        teardown="no",
        undecided=False,
        cause="confirmed" if right else "refuted",
        found=frozenset({"chain_jumped" if right else "none"}),
    )


@pytest.mark.parametrize(
    ("right", "of", "low", "high"),
    [(8, 10, 0.444, 0.975), (10, 10, 0.692, 1.000), (0, 10, 0.000, 0.308), (15, 20, 0.509, 0.913)],
)
def test_clopper_and_pearson(right: int, of: int, low: float, high: float) -> None:
    """95 % limits of a binomial share: Clopper and Pearson 1934, Biometrika 26, 404; three digits as in printed tables,
    from memory."""
    (found,) = calibration([closed(n, 0.9, n < right) for n in range(of)]).bins
    assert (round(found.low, 3), round(found.high, 3)) == (low, high)


def test_brier_1950() -> None:
    """Monthly Weather Review 78, 1: the score is 0 for perfect forecasts and 2 for certain ones that are always wrong
    (page 1, from memory)."""
    assert calibration([closed(n, 1.0, True) for n in range(4)]).score == 0.0
    assert calibration([closed(n, 1.0, False) for n in range(4)]).score == 2.0
