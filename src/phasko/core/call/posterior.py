"""Chances of every explanation: marginal likelihood over its states, alone and with an independent second fault."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import scipy

from phasko.core.arrays import Bools, Floats, Ints
from phasko.core.call.hypotheses import Hypothesis, prior_chances, single_hypotheses, tabled
from phasko.core.call.likelihood import Counts, Likelihood, likelihood
from phasko.core.call.pairs import probable_pairs
from phasko.core.documents.engine import EngineProfile
from phasko.core.evidence import Observed
from phasko.core.explanations import Branch, Explanation

__all__ = ["Judgement", "Weighed", "judge"]


@dataclass(frozen=True, slots=True, eq=False)
class Weighed:
    """An explanation with its chance to be the first fault (those of all sum to 1), the chance that it ``holds`` at
    all, besides another one or not, and the branch (with its place) that carries most of it. ``row`` is the hypothesis
    that fits best there, ``amount_deg`` its amount as the measurements have it."""

    explanation: Explanation
    probability: float
    holds: float
    best: Branch
    row: int
    amount_deg: float | None

    @property
    def title(self) -> str:
        return self.explanation.title(self.best.place, self.amount_deg, self.best.pitches)


@dataclass(frozen=True, eq=False)
class Judgement:
    """Everything that was weighed. ``chances`` of shape (hypotheses,); ``plain`` are the same without what is typical
    of the engine's type, for the gate."""

    table: Likelihood
    weighed: tuple[Weighed, ...]
    priors: dict[str, float]
    plain_priors: dict[str, float]
    chances: Floats
    plain: Floats

    @property
    def hypotheses(self) -> tuple[Hypothesis, ...]:
        return self.table.hypotheses

    @cached_property
    def faults(self) -> tuple[str, ...]:
        """The explanations that this engine can have, in their order."""
        return tuple(dict.fromkeys(str(one.explanation.fault) for one in self.hypotheses))

    @cached_property
    def fault_of(self) -> Ints:
        """Which of ``faults`` each hypothesis is told as first, of shape (hypotheses,), unitless."""
        place = {fault: i for i, fault in enumerate(self.faults)}
        return np.array([place[one.explanation.fault] for one in self.hypotheses], dtype=np.int64)

    @cached_property
    def sound(self) -> int:
        """The row of the hypothesis that nothing is wrong."""
        return next(i for i, one in enumerate(self.hypotheses) if one.explanation.area == "health")

    @cached_property
    def covered(self) -> Bools:
        """Where what holds lies behind the covers of the timing drive, of shape (hypotheses,), unitless."""
        return np.array([one.covered for one in self.hypotheses], dtype=bool)

    @cached_property
    def phasers(self) -> Ints:
        """The rows of phasers off their place that need no covers off, of shape (rows,), unitless."""
        return np.array(
            [i for i, one in enumerate(self.hypotheses) if one.branch.state.phaser_deg and not one.covered],
            dtype=np.int64,
        )

    @cached_property
    def _log_shares(self) -> Floats:
        """ln of each hypothesis' part of its explanation; of pairs none."""
        return np.array([math.log(one.share) if one.second is None else -math.inf for one in self.hypotheses])

    @cached_property
    def log_priors(self) -> Floats:
        """ln of every hypothesis' chance before measuring (unitless), of shape (hypotheses,)."""
        return _log_priors(self.hypotheses, self.priors)

    @cached_property
    def plain_log_priors(self) -> Floats:
        """The same without what is typical of the engine's type, of shape (hypotheses,)."""
        return self.log_priors if self.plain_priors == self.priors else _log_priors(self.hypotheses, self.plain_priors)

    def chances_of(self, counts: Counts) -> Floats:
        """Chances (unitless) of the hypotheses from the kinds of evidence that count, of shape (hypotheses,)."""
        return _normal(self.table.log_density(counts) + self.log_priors)

    def by_fault(self, chances: Floats) -> dict[str, float]:
        """Chances of the explanations that are told first, from ``chances`` of shape (hypotheses,), unitless."""
        summed = np.bincount(self.fault_of, weights=chances, minlength=len(self.faults))
        return dict(zip(self.faults, summed.tolist(), strict=True))

    def alone(self, kind: str) -> dict[str, float]:
        """ln of the chance of what one kind observed, under each explanation alone (no second fault)."""
        told = self.table.log_density(lambda name: name == kind) + self._log_shares
        # One reduction a fault; the general function costs a millisecond each.
        return {fault: float(np.logaddexp.reduce(told[self.fault_of == i])) for i, fault in enumerate(self.faults)}


