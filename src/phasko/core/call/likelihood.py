"""How well states predict everything observed: one table of predictions, from which any part of the evidence speaks."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
import scipy

from phasko.core.arrays import Floats, Ints
from phasko.core.call.hypotheses import Hypothesis, Tabled
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state_table import StateTable
from phasko.core.evidence import NUMBER_KINDS, WORD_KINDS, NumberKind, Observable, Observed, Predictions, WordKind

__all__ = ["Likelihood", "likelihood"]

_NUMBERS: Mapping[str, NumberKind] = {kind.name: kind for kind in NUMBER_KINDS}
_WORDS: Mapping[str, WordKind] = {kind.name: kind for kind in WORD_KINDS}

Counts = Callable[[str], bool]
"""Whether a kind of evidence counts."""

_FARTHEST_DEG = 180.0


@dataclass(frozen=True, eq=False)
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
    group: Ints
    covariances: tuple[Floats, ...]
    words: Floats
    _fits: dict[tuple[bytes, bytes], tuple[Floats, Floats, Floats]] = field(default_factory=dict)
    _whitened: dict[bytes, tuple[Floats, Floats]] = field(default_factory=dict)

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
        summed = (
            np.asarray(each[0])
            if len(each) == 1
            else scipy.special.logsumexp(np.array(each), axis=0) - math.log(len(each))
        )
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

    @cached_property
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
        values = self._best_placed(kept, row)
        sd = np.sqrt(np.diag(self.covariances[int(self.group[row])]))
        return np.asarray((values - self.means[row] - steps * self.directions[row]) / sd)

    def _best_placed(self, kept: np.ndarray, row: int) -> Floats:
        """The values, those known modulo a pitch at the place that one hypothesis likes best, of shape (numbers,)."""
        base = np.array([o.value for o in self.observed.numbers])
        places = _places(self.observed.numbers, kept)
        if len(places) == 1:
            return base
        return np.asarray(base + max(places, key=lambda shift: self._densities(kept, shift)[row]))

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
        whitening, spread = self._whitening(kept)
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

    def _whitening(self, kept: np.ndarray) -> tuple[Floats, Floats]:
        """The matrices that whiten the values that are kept under each covariance, and half the ln of its
        determinant. The matrices are small and few: one inverse each serves all states that share it."""
        key = kept.tobytes()
        if key not in self._whitened:
            lower = np.linalg.cholesky(np.array(self.covariances)[:, kept[:, None], kept])
            spread = np.log(np.diagonal(lower, axis1=1, axis2=2)).sum(axis=1)
            self._whitened[key] = np.linalg.inv(lower), spread
        return self._whitened[key]

    def inverse_covariances(self) -> list[tuple[Floats, float]]:
        """Of each covariance over all numbers: its inverse, of shape (numbers, numbers), and half the ln of its
        determinant with the normal density's constant (units of the numbers)."""
        whitening, spread = self._whitening(np.arange(len(self.observed.numbers)))
        constant = 0.5 * len(self.observed.numbers) * math.log(2 * math.pi)
        return [(w.T @ w, float(s) + constant) for w, s in zip(whitening, spread, strict=True)]

    def placed_values(self) -> list[Floats]:
        """The values at each place where they may be, those known modulo a pitch moved there, each of
        shape (numbers,): degrees, or unitless where a number is a share."""
        base = np.array([o.value for o in self.observed.numbers])
        return [base + shift for shift in _places(self.observed.numbers, np.arange(base.size))]


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


def likelihood(observed: Observed, tabled: Tabled) -> Likelihood:
    """What every hypothesis predicts for everything that was observed."""
    predicted = _predicted(observed.numbers, tabled.states)
    directions = np.zeros(predicted.means.shape)
    rows = tabled.nudged_rows
    if rows.size:
        directions[rows] = _predicted(observed.numbers, tabled.nudged).means - predicted.means[rows]
    group, covariances = _covariances(observed.numbers, predicted)
    return Likelihood(
        profile=tabled.states.profile,
        observed=observed,
        hypotheses=tabled.hypotheses,
        means=predicted.means,
        directions=directions,
        group=group,
        covariances=covariances,
        words=_told(observed, tabled.states),
    )


def _predicted(observed: Sequence[Observable], states: StateTable) -> Predictions:
    """What states (rows) predict for all numbers (columns), kind by kind side by side."""
    shape = (len(states), len(observed))
    means, open_sd = np.zeros(shape), np.zeros(shape)
    shared: dict[str, Floats] = {}
    first = 0
    for name, own in itertools.groupby(observed, key=lambda o: o.kind):
        values = list(own)
        columns = slice(first, first + len(values))
        first += len(values)
        part = _NUMBERS[name].predict(values, states)
        means[:, columns], open_sd[:, columns] = part.means, part.open_sd
        for error, loads in part.shared.items():
            if loads.any():
                shared.setdefault(error, np.zeros(shape))[:, columns] = loads
    return Predictions(means, open_sd, shared)


def _covariances(observed: Sequence[Observable], predicted: Predictions) -> tuple[Ints, tuple[Floats, ...]]:
    """(which of the covariances is each state's own, the covariances): all errors, shared ones by name, with what a
    state leaves open. Most states leave nothing open and share the first."""
    names = sorted({name for o in observed for name in o.factors})
    loads = np.array([[o.factors.get(name, 0.0) for name in names] for o in observed]).reshape(
        len(observed), len(names)
    )
    # A thousandth of a degree: no value is exact, and the factor must not become singular.
    known = np.diag([max(o.own_sd, 1e-3) ** 2 for o in observed]) + loads @ loads.T
    left = np.stack([predicted.open_sd, *predicted.shared.values()], axis=1)
    group = np.zeros(left.shape[0], dtype=np.int64)
    found = [known]
    places: dict[bytes, int] = {}
    for row in np.flatnonzero(left.any(axis=(1, 2))).tolist():
        key = left[row].tobytes()
        if key not in places:
            places[key] = len(found)
            own, shared = left[row, 0], left[row, 1:]
            found.append(known + np.diag(own * own) + shared.T @ shared)
        group[row] = places[key]
    return group, tuple(found)


def _told(observed: Observed, states: StateTable) -> Floats:
    """ln of the chance of every word (columns) in every state (rows)."""
    found = np.empty((len(states), len(observed.words)))
    for column, word in enumerate(observed.words):
        chance = _WORDS[word.kind].chance
        found[:, column] = [chance(word, state, states.profile) for state in states.states]
    return np.log(np.maximum(found, 1e-9))
