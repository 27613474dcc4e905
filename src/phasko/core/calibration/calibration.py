"""Stated chances against what was found: how often calls of each sureness were right, with what few jobs can tell."""

from __future__ import annotations

import math
from collections.abc import Sequence

import scipy
from pydantic import BaseModel, ConfigDict

from phasko.core.calibration.closed_call import ClosedCall
from phasko.core.uncertainty import NORMAL_95

__all__ = ["Bin", "Calibration", "calibration"]

_EDGES = (0.0, 0.5, 0.8, 0.95, 1.0)


class CalibrationPart(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class Bin(CalibrationPart):
    """Calls stated between two chances: how many, how many were right, the mean that was stated, and between which
    shares the truth lies 95 times in 100."""

    from_chance: float
    to_chance: float
    jobs: int
    right: int
    stated: float
    low: float
    high: float


class Calibration(CalibrationPart):
    """Of ``judged`` calls whose cause is known ``right`` were right, where the chances stated let one expect
    ``expected`` within ``expected_u95``. ``score``: the mean quadratic score over all explanations (0 best, 2 worst),
    with its half width. ``needless``, ``missed``: numbers of jobs with a wrong teardown, or a fault waved away."""

    closed: int
    judged: int
    unknown: int
    right: int
    expected: float
    expected_u95: float
    honest: bool | None
    score: float | None
    score_u95: float | None
    bins: list[Bin]
    needless: list[int]
    missed: list[int]
    minutes: float | None
    hours: float | None


def calibration(calls: Sequence[ClosedCall]) -> Calibration:
    """From every closed call.

    The share of a bin has an exact interval (Clopper and Pearson 1934, Biometrika 26, 404). The number right is a sum
    of independent draws with the stated chances: its variance is the sum of p (1 - p). The score is that of Brier 1950
    (Monthly Weather Review 78, 1), over all explanations.
    """
    judged = [one for one in calls if one.right is not None]
    stated = [one.chance for one in judged]
    right = sum(bool(one.right) for one in judged)
    expected = sum(stated)
    half = NORMAL_95 * math.sqrt(sum(p * (1.0 - p) for p in stated))
    scores = [_score(one) for one in calls if one.truth is not None]
    mean = sum(scores) / len(scores) if scores else None
    minutes = [one.minutes for one in calls if one.minutes is not None]
    hours = [one.hours for one in calls if one.hours is not None]
    return Calibration(
        closed=len(calls),
        judged=len(judged),
        unknown=len(calls) - len(judged),
        right=right,
        expected=expected,
        expected_u95=half,
        # The number right is whole: less than half a job cannot tell honest from not.
        honest=abs(right - expected) <= max(half, 0.5) if judged else None,
        score=mean,
        score_u95=_half_width(scores, mean),
        bins=[found for k in range(len(_EDGES) - 1) if (found := _bin(judged, _EDGES[k], _EDGES[k + 1])) is not None],
        needless=[one.job_id for one in calls if one.needless],
        missed=[one.job_id for one in calls if one.missed],
        minutes=sum(minutes) / len(minutes) if minutes else None,
        hours=sum(hours) / len(hours) if hours else None,
    )


def _score(one: ClosedCall) -> float:
    truth = one.truth
    # A cause nobody thought of had the chance 0; leaving it out would reward not having thought of it.
    told = {**dict.fromkeys([truth], 0.0), **one.stated} if truth is not None else one.stated
    return sum((chance - (1.0 if fault == truth else 0.0)) ** 2 for fault, chance in told.items())


def _half_width(scores: Sequence[float], mean: float | None) -> float | None:
    if mean is None or len(scores) < 2:
        return None
    variance = sum((one - mean) ** 2 for one in scores) / (len(scores) - 1)
    return NORMAL_95 * math.sqrt(variance / len(scores))


def _bin(judged: Sequence[ClosedCall], low: float, high: float) -> Bin | None:
    last = high == _EDGES[-1]
    inside = [
        (one.chance, bool(one.right)) for one in judged if low <= one.chance < high or (last and one.chance == high)
    ]
    if not inside:
        return None
    right = sum(was for _, was in inside)
    interval = scipy.stats.binomtest(right, len(inside)).proportion_ci(0.95, method="exact")
    return Bin(
        from_chance=low,
        to_chance=high,
        jobs=len(inside),
        right=right,
        stated=sum(chance for chance, _ in inside) / len(inside),
        low=float(interval.low),
        high=float(interval.high),
    )
