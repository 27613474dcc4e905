"""How well states predict everything observed: one table of predictions, from which any part of the evidence speaks."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from scipy.special import logsumexp

from phasko.core.arrays import Floats
from phasko.core.call.hypotheses import Hypothesis
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.evidence import NUMBER_KINDS, WORD_KINDS, NumberKind, Observable, Observed, Prediction, WordKind

__all__ = ["Likelihood", "likelihood"]

_NUMBERS: Mapping[str, NumberKind] = {kind.name: kind for kind in NUMBER_KINDS}
_WORDS: Mapping[str, WordKind] = {kind.name: kind for kind in WORD_KINDS}

Counts = Callable[[str], bool]
"""Whether a kind of evidence counts."""

_FARTHEST_DEG = 180.0


@dataclass(frozen=True, slots=True, eq=False)
class Likelihood:
    """Predictions of every hypothesis (rows) for every number and word observed (columns).

    ``means`` and ``directions`` of shape (hypotheses, numbers): what each predicts, and how that moves with one grid
    width of its amount. ``group`` says which of ``covariances`` is a hypothesis' own. ``words`` of shape
    (hypotheses, words): ln of the chance of each word.
    """

    profile: EngineProfile
    observed: Observed
    hypotheses: tuple[Hypothesis, ...]
    means: Floats
    directions: Floats
    group: np.ndarray
    covariances: tuple[Floats, ...]
    words: Floats
    _fits: dict[tuple[bytes, bytes], tuple[Floats, Floats, Floats]] = field(default_factory=dict)

    def log_density(self, counts: Counts = lambda kind: True) -> Floats:  # noqa: ARG005
        """ln likelihood of each hypothesis from the kinds of evidence that count, of shape (hypotheses,).

        Normal densities of all numbers together; an amount's grid width adds one direction d to the covariance C, and
        determinant and solution of C + d d' follow from C's Cholesky factor by the Sherman-Morrison formula (Golub and
        Van Loan, Matrix Computations, 2.1.4). Values known only modulo a pitch are summed over their places.
        """
        kept_words = [i for i, word in enumerate(self.observed.words) if counts(word.kind)]
        told = self.words[:, kept_words].sum(axis=1) if kept_words else np.zeros(len(self.hypotheses))
        kept = np.array([i for i, o in enumerate(self.observed.numbers) if counts(o.kind)], dtype=np.intp)
        if not kept.size:
            return np.asarray(told)
        places = _places(self.observed.numbers, kept)
        each = [self._densities(kept, shift) for shift in places]
        summed = np.asarray(each[0]) if len(each) == 1 else logsumexp(np.array(each), axis=0) - math.log(len(each))
        return np.asarray(told + summed)

    def misfit_by(self, kind: str) -> Floats:
        """How badly each hypothesis fits what one kind observed at its best amount, as ln of odds that do not count how
        widely it spreads: half the squared distance of numbers, less ln of the chance of words, of shape (hypotheses,).
        A spread that allows anything is then no reason against."""
        words = [i for i, word in enumerate(self.observed.words) if word.kind == kind]
        found = -self.words[:, words].sum(axis=1) if words else np.zeros(len(self.hypotheses))
        kept = np.array([i for i, o in enumerate(self.observed.numbers) if o.kind == kind], dtype=np.intp)
        if not kept.size:
            return np.asarray(found)
        each = [self._fit(kept, shift)[0] for shift in _places(self.observed.numbers, kept)]
        return np.asarray(found + 0.5 * np.min(each, axis=0))

    def best_steps(self) -> Floats:
        """By how many grid widths (unitless) each hypothesis' amount fits best, of shape (hypotheses,). An angle is
        told by the cam signals where they know it, so that it is the one that was measured; else by all numbers."""
        by_cams = np.array([i for i, o in enumerate(self.observed.numbers) if o.kind == "cam_phase"], dtype=np.intp)
        every = np.arange(len(self.observed.numbers))
        if not every.size:
            return np.zeros(len(self.hypotheses))
        steps = self._steps(every)
        if by_cams.size:
            told = np.abs(self.directions[:, by_cams]).sum(axis=1) > 1e-6
            steps = np.where(told, self._steps(by_cams), steps)
        return np.asarray(steps)

    def _steps(self, kept: np.ndarray) -> Floats:
        fits = [self._fit(kept, shift) for shift in _places(self.observed.numbers, kept)]
        if len(fits) == 1:
            return fits[0][2]
        nearest = np.argmin([distance for distance, _, _ in fits], axis=0)
        return np.asarray(np.array([steps for _, _, steps in fits])[nearest, np.arange(len(self.hypotheses))])

    def misfits(self, row: int, steps: float) -> Floats:
        """How far each number is from what one hypothesis predicts with its amount moved by ``steps`` grid widths, in
        standard deviations (unitless), of shape (numbers,)."""
        kept = np.arange(len(self.observed.numbers))
        if not kept.size:
            return np.zeros(0)
        values = self._best_placed(kept)[row]
        sd = np.sqrt(np.diag(self.covariances[int(self.group[row])]))
        return np.asarray((values - self.means[row] - steps * self.directions[row]) / sd)

    def _best_placed(self, kept: np.ndarray) -> Floats:
        """The values, those known modulo a pitch at the place that each hypothesis likes best, of shape (hypotheses,
        numbers)."""
        base = np.array([o.value for o in self.observed.numbers])
        places = _places(self.observed.numbers, kept)
        if len(places) == 1:
            return np.tile(base, (len(self.hypotheses), 1))
        each = np.array([self._densities(kept, shift) for shift in places])
        return np.asarray(base + np.array(places)[each.argmax(axis=0)])

    def _densities(self, kept: np.ndarray, shift: Floats) -> Floats:
        distance, spread, _ = self._fit(kept, shift)
        return np.asarray(-0.5 * (distance + kept.size * math.log(2 * math.pi)) - spread)

    def _fit(self, kept: np.ndarray, shift: Floats) -> tuple[Floats, Floats, Floats]:
        """(squared distance of the values, half the ln of the covariance's determinant, grid widths by which the
        amount moves to fit best) of each hypothesis, each of shape (hypotheses,)."""
        key = (kept.tobytes(), shift.tobytes())
        if key not in self._fits:
            self._fits[key] = self._worked_out(kept, shift)
        return self._fits[key]

    def _worked_out(self, kept: np.ndarray, shift: Floats) -> tuple[Floats, Floats, Floats]:
        values = np.array([o.value for o in self.observed.numbers])[kept] + shift[kept]
        lower = np.linalg.cholesky(np.array([c[np.ix_(kept, kept)] for c in self.covariances]))
        # The matrices are small and few: one inverse each whitens all states that share it.
        whitening = np.linalg.inv(lower)
        spread = np.log(np.diagonal(lower, axis1=1, axis2=2)).sum(axis=1)
        residuals, directions = values - self.means[:, kept], self.directions[:, kept]
        own, along, across = (np.empty(len(self.hypotheses)) for _ in range(3))
        order = np.argsort(self.group, kind="stable")
        ends = np.searchsorted(self.group[order], np.arange(len(self.covariances) + 1))
        for g, inverse in enumerate(whitening):
            rows = order[ends[g] : ends[g + 1]]
            if rows.size:
                residual, direction = residuals[rows] @ inverse.T, directions[rows] @ inverse.T
                own[rows] = (residual * residual).sum(axis=1)
                along[rows] = (direction * direction).sum(axis=1)
                across[rows] = (direction * residual).sum(axis=1)
        distance = own - across * across / (1.0 + along)
        steps = np.where(along > 1e-9, across / np.maximum(along, 1e-9), 0.0)
        return distance, spread[self.group] + 0.5 * np.log1p(along), steps


def _places(observed: Sequence[Observable], kept: np.ndarray) -> list[Floats]:
    """Shifts of all values that stand for one choice of places each; one of no shift where all places are known."""
    moduli = sorted(
        {o.modulo_deg for i, o in enumerate(observed) if o.modulo_deg is not None and i in set(kept.tolist())}
    )
    choices = []
    for modulo in moduli:
        most = int(_FARTHEST_DEG // modulo)
        choices.append([(modulo, k * modulo) for k in range(-most, most + 1)])
    found = []
    for chosen in itertools.product(*choices):
        by = dict(chosen)
        found.append(np.array([by.get(o.modulo_deg, 0.0) if o.modulo_deg is not None else 0.0 for o in observed]))
    return found


def likelihood(profile: EngineProfile, observed: Observed, hypotheses: Sequence[Hypothesis]) -> Likelihood:
    """What every hypothesis predicts for everything that was observed."""
    values = observed.numbers
    means = np.empty((len(hypotheses), len(values)))
    directions = np.zeros((len(hypotheses), len(values)))
    groups: dict[tuple[tuple[tuple[str, float], ...], ...], int] = {}
    covariances: list[Floats] = []
    group = np.zeros(len(hypotheses), dtype=np.intp)
    predict = _predictor(values, profile)
    for row, one in enumerate(hypotheses):
        predicted = predict(one.state)
        means[row] = [p.mean for p in predicted]
        if one.nudged is not None:
            directions[row] = [p.mean for p in predict(one.nudged)] - means[row]
        key = tuple(tuple(p.open_factors.items()) for p in predicted)
        if key not in groups:
            groups[key] = len(covariances)
            covariances.append(_covariance(values, [p.open_factors for p in predicted]))
        group[row] = groups[key]
    return Likelihood(
        profile=profile,
        observed=observed,
        hypotheses=tuple(hypotheses),
        means=means,
        directions=directions,
        group=group,
        covariances=tuple(covariances),
        words=_told(profile, observed, hypotheses),
    )


def _predictor(observed: Sequence[Observable], profile: EngineProfile) -> Callable[[EngineState], list[Prediction]]:
    """What any state predicts for all numbers. Most states move few kinds; the others are predicted once, as sound."""
    sound = EngineState()
    kinds = [(_NUMBERS[name], list(own)) for name, own in itertools.groupby(observed, key=lambda o: o.kind)]
    usual = [kind.predict(own, sound, profile) for kind, own in kinds]

    def predict(state: EngineState) -> list[Prediction]:
        each = (
            kind.predict(own, state, profile) if kind.moved_by(state) else still
            for (kind, own), still in zip(kinds, usual, strict=True)
        )
        return list(itertools.chain.from_iterable(each))

    return predict


def _told(profile: EngineProfile, observed: Observed, hypotheses: Sequence[Hypothesis]) -> Floats:
    kinds = [_WORDS[word.kind] for word in observed.words]
    found = np.zeros((len(hypotheses), len(kinds)))
    for row, one in enumerate(hypotheses):
        for column, (kind, word) in enumerate(zip(kinds, observed.words, strict=True)):
            found[row, column] = math.log(max(kind.chance(word, one.state, profile), 1e-9))
    return found


def _covariance(observed: Sequence[Observable], left_open: Sequence[Mapping[str, float]]) -> Floats:
    """All errors, shared ones by name, with what is left open."""
    loads = [{**o.factors, **extra} for o, extra in zip(observed, left_open, strict=True)]
    names = sorted({name for load in loads for name in load})
    matrix = np.array([[load.get(name, 0.0) for name in names] for load in loads])
    # A thousandth of a degree: no value is exact, and the factor must not become singular.
    own = np.diag([max(o.own_sd, 1e-3) ** 2 for o in observed])
    return np.asarray(own + matrix @ matrix.T if names else own)
