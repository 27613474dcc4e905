"""What a look says and weighs, in words."""

from __future__ import annotations

from collections.abc import Sequence

from phasko.core import numbers
from phasko.core.documents.analysis import LookResult
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.job import Look
from phasko.core.looks.questions import Answer, chances, question

__all__ = ["gauge_limit_bar", "look_results", "look_words", "told_answer", "weight_words"]

_LOW = Answer("low", "Low", "a leak in that cylinder", *chances("gauge.low"))
_FINE = Answer("fine", "Fine", "a leak in that cylinder", *chances("gauge.fine"))
_LEAKS = Answer("leaks", "Leaks", "a leak in that cylinder", *chances("leak_down.leaks"))
_TIGHT = Answer("tight", "Tight", "a leak in that cylinder", *chances("leak_down.tight"))
_PUSHES = Answer("pushes_back", "Pushes", "valves far out of time", *chances("throttle_hand.pushes_back"))
_PULLS = Answer("pulls", "Sucks", "valves far out of time", *chances("throttle_hand.pulls"))


def gauge_limit_bar(others: Sequence[float], profile: EngineProfile | None) -> float | None:
    """Below which a gauge reading is low: three quarters of the highest, and no less than the profile's range; ``None``
    where a single reading has nothing to be held against."""
    limits = [numbers.GAUGE_LOW_SHARE.value * max(others)] if len(others) > 1 else []
    if profile is not None and profile.cranking_pressure_bar is not None:
        limits.append(numbers.GAUGE_RANGE_SHARE.value * profile.cranking_pressure_bar[0])
    return max(limits, default=None)


def told_answer(look: Look, others: Sequence[Look], profile: EngineProfile | None = None) -> Answer | None:
    """What a look says: its answer, or its reading judged against the others of the same gauge and the profile's
    range, or the limit of leak-down; ``None`` where a reading cannot be judged."""
    asked = question(look.question)
    if asked is None:
        return None
    if look.question == "gauge" and look.value is not None:
        every = [o.value for o in others if o.question == "gauge" and o.value is not None]
        limit = gauge_limit_bar(every, profile)
        return None if limit is None else _LOW if look.value < limit else _FINE
    if look.question == "leak_down" and look.value is not None:
        return _LEAKS if look.value > numbers.LEAK_DOWN_MOST_PERCENT.value else _TIGHT
    if look.question == "manifold" and look.value is not None:
        return _PUSHES if look.value > numbers.MANIFOLD_PUSHES_BAR.value else _PULLS
    return next((answer for answer in asked.answers if answer.id == look.answer), None)


def weight_words(look: Look, looks: Sequence[Look], profile: EngineProfile | None = None) -> str:
    """The weight of a look in words."""
    answer = told_answer(look, looks, profile)
    if answer is None:
        return "One reading alone says nothing; take the others too."
    if answer.speaks == "nothing" or answer.chance == answer.otherwise:
        return "Noted; it weighs nothing."
    odds = answer.chance / answer.otherwise
    times = max(odds, 1.0 / odds)
    if times < numbers.WEIGHT_LEAST.value:
        return "Weighs next to nothing."
    thing: str = answer.speaks
    if look.cylinder is not None:
        thing = thing.replace("that cylinder", f"cylinder {look.cylinder}")
    return f"{'Points to' if odds > 1 else 'Speaks against'} {thing}, {times:.0f} to 1."


def look_words(one: Look, answer: Answer) -> str:
    """A look in a few words."""
    asked = question(one.question)
    title = asked.title if asked is not None else one.question
    where = f", cylinder {one.cylinder}" if one.cylinder is not None else f", {one.cam}" if one.cam is not None else ""
    if asked is not None and asked.unit:
        return f"{title}{where}: {one.value:g} {asked.unit} ({answer.title.lower()})"
    size = f" by {abs(one.amount_deg):g}° {'late' if one.amount_deg > 0 else 'early'}" if one.amount_deg else ""
    proved = ", a piston proved at TDC" if one.crank_at == "tdc" else ""
    return f"{title}{where}: {answer.title.lower()}{size}{proved}"


def look_results(looks: Sequence[Look], profile: EngineProfile | None = None) -> list[LookResult]:
    """Looks as entries of the result document."""
    found = []
    for one in looks:
        asked, answer = question(one.question), told_answer(one, looks, profile)
        unit = asked.unit if asked is not None else None
        reading = f"{one.value:g} {unit}" if one.value is not None and unit else ""
        found.append(
            LookResult(
                question=one.question,
                title=asked.title if asked is not None else one.question,
                answer=reading or (answer.title if answer is not None else one.answer or ""),
                cylinder=one.cylinder,
                weight=weight_words(one, looks, profile),
                note=one.note,
            )
        )
    return found