def judge(profile: EngineProfile, observed: Observed) -> Judgement:
    """Chances of all explanations, most probable first; they sum to 1.

    Every hypothesis is a state, or two of different areas at once: mean from its state, covariance from the shared
    errors, its own grid width and what it leaves open; words by their chance. Marginal likelihood over the states'
    shares: Kass and Raftery 1995, equation 2.
    """
    singles = single_hypotheses(profile)
    every = singles.hypotheses
    priors, plain = prior_chances(profile, every), prior_chances(profile, every, typical=False)
    alone = likelihood(observed, singles)
    pairs = probable_pairs(alone, _log_priors(every, priors)) if observed else ()
    table = _joined(alone, likelihood(observed, tabled(profile, pairs))) if pairs else alone
    density = table.log_density()
    chances = _normal(density + _log_priors(table.hypotheses, priors))
    plain_chances = chances if plain == priors else _normal(density + _log_priors(table.hypotheses, plain))
    return Judgement(table, _weigh(table, chances), priors, plain, chances, plain_chances)


def _log_priors(hypotheses: Sequence[Hypothesis], priors: dict[str, float]) -> Floats:
    return np.array([one.log_prior(priors) for one in hypotheses])


def _normal(scores: Floats) -> Floats:
    return np.asarray(np.exp(scores - scipy.special.logsumexp(scores)))


def _joined(one: Likelihood, other: Likelihood) -> Likelihood:
    return Likelihood(
        profile=one.profile,
        observed=one.observed,
        hypotheses=(*one.hypotheses, *other.hypotheses),
        means=np.vstack([one.means, other.means]),
        directions=np.vstack([one.directions, other.directions]),
        group=np.concatenate([one.group, other.group + len(one.covariances)]),
        covariances=(*one.covariances, *other.covariances),
        words=np.vstack([one.words, other.words]),
    )


def _weigh(table: Likelihood, chances: Floats) -> tuple[Weighed, ...]:
    steps = table.best_steps
    rows: dict[str, list[int]] = {}
    holds: dict[str, float] = {}
    for i, one in enumerate(table.hypotheses):
        rows.setdefault(one.explanation.fault, []).append(i)
        holds[one.explanation.fault] = holds.get(one.explanation.fault, 0.0) + float(chances[i])
        if one.second is not None:
            holds[one.second.fault] = holds.get(one.second.fault, 0.0) + float(chances[i])
    found = [_weighed(table, own, chances, steps, holds[fault]) for fault, own in rows.items()]
    return tuple(sorted(found, key=lambda w: -w.probability))


def _weighed(table: Likelihood, rows: list[int], chances: Floats, steps: Floats, holds: float) -> Weighed:
    by_place: dict[tuple[object, float | None], float] = {}
    for i in rows:
        branch = table.hypotheses[i].branch
        key = (branch.place, branch.pitches)
        by_place[key] = by_place.get(key, 0.0) + float(chances[i])
    place = max(by_place, key=lambda key: by_place[key])
    there = [i for i in rows if (table.hypotheses[i].branch.place, table.hypotheses[i].branch.pitches) == place]
    best = max(there, key=lambda i: chances[i])
    branch = table.hypotheses[best].branch
    amount = None if branch.amount_deg is None else branch.amount_deg + float(steps[best]) * branch.amount_sd
    if branch.amount_deg is not None and table.hypotheses[best].second is not None:
        # Beside a second fault the direction may be that fault's own.
        amount = branch.amount_deg if table.hypotheses[best].branch.nudged is None else amount
    return Weighed(
        explanation=table.hypotheses[best].explanation,
        probability=min(1.0, sum(float(chances[i]) for i in rows)),
        holds=min(1.0, holds),
        best=branch,
        row=best,
        amount_deg=amount,
    )
