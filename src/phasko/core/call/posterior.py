"""How well every explanation predicts everything measured: marginal likelihood over its states."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import logsumexp

from phasko.core.arrays import Floats
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.evidence import EVIDENCE, EvidenceKind, Observable, Prediction
from phasko.core.evidence.indications import Disturbance, log_chance
from phasko.core.explanations import EXPLANATIONS, FAULTS_IN_TIME, Branch, EngineState, Explanation
from phasko.core.looks import Look, log_chance_of_looks, looks_speak_for

__all__ = ["Judged", "Weighed", "judge", "kind_log_evidence"]


_KINDS = {kind.name: kind for kind in EVIDENCE}


@dataclass(frozen=True, slots=True, eq=False)
class Judged:
    """One branch with its posterior share, its amount after the measurements, and what it predicts for each value.

    ``predicted`` and ``predicted_sd`` (one per observable) already hold the amount that fits best.
    """

    branch: Branch
    probability: float
    amount_deg: float | None
    predicted: Floats
    predicted_sd: Floats


@dataclass(frozen=True, slots=True, eq=False)
class Weighed:
    """An explanation with its probability; ``best`` is the branch (with its place) that carries most of it."""

    explanation: Explanation
    probability: float
    log_evidence: float
    branches: tuple[Judged, ...]
    best: Judged
    amount_deg: float | None


def judge(
    profile: EngineProfile,
    observed: Sequence[Observable],
    disturbed: Sequence[Disturbance] = (),
    looks: Sequence[Look] = (),
    shown: frozenset[FaultName] = frozenset(),
) -> tuple[Weighed, ...]:
    """Probabilities of all explanations, most probable first; they sum to 1. Where something is ``disturbed``, or a
    look speaks for them, the faults that leave the timing as it is are among them; those that would have ``shown``
    themselves are less likely where they did not.

    Every branch is a normal distribution of the observables: mean from its state, covariance from the shared errors,
    from its own grid width (along the line between its state and the nudged one) and from what it leaves open.
    Marginal likelihood over the branches' shares: Kass and Raftery 1995, equation 2; normal densities.
    """
    spoken = tuple(e for e in FAULTS_IN_TIME if disturbed or looks_speak_for(e.fault, e.branches(profile), looks))
    considered = (*EXPLANATIONS, *spoken)
    chosen = [(e, b) for e in considered for b in e.branches(profile)]
    priors = _priors(profile, [e for e, _ in chosen])
    fitter = _Fitter(observed)
    fits = [fitter.fit(branch) for _, branch in chosen]
    scores = np.array(
        [
            math.log(priors[e.fault] * b.share)
            + f.log_density
            + log_chance(e.fault, b, disturbed, shown)
            + log_chance_of_looks(e.fault, b, looks)
            for (e, b), f in zip(chosen, fits, strict=True)
        ]
    )
    posterior = np.exp(scores - logsumexp(scores))
    weighed = []
    for explanation in considered:
        rows = [i for i, (e, _) in enumerate(chosen) if e is explanation]
        if rows:
            evidence = float(logsumexp(scores[rows])) - math.log(priors[explanation.fault])
            weighed.append(
                _weighed(explanation, evidence, [(chosen[i][1], fits[i], float(posterior[i])) for i in rows])
            )
    return tuple(sorted(weighed, key=lambda w: -w.probability))


def kind_log_evidence(
    kind: EvidenceKind, explanation: Explanation, profile: EngineProfile, observed: Sequence[Observable]
) -> float:
    """Log marginal likelihood of one kind of evidence alone under one explanation."""
    fitter = _Fitter([o for o in observed if o.kind == kind.name])
    branches = explanation.branches(profile)
    return float(logsumexp([math.log(b.share) + fitter.fit(b).log_density for b in branches]))


@dataclass(frozen=True, slots=True, eq=False)
class _Fit:
    log_density: float
    steps: float
    predicted: Floats
    predicted_sd: Floats


def _priors(profile: EngineProfile, possible: Sequence[Explanation]) -> dict[str, float]:
    raw = {e.fault: e.prior(profile) for e in possible}
    total = sum(raw.values())
    return {fault: prior / total for fault, prior in raw.items()}


class _Fitter:
    """Densities of one set of values. States that leave the same things open share one factored covariance."""

    def __init__(self, observed: Sequence[Observable]) -> None:
        self._observed = observed
        self._values = np.array([o.value for o in observed])
        self._factored: dict[tuple[tuple[tuple[str, float], ...], ...], tuple[Floats, Floats]] = {}

    def fit(self, branch: Branch) -> _Fit:
        """Density of the values under one branch, and how many grid widths the amount moves to fit them best.

        The grid width adds one direction d to the covariance C; determinant and solution of C + d d' come from C's
        Cholesky factor by the Sherman-Morrison formula (Golub and Van Loan, Matrix Computations, 2.1.4).
        """
        if not self._observed:
            return _Fit(0.0, 0.0, np.empty(0), np.empty(0))
        predicted = [_KINDS[o.kind].predict(o, branch.state) for o in self._observed]
        mean = np.array([one.mean for one in predicted])
        lower, sd = self._covariance(predicted)
        direction = np.zeros(mean.size) if branch.nudged is None else self._means(branch.nudged) - mean
        white = np.linalg.solve(lower, np.column_stack([self._values - mean, direction]))
        residual, along = white[:, 0], white[:, 1]
        # "Steps" is the best amount in grid widths, drawn back towards the grid point by its own prior of one width.
        grown = 1.0 + float(along @ along)
        steps = float(along @ residual) / grown
        distance = float(residual @ residual) - grown * steps * steps
        log_density = -0.5 * (distance + math.log(grown) + mean.size * math.log(2 * math.pi))
        log_density -= float(np.log(np.diag(lower)).sum())
        return _Fit(log_density, steps, mean + steps * direction, sd)

    def _means(self, state: EngineState) -> Floats:
        return np.array([_KINDS[o.kind].predict(o, state).mean for o in self._observed])

    def _covariance(self, predicted: Sequence[Prediction]) -> tuple[Floats, Floats]:
        """(Cholesky factor, standard deviations) of all errors, shared ones by name, with what is left open."""
        # Most branches leave the same things open; factoring once for all of them is most of the time saved.
        key = tuple(tuple(one.open_factors.items()) for one in predicted)
        if key not in self._factored:
            both = zip(self._observed, predicted, strict=True)
            loads = [{**o.factors, **one.open_factors} for o, one in both]
            names = sorted({name for load in loads for name in load})
            matrix = np.array([[load.get(name, 0.0) for name in names] for load in loads])
            # A thousandth of a degree: no value is exact, and the factor must not become singular.
            own = np.diag([max(o.own_sd, 1e-3) ** 2 for o in self._observed])
            full = own + matrix @ matrix.T if names else own
            self._factored[key] = (np.linalg.cholesky(full), np.sqrt(np.diag(full)))
        return self._factored[key]


def _weighed(explanation: Explanation, evidence: float, parts: list[tuple[Branch, _Fit, float]]) -> Weighed:
    judged = tuple(
        Judged(
            branch,
            share,
            None if branch.amount_deg is None else branch.amount_deg + fit.steps * branch.amount_sd * _way(branch),
            fit.predicted,
            fit.predicted_sd,
        )
        for branch, fit, share in parts
    )
    by_place: dict[tuple[object, float | None], float] = {}
    for one in judged:
        key = (one.branch.place, one.branch.pitches)
        by_place[key] = by_place.get(key, 0.0) + one.probability
    place = max(by_place, key=lambda key: by_place[key])
    there = [one for one in judged if (one.branch.place, one.branch.pitches) == place]
    best = max(there, key=lambda one: one.probability)
    return Weighed(explanation, sum(share for *_, share in parts), evidence, judged, best, _mean_amount(there))


def _way(branch: Branch) -> float:
    """Which way the nudge goes: a jump of unknown pitch is nudged away from zero, everything else upwards."""
    early = branch.pitches is not None and (branch.amount_deg or 0.0) < 0
    return -1.0 if early else 1.0


def _mean_amount(parts: list[Judged]) -> float | None:
    """Mean of the amounts by their probabilities; even weights where all have vanished."""
    amounts = [(one.amount_deg, one.probability) for one in parts if one.amount_deg is not None]
    if not amounts:
        return None
    total = sum(weight for _, weight in amounts)
    if total <= 0.0:
        return max(parts, key=lambda one: one.probability).amount_deg
    return sum(amount * weight for amount, weight in amounts) / total
