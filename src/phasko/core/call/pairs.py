"""Which two faults at once are worth working out: the most probable pairs of independent states."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy

from phasko.core.arrays import Floats, Ints
from phasko.core.call.hypotheses import Hypothesis, paired
from phasko.core.call.likelihood import Likelihood

__all__ = ["probable_pairs"]

_FIRST_FAULTS = 10
_SECOND_STATES = 24
"""So many of the most probable places are tried together with so many states of a further fault each."""
_FAR_BEHIND = 14.0
"""What is so far (in ln) behind the best single state, or the best pair, does not matter."""


def probable_pairs(alone: Likelihood, log_priors: Floats) -> tuple[Hypothesis, ...]:
    """The most probable pairs of single states. What both together predict is taken as the sum of what each changes
    against a sound engine; the best of those are then to be worked out exactly. ``log_priors`` of shape (hypotheses,)
    are ln of chances (unitless)."""
    hypotheses = alone.hypotheses
    scores = alone.log_density() + log_priors
    sound = next((i for i, h in enumerate(hypotheses) if h.explanation.area == "health"), None)
    if sound is None:
        return ()
    able = np.array([i for i, h in enumerate(hypotheses) if h.explanation.area not in ("health", "open")])
    areas = np.array([h.explanation.area for h in hypotheses])
    together = _Together(alone, sound)
    found: dict[tuple[int, int], float] = {}
    for first in _best_places(hypotheses, scores, able.tolist()):
        seconds = able[(areas[able] != areas[first]) & (areas[able] != "reference")]
        likely = together.log_density(first, seconds) + log_priors[first] + log_priors[seconds]
        for place in np.argsort(-likely)[:_SECOND_STATES].tolist():
            pair = (min(first, int(seconds[place])), max(first, int(seconds[place])))
            found[pair] = float(likely[place])
    if not found:
        return ()
    least = max(float(scores.max()), *found.values()) - _FAR_BEHIND
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


@dataclass(frozen=True, slots=True, eq=False)
class _Changes:
    """What states change against a sound engine, b, and their own directions d, measured by one inverse covariance P:
    b'Pb, d'Pb and d'Pd, each of shape (states,)."""

    rows: Ints
    own: Floats
    across: Floats
    along: Floats


class _Together:
    """Nearly the ln likelihood of two states at once. With a = values - means of the first the squared distance is
    a'Pa - 2 a'Pb + b'Pb, so that all that is dear is done once for each covariance."""

    def __init__(self, alone: Likelihood, sound: int) -> None:
        self._alone = alone
        self._ground = int(alone.group[sound])
        self._changed = alone.means - alone.means[sound]
        self._words = alone.words.sum(axis=1) - alone.words[sound].sum()
        self._kept: dict[tuple[int, int], _Changes] = {}
        self._inverses = alone.inverse_covariances() if alone.observed.numbers else []
        self._places = alone.placed_values()

    def log_density(self, first: int, seconds: Ints) -> Floats:
        """ln likelihood (unitless) of one state together with each of ``seconds``, of shape (seconds,)."""
        told = np.asarray(self._alone.words[first].sum() + self._words[seconds])
        if not self._alone.observed.numbers:
            return told
        each = np.array([self._numbers(first, values)[seconds] for values in self._places])
        return np.asarray(told + scipy.special.logsumexp(each, axis=0) - math.log(len(each)))

    def _numbers(self, first: int, values: Floats) -> Floats:
        alone = self._alone
        made = np.empty(len(alone.hypotheses))
        off = values - alone.means[first]
        for own in range(len(alone.covariances)):
            # A state that leaves nothing open leaves what the first one does.
            group = int(alone.group[first]) if own == self._ground else own
            changes = self._changes(own, group)
            if changes.rows.size:
                inverse, spread = self._inverses[group]
                weighed = inverse @ off
                distance = off @ weighed - 2.0 * (self._changed[changes.rows] @ weighed) + changes.own
                across = alone.directions[changes.rows] @ weighed - changes.across
                distance -= across * across / (1.0 + changes.along)
                made[changes.rows] = -0.5 * distance - spread - 0.5 * np.log1p(changes.along)
        return made

    def _changes(self, own: int, group: int) -> _Changes:
        """Of all states whose own covariance is ``own``, measured by that of ``group``."""
        if (own, group) not in self._kept:
            rows = np.flatnonzero(self._alone.group == own)
            inverse, _ = self._inverses[group]
            changed, directions = self._changed[rows], self._alone.directions[rows]
            weighed, pointed = changed @ inverse, directions @ inverse
            self._kept[(own, group)] = _Changes(
                rows=rows,
                own=(weighed * changed).sum(axis=1),
                across=(weighed * directions).sum(axis=1),
                along=(pointed * directions).sum(axis=1),
            )
        return self._kept[(own, group)]
