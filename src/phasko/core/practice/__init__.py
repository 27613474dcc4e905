"""Learning the trade: what there is to learn, how an answer is marked, what a call is worth, how one gets better."""

from phasko.core.practice.curve import Curve, CurvePoint, TopicScore, curve_of
from phasko.core.practice.marking import Asked, Marked, marked
from phasko.core.practice.score import Covers, Decision, Judged, LearnersCall, Score, Truth, score_of
from phasko.core.practice.topics import TOPICS, Topic, topic, topic_of

__all__ = [
    "TOPICS",
    "Asked",
    "Covers",
    "Curve",
    "CurvePoint",
    "Decision",
    "Judged",
    "LearnersCall",
    "Marked",
    "Score",
    "Topic",
    "TopicScore",
    "Truth",
    "curve_of",
    "marked",
    "score_of",
    "topic",
    "topic_of",
]
