"""Whether a switching sensor's levels are those of a sensor at all: said, never a reason to stop."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.analysis import Problem
from phasko.core.signals.switching import EdgeTrain

__all__ = ["level_problems"]


def level_problems(train: EdgeTrain) -> list[Problem]:
    """What is odd about the low and high level of a switching channel."""
    low, high, swing = train.levels.low, train.levels.high, train.levels.amplitude
    least, most = (entry.value for entry in numbers.LEVEL_PLAUSIBLE_V)
    spans = f"It switches between {low:.2f} and {high:.2f} V"
    if swing < least and low > numbers.LEVEL_LOW_V.value:
        text = f"{spans}: the low level is high, as with an open or bad ground. Edges were read all the same."
        return [Problem(code="bad_ground", channel=train.channel, text=text)]
    if not least <= swing <= most:
        text = f"{spans}, which no sensor gives: wrong probe factor or scale? Edges were read all the same."
        return [Problem(code="implausible_levels", channel=train.channel, text=text)]
    return []
