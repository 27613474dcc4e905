"""How much what was looked at speaks for each explanation."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName, LookResult
from phasko.core.engine.state import Branch
from phasko.core.looks.look import Look
from phasko.core.looks.questions import Answer, Speaks, chances, question

__all__ = [
    "log_chance_of_looks",
    "look_reasons",
    "look_results",
    "look_words",
    "looks_speak_for",
    "second_kind_log_odds",
    "told_answer",
    "weight_words",
]

Holds = Callable[[FaultName, Branch, int | None], bool]


def _valves(least_deg: float) -> Holds:
    def holds(fault: FaultName, branch: Branch, cylinder: int | None) -> bool:  # noqa: ARG001
        return any(abs(deg) >= least_deg for deg in branch.state.valves_deg.values())

    return holds


def _among(*faults: FaultName) -> Holds:
    def holds(fault: FaultName, branch: Branch, cylinder: int | None) -> bool:  # noqa: ARG001
        return fault in faults

    return holds


def _at_cylinder(*faults: FaultName) -> Holds:
    def holds(fault: FaultName, branch: Branch, cylinder: int | None) -> bool:
        return fault in faults and (not branch.place.cylinders or cylinder in branch.place.cylinders)

    return holds


def _one_weak(fault: FaultName, branch: Branch, cylinder: int | None) -> bool:  # noqa: ARG001
    """A cylinder alone: a whole bank sounds even."""
    return fault in ("weak_cylinder", "valve_train") and len(branch.place.cylinders) == 1


def _disagree(fault: FaultName, branch: Branch, cylinder: int | None) -> bool:  # noqa: ARG001
    """Cam and crank signals so far from each other that a control unit may withhold spark and fuel."""
    if fault in ("cam_sensor_fault", "crank_sensor_fault"):
        return True
    least = numbers.OUT_OF_STEP_DEG.value
    shifts = [*branch.state.valves_deg.values(), *branch.state.cam_signals_deg.values(), branch.state.crank_wheel_deg]
    return any(abs(deg) >= least for deg in shifts)


_HOLDS: Mapping[Speaks, Holds] = {
    "valves out of time": _valves(numbers.LOOK_SEEN_DEG.value),
    "valves far out of time": _valves(numbers.PUSH_BACK_LEAST_DEG.value),
    "a worn timing drive": _among("chain_stretched", "chain_jumped", "phaser_off_park"),
    "a long chain": _among("chain_stretched", "chain_jumped"),
    "a sensor or its wiring": _among("cam_sensor_fault", "crank_sensor_fault", "induced_pulses"),
    "signals that do not agree": _disagree,
    "one weak cylinder": _one_weak,
    "a leak in that cylinder": _at_cylinder("weak_cylinder"),
    "a valve fault in that cylinder": _at_cylinder("valve_train"),
    "a blocked exhaust": _among("exhaust_restricted"),
    "a blocked intake": _among("intake_restricted"),
    "a fault outside this list, such as fuel": _among("something_else"),
    "a part fitted wrong": _among(
        "cam_signal_shifted", "crank_signal_shifted", "cam_sensor_fault", "crank_sensor_fault"
    ),
    "a drive put together wrong": _among("chain_jumped", "cam_slipped", "cam_signal_shifted", "crank_signal_shifted"),
    "nothing": lambda fault, branch, cylinder: False,  # noqa: ARG005
}

_LOW = Answer("low", "Low", "a leak in that cylinder", *chances("gauge.low"))
_FINE = Answer("fine", "Fine", "a leak in that cylinder", *chances("gauge.fine"))
_LEAKS = Answer("leaks", "Leaks", "a leak in that cylinder", *chances("leak_down.leaks"))
_TIGHT = Answer("tight", "Tight", "a leak in that cylinder", *chances("leak_down.tight"))


def told_answer(look: Look, others: Sequence[Look]) -> Answer | None:
    """What a look says: its answer, or its reading judged against the highest of the same gauge, or the limit
    of leak-down; ``None`` where a single reading cannot be judged."""
    asked = question(look.question)
    if asked is None:
        return None
    if look.question == "gauge" and look.value is not None:
        every = [o.value for o in others if o.question == "gauge" and o.value is not None]
        if len(every) < 2:
            return None
        return _LOW if look.value < numbers.GAUGE_LOW_SHARE.value * max(every) else _FINE
    if look.question == "leak_down" and look.value is not None:
        return _LEAKS if look.value > numbers.LEAK_DOWN_MOST_PERCENT.value else _TIGHT
    return next((answer for answer in asked.answers if answer.id == look.answer), None)


def log_chance_of_looks(fault: FaultName, branch: Branch, looks: Sequence[Look]) -> float:
    """ln of the chance that everything seen and heard is as it is, if that explanation holds; observations are taken
    as independent of each other once the fault is known."""
    return sum(_log(answer, fault, branch, one.cylinder) for one, answer in _told(looks))


def second_kind_log_odds(
    first: tuple[FaultName, Branch], second: tuple[FaultName, Branch], looks: Sequence[Look]
) -> float:
    """ln of the odds, first over second, of what saw marks or valves themselves; 0 without such a look."""
    seen = [(o, a) for o, a in _told(looks) if (q := question(o.question)) is not None and q.second_kind]
    return sum(_log(a, *first, o.cylinder) - _log(a, *second, o.cylinder) for o, a in seen)


def weight_words(look: Look, looks: Sequence[Look]) -> str:
    """The weight of a look in words."""
    answer = told_answer(look, looks)
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


def look_reasons(fault: FaultName, branch: Branch, looks: Sequence[Look]) -> tuple[list[str], list[str]]:
    """(for, against) an explanation: what weighs at least two to one there."""
    speaks_for: list[str] = []
    against: list[str] = []
    for one, answer in _told(looks):
        holds = _HOLDS[answer.speaks](fault, branch, one.cylinder)
        odds = answer.chance / answer.otherwise
        if holds and odds >= 2.0:
            speaks_for.append(look_words(one, answer))
        elif (holds and odds <= 0.5) or (not holds and odds >= 4.0):
            against.append(look_words(one, answer))
    return speaks_for, against


def looks_speak_for(fault: FaultName, branches: Sequence[Branch], looks: Sequence[Look]) -> bool:
    """Whether anything seen or heard is at least twice as likely with that fault, wherever it sits."""
    return any(
        answer.chance >= 2.0 * answer.otherwise and any(_HOLDS[answer.speaks](fault, b, one.cylinder) for b in branches)
        for one, answer in _told(looks)
    )


def look_words(one: Look, answer: Answer) -> str:
    """A look in a few words."""
    asked = question(one.question)
    title = asked.title if asked is not None else one.question
    where = f", cylinder {one.cylinder}" if one.cylinder is not None else ""
    reading = f"{one.value:g} {asked.unit} ({answer.title.lower()})" if asked is not None and asked.unit else None
    return f"{title}{where}: {reading or answer.title.lower()}"


def look_results(looks: Sequence[Look]) -> list[LookResult]:
    """Looks as entries of the result document."""
    found = []
    for one in looks:
        asked, answer = question(one.question), told_answer(one, looks)
        unit = asked.unit if asked is not None else None
        reading = f"{one.value:g} {unit}" if one.value is not None and unit else ""
        found.append(
            LookResult(
                question=one.question,
                title=asked.title if asked is not None else one.question,
                answer=reading or (answer.title if answer is not None else one.answer or ""),
                cylinder=one.cylinder,
                weight=weight_words(one, looks),
                note=one.note,
            )
        )
    return found


def _told(looks: Sequence[Look]) -> list[tuple[Look, Answer]]:
    found = [(one, told_answer(one, looks)) for one in looks]
    return [(one, answer) for one, answer in found if answer is not None]


def _log(answer: Answer, fault: FaultName, branch: Branch, cylinder: int | None) -> float:
    return math.log(answer.chance if _HOLDS[answer.speaks](fault, branch, cylinder) else answer.otherwise)
