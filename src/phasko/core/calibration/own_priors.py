"""What a workshop's own findings say about the chances before measuring: how many of each fault it found, against how
many the table let it expect. Only when somebody asks is anything moved by it, and never the gate."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import scipy
from pydantic import BaseModel, ConfigDict

from phasko.core import numbers
from phasko.core.calibration.closed_call import ClosedCall
from phasko.core.documents.fault_name import FaultName

__all__ = ["OwnPrior", "own_priors"]


class OwnPrior(BaseModel):
    """One fault: found so often, expected so often by the table, and the ``factor`` by which its chance before
    measuring would move; it lies between ``low`` and ``high`` 95 times in 100."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    fault: FaultName
    found: int
    expected: float
    factor: float
    low: float
    high: float


def own_priors(calls: Sequence[ClosedCall], before: Mapping[int, Mapping[FaultName, float]]) -> list[OwnPrior]:
    """``before``: by job number, the chances before measuring of its engine. Empty while fewer jobs than the table asks
    for have a known cause.

    The number found is a Poisson count about its expectation times the factor; the factor has a gamma prior of mean 1
    that weighs as much as the table's number of jobs. Its mean after n jobs is (k + found) / (k + expected), with k the
    number expected in so many jobs (Gelman and others 2013, Bayesian Data Analysis, 3rd edition, section 2.6).
    """
    known = [(one.truth, before[one.job_id]) for one in calls if one.truth is not None and one.job_id in before]
    if len(known) < numbers.LEARN_LEAST_JOBS.value:
        return []
    faults = {fault for _, chances in known for fault in chances}
    rows = []
    for fault in faults:
        expected = sum(chances.get(fault, 0.0) for _, chances in known)
        if expected <= 0.0:
            continue
        found = sum(truth == fault for truth, _ in known)
        # A rare fault gets a wide prior and a common one a tight one, as the same number of jobs would have told.
        weight = expected * numbers.OWN_FINDINGS_JOBS.value / len(known)
        spread = scipy.stats.gamma(weight + found, scale=1.0 / (weight + expected))
        rows.append(
            OwnPrior(
                fault=fault,
                found=found,
                expected=expected,
                factor=float(spread.mean()),
                low=float(spread.ppf(0.025)),
                high=float(spread.ppf(0.975)),
            )
        )
    return sorted(rows, key=lambda one: (-one.found, one.fault))
