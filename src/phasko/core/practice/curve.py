"""How somebody gets better: points over time, and by topic."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import fmean, stdev

from phasko.core.practice.topics import TOPICS
from phasko.core.uncertainty import t_factor

__all__ = ["Curve", "CurvePoint", "Done", "TopicScore", "curve_of"]

WINDOW = 10
"""So many attempts one point of the curve is the mean of."""


@dataclass(frozen=True, slots=True)
class Done:
    """One attempt that has ended: its points of 100, and its topic."""

    points: float
    topic: str


@dataclass(frozen=True, slots=True)
class CurvePoint:
    """The mean of the last attempts up to the one of that ``number`` (from 1)."""

    number: int
    points: float
    mean: float


@dataclass(frozen=True, slots=True)
class TopicScore:
    """Of one topic: how many attempts, their mean points, and the half width of that mean (95 %); ``None`` with fewer
    than two, which tell nothing of how they scatter."""

    topic: str
    title: str
    attempts: int
    mean: float | None
    u95: float | None


@dataclass(frozen=True, slots=True)
class Curve:
    """Points over time, and by topic in the order of the trade."""

    points: tuple[CurvePoint, ...]
    topics: tuple[TopicScore, ...]


def curve_of(done: Sequence[Done]) -> Curve:
    """The curve over these attempts, the oldest first."""
    points = [one.points for one in done]
    curve = tuple(
        CurvePoint(i, points[i - 1], fmean(points[max(0, i - WINDOW) : i])) for i in range(1, len(points) + 1)
    )
    return Curve(curve, tuple(_topic(one.id, one.title, done) for one in TOPICS))


def _topic(topic_id: str, title: str, done: Sequence[Done]) -> TopicScore:
    own = [one.points for one in done if one.topic == topic_id]
    if not own:
        return TopicScore(topic_id, title, 0, None, None)
    if len(own) < 2:
        return TopicScore(topic_id, title, 1, own[0], None)
    return TopicScore(topic_id, title, len(own), fmean(own), t_factor(len(own) - 1) * stdev(own) / math.sqrt(len(own)))
