"""What the call chooses between: single states of every explanation, and pairs with an independent second fault."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Ints
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState, both
from phasko.core.engine.state_table import StateTable
from phasko.core.explanations import EXPLANATIONS, Branch, Explanation

__all__ = ["Hypothesis", "Tabled", "paired", "prior_chances", "single_hypotheses", "tabled"]


@dataclass(frozen=True, slots=True, eq=False)
class Hypothesis:
    """One state with the explanation it belongs to, or a pair of them: ``second`` holds besides ``explanation``.
    ``share`` is its part of the explanations' prior; ``state`` and ``nudged`` are what evidence predicts from."""

    explanation: Explanation
    branch: Branch
    share: float
    state: EngineState
    nudged: EngineState | None
    second: Explanation | None = None
    second_branch: Branch | None = None

    @property
    def covered(self) -> bool:
        """Whether what holds lies behind the covers of the timing drive."""
        second = self.second_branch
        return self.branch.covers_off or (second is not None and second.covers_off)

    def log_prior(self, priors: Mapping[str, float]) -> float:
        """ln of the chance before measuring."""
        chance = priors[self.explanation.fault] * self.share
        if self.second is not None:
            chance *= priors[self.second.fault]
        return math.log(max(chance, 1e-300))


@dataclass(frozen=True, slots=True, eq=False)
class Tabled:
    """Hypotheses of one engine with their states side by side: ``states`` as they are, ``nudged`` those of the
    ``nudged_rows`` with their amount one grid width further."""

    hypotheses: tuple[Hypothesis, ...]
    states: StateTable
    nudged: StateTable
    nudged_rows: Ints


def tabled(profile: EngineProfile, hypotheses: Sequence[Hypothesis]) -> Tabled:
    """Those hypotheses of an engine, side by side."""
    nudged = [(row, h.nudged) for row, h in enumerate(hypotheses) if h.nudged is not None]
    return Tabled(
        hypotheses=tuple(hypotheses),
        states=StateTable(profile, tuple(h.state for h in hypotheses)),
        nudged=StateTable(profile, tuple(state for _, state in nudged)),
        nudged_rows=np.array([row for row, _ in nudged], dtype=np.int64),
    )


def single_hypotheses(profile: EngineProfile) -> Tabled:
    """Every state of every explanation that this engine can have."""
    return _singles(profile.model_dump_json(by_alias=True))


@lru_cache(maxsize=16)
def _singles(profile_json: str) -> Tabled:
    # States follow from the profile alone, and a job is judged again after every look.
    profile = EngineProfile.model_validate_json(profile_json)
    return tabled(
        profile,
        [
            Hypothesis(e, branch, branch.share, branch.state, branch.nudged)
            for e in EXPLANATIONS
            for branch in e.branches(profile)
        ],
    )


def prior_chances(profile: EngineProfile, hypotheses: Sequence[Hypothesis], typical: bool = True) -> dict[str, float]:
    """Chance of every explanation before measuring, brought to sum 1 over those that this engine can have. ``typical``:
    the profile's notes of what fails on this type move them, by a stated factor at most; the gate leaves that out."""
    possible = {h.explanation.fault: h.explanation for h in hypotheses}
    raw = {fault: e.prior(profile) for fault, e in possible.items()}
    if typical:
        most = numbers.TYPICAL_FACTOR_MOST.value
        for note in profile.typical_failures:
            if note.fault in raw:
                raw = {**raw, note.fault: raw[note.fault] * min(most, max(1.0 / most, note.factor))}
    total = sum(raw.values())
    return {fault: chance / total for fault, chance in raw.items()}


def paired(one: Hypothesis, other: Hypothesis) -> Hypothesis:
    """Both faults at once; of the two the one that stands first in the list of explanations is told first."""
    order = {e.fault: i for i, e in enumerate(EXPLANATIONS)}
    first, second = sorted((one, other), key=lambda h: order[h.explanation.fault])
    state = both(first.state, second.state)
    # The further fault keeps its grid value; the width of the first one is what the measurements move along.
    along = first if first.nudged is not None else second
    rest = second if along is first else first
    nudged = both(along.nudged, rest.state) if along.nudged is not None else None
    return Hypothesis(
        explanation=first.explanation,
        branch=first.branch,
        share=first.share * second.share,
        state=state,
        nudged=nudged,
        second=second.explanation,
        second_branch=second.branch,
    )
