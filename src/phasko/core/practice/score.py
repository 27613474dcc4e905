"""What a learner's call is worth once the truth is known: what was said, what was decided, and what it cost.

What was said is scored by the quadratic rule (Brier 1950, Monthly Weather Review 78, 1-3; that it is proper: Gneiting
and Raftery 2007, Journal of the American Statistical Association 102, 359-378; both from memory): nobody gains by
saying more or less than he believes.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from phasko.core.documents.fault_name import FaultName

__all__ = [
    "Covers",
    "Decision",
    "Judged",
    "LearnersCall",
    "Score",
    "Truth",
    "decision_of",
    "quadratic_loss",
    "score_of",
]

POINTS_SAID = 50.0
POINTS_DECIDED = 30.0
POINTS_SPENT = 20.0
POINTS_TORN_DOWN = 80.0
POINTS_RUINED = 80.0
POINTS_DRIVEN_ON = 50.0
"""What can be won (100 in all), and what a wrong decision takes away: more than anything that was said could win back
(own choice: a wrong teardown and an engine that is ruined by driving on are the two worst failures)."""

Covers = Literal["off", "on"]
Decision = Literal["right", "either", "torn_down", "driven_on"]


@dataclass(frozen=True, slots=True)
class LearnersCall:
    """One call: the explanation, how sure (0 to 1), and whether the covers come off."""

    fault: FaultName
    sure: float
    covers: Covers


@dataclass(frozen=True, slots=True)
class Truth:
    """What it really was. ``also``: further explanations that are right too. ``covers``: whether they have to come off;
    ``either``: both are good work. ``ruins``: an engine that is driven on so is ruined."""

    fault: FaultName
    also: tuple[FaultName, ...] = ()
    covers: Literal["off", "on", "either"] = "on"
    ruins: bool = False

    @property
    def right(self) -> tuple[FaultName, ...]:
        """Every explanation that counts as right."""
        return (self.fault, *self.also)


@dataclass(frozen=True, slots=True)
class Judged:
    """One part of a score: points of the most there are, and why."""

    points: float
    most: float
    words: str


@dataclass(frozen=True, slots=True)
class Score:
    """Points of a call, 100 at most. Nought is what guessing with even chances for every explanation gets for what it
    says; a wrong decision goes below it."""

    said: Judged
    decided: Judged
    spent: Judged
    decision: Decision
    right: bool

    @property
    def points(self) -> float:
        return self.said.points + self.decided.points + self.spent.points


def quadratic_loss(sure: float, right: bool, explanations: int) -> float:
    """Sum of squared differences between the chances that were given and what was so (0 to 2). What is left of
    ``sure`` is spread evenly over the other explanations."""
    rest = (1.0 - sure) / (explanations - 1)
    if right:
        return (1.0 - sure) ** 2 + (explanations - 1) * rest**2
    return sure**2 + (1.0 - rest) ** 2 + (explanations - 2) * rest**2


def decision_of(covers: Covers, truth: Truth) -> Decision:
    """Whether it was right to open or not to."""
    if truth.covers == "either":
        return "either"
    if covers == truth.covers:
        return "right"
    return "torn_down" if covers == "off" else "driven_on"


def score_of(call: LearnersCall, truth: Truth, explanations: int, cost: float, cheapest: float) -> Score:
    """The score of a call among so many explanations; ``cost`` of the learner's tests and of the ``cheapest`` way that
    was found, in one currency or both in minutes."""
    right = call.fault in truth.right
    decision = decision_of(call.covers, truth)
    spent = _spent(cost, cheapest, counts=right and decision in ("right", "either"))
    return Score(_said(call, right, explanations), _decided(decision, truth), spent, decision, right)


def _said(call: LearnersCall, right: bool, explanations: int) -> Judged:
    most = POINTS_SAID
    guessing = 1.0 - 1.0 / explanations
    points = most * (1.0 - quadratic_loss(call.sure, right, explanations) / guessing)
    sure = round(100 * call.sure)
    if right:
        words = f"Right, and {sure} in 100 sure." if sure >= _CALLS_SURE else f"Right, but only {sure} in 100 sure."
    else:
        words = "Wrong, and sure of it." if sure >= _CALLS_SURE else f"Wrong, though no more than {sure} in 100 sure."
    return Judged(points, most, words)


_CALLS_SURE = 75


def _decided(decision: Decision, truth: Truth) -> Judged:
    most = POINTS_DECIDED
    if decision == "either":
        return Judged(most, most, "Covers on or off: both are good work here.")
    if decision == "right":
        words = "The covers had to come off." if truth.covers == "off" else "The covers stayed on, as they should."
        return Judged(most, most, words)
    if decision == "torn_down":
        return Judged(-POINTS_TORN_DOWN, most, "Taken down for nothing.")
    if truth.ruins:
        return Judged(-POINTS_RUINED, most, "Driven on like this, pistons meet valves: the engine is gone.")
    return Judged(-POINTS_DRIVEN_ON, most, "Left as it is, though the fault lies behind the covers.")


def _spent(cost: float, cheapest: float, *, counts: bool) -> Judged:
    most = POINTS_SPENT
    if not counts:
        return Judged(0.0, most, "What it cost counts only for a call that was right.")
    share = 1.0 if cost <= cheapest else cheapest / cost
    if share >= 1.0:
        return Judged(most, most, "No cheaper way was found.")
    words = f"{cost / cheapest:.1f} times the cheapest way." if cheapest > 0.0 else "Nothing had to be spent."
    return Judged(most * share, most, words)
