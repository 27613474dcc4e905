"""Chances of every explanation: marginal likelihood over its states, alone and with an independent second fault."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import logsumexp

from phasko.core.arrays import Floats
from phasko.core.call.hypotheses import Hypothesis, paired, prior_chances, single_hypotheses
from phasko.core.call.likelihood import Counts, Likelihood, likelihood
from phasko.core.documents.engine import EngineProfile
from phasko.core.evidence import Observed
from phasko.core.explanations import Branch, Explanation

__all__ = ["Judgement", "Weighed", "judge"]

_FIRST_FAULTS = 10
_SECOND_STATES = 24
"""So many of the most probable places are tried together with so many states of a further fault each."""


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


@dataclass(frozen=True, slots=True, eq=False)
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

    def chances_of(self, counts: Counts) -> Floats:
        """Chances (unitless) of the hypotheses from the kinds of evidence that count, of shape (hypotheses,)."""
        return _normal(self.table.log_density(counts) + _log_priors(self.hypotheses, self.priors))

    def by_fault(self, chances: Floats) -> dict[str, float]:
        """Chances of the explanations that are told first, from ``chances`` of shape (hypotheses,), unitless."""
        found: dict[str, float] = {}
        for one, chance in zip(self.hypotheses, chances, strict=True):
            found[one.explanation.fault] = found.get(one.explanation.fault, 0.0) + float(chance)
        return found

    def alone(self, kind: str) -> dict[str, float]:
        """ln of the chance of what one kind observed, under each explanation alone (no second fault)."""
        density = self.table.log_density(lambda name: name == kind)
        found: dict[str, list[float]] = {}
        for one, log in zip(self.hypotheses, density, strict=True):
            if one.second is None:
                found.setdefault(one.explanation.fault, []).append(math.log(one.share) + float(log))
        # One reduction a fault; the general function costs a millisecond each.
        return {fault: float(np.logaddexp.reduce(logs)) for fault, logs in found.items()}


def judge(profile: EngineProfile, observed: Observed) -> Judgement:
    """Chances of all explanations, most probable first; they sum to 1.

    Every hypothesis is a state, or two of different areas at once: mean from its state, covariance from the shared
    errors, its own grid width and what it leaves open; words by their chance. Marginal likelihood over the states'
    shares: Kass and Raftery 1995, equation 2.
    """
    singles = single_hypotheses(profile)
    priors, plain = prior_chances(profile, singles), prior_chances(profile, singles, typical=False)
    alone = likelihood(profile, observed, singles)
    pairs = _pairs(alone, _log_priors(singles, priors)) if observed else ()
    table = _joined(alone, likelihood(profile, observed, pairs)) if pairs else alone
    density = table.log_density()
    chances = _normal(density + _log_priors(table.hypotheses, priors))
    plain_chances = chances if plain == priors else _normal(density + _log_priors(table.hypotheses, plain))
    return Judgement(table, _weigh(table, chances), priors, plain, chances, plain_chances)


def _log_priors(hypotheses: Sequence[Hypothesis], priors: dict[str, float]) -> Floats:
    return np.array([one.log_prior(priors) for one in hypotheses])


def _normal(scores: Floats) -> Floats:
    return np.asarray(np.exp(scores - logsumexp(scores)))


def _pairs(alone: Likelihood, log_priors: Floats) -> tuple[Hypothesis, ...]:
    """The most probable pairs. What both together predict is taken as the sum of what each changes against a sound
    engine; the best of those are then worked out exactly."""
    hypotheses = alone.hypotheses
    scores = alone.log_density() + log_priors
    sound = next((i for i, h in enumerate(hypotheses) if h.explanation.area == "health"), None)
    if sound is None:
        return ()
    able = [i for i, h in enumerate(hypotheses) if h.explanation.area not in ("health", "open")]
    firsts = _best_places(hypotheses, scores, able)
    areas = np.array([h.explanation.area for h in hypotheses])
    found: dict[tuple[int, int], float] = {}
    for first in firsts:
        seconds = np.array([i for i in able if areas[i] not in (areas[first], "reference")], dtype=np.intp)
        approximate = _together(alone, first, seconds, sound) + log_priors[first] + log_priors[seconds]
        for place in np.argsort(-approximate)[:_SECOND_STATES]:
            pair = (min(first, int(seconds[place])), max(first, int(seconds[place])))
            found[pair] = float(approximate[place])
    if not found:
        return ()
    # What is far less likely than the best single state, or the best pair, does not matter.
    least = max(float(scores.max()), *found.values()) - 14.0
    return tuple(paired(hypotheses[a], hypotheses[b]) for (a, b), score in found.items() if score > least)


def _best_places(hypotheses: Sequence[Hypothesis], scores: Floats, able: Sequence[int]) -> list[int]:
    """The best state of each of the most probable places, and of every area, so that none is overlooked."""
    best: dict[tuple[str, object], int] = {}
    for i in able:
        key = (hypotheses[i].explanation.fault, hypotheses[i].branch.place)
        if key not in best or scores[i] > scores[best[key]]:
            best[key] = i
    ordered = sorted(best.values(), key=lambda i: -scores[i])
    chosen = ordered[:_FIRST_FAULTS]
    for area in {hypotheses[i].explanation.area for i in ordered}:
        chosen += [i for i in ordered if hypotheses[i].explanation.area == area][:2]
    return list(dict.fromkeys(chosen))


def _together(alone: Likelihood, first: int, seconds: np.ndarray, sound: int) -> Floats:
    """Approximate ln likelihood of one state together with each of others."""
    means = alone.means[first] + alone.means[seconds] - alone.means[sound]
    words = alone.words[first] + alone.words[seconds] - alone.words[sound]
    told = np.asarray(words.sum(axis=1))
    if not alone.observed.numbers:
        return told
    made = Likelihood(
        profile=alone.profile,
        observed=alone.observed,
        hypotheses=tuple(alone.hypotheses[i] for i in seconds),
        means=means,
        directions=alone.directions[seconds],
        group=np.where(alone.group[seconds] == alone.group[sound], alone.group[first], alone.group[seconds]),
        covariances=alone.covariances,
        words=words,
    )
    return made.log_density()


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
    steps = table.best_steps()
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
