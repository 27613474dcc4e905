"""Whether the covers may come off: the conditions, each of which can say what is missing."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from phasko.core import numbers
from phasko.core.call.posterior import Weighed, kind_log_evidence
from phasko.core.capture.contradictions import Contradiction
from phasko.core.documents.analysis import NextTest
from phasko.core.documents.engine import EngineProfile
from phasko.core.evidence import EVIDENCE, EvidenceKind, Observable
from phasko.core.evidence.indications import Disturbance
from phasko.core.looks import Look, question, second_kind_log_odds, told_answer
from phasko.core.words import degrees

__all__ = ["Gate", "contradicted_gate", "decide_gate", "teardown_probability"]


@dataclass(frozen=True, slots=True)
class Gate:
    teardown: Literal["go", "confirm_first", "no"]
    because: str


def teardown_probability(weighed: Sequence[Weighed]) -> float:
    """Chance that something is true for which the covers must come off."""
    return sum(w.probability for w in weighed if w.explanation.needs_covers_off)


def decide_gate(
    profile: EngineProfile,
    weighed: Sequence[Weighed],
    observed: Sequence[Observable],
    test: NextTest | None,
    looks: Sequence[Look] = (),
    disturbed: Sequence[Disturbance] = (),
) -> Gate:
    """``go`` only when nothing is missing; ``no`` when little speaks for a fault behind the covers."""
    leader = weighed[0]
    if leader.explanation.fault == "weak_cylinder" and leader.probability > 0.5:
        return _weak_cylinder_gate(leader, looks, disturbed)
    if not observed and not looks:
        return Gate("no", "Nothing has been measured yet.")
    need = teardown_probability(weighed)
    if need < numbers.GATE_SUSPICION.value:
        in_100 = round(100 * need)
        speak = "speaks" if in_100 == 1 else "speak"
        how_many = f"Only {in_100} in 100 {speak}" if in_100 else "Less than 1 in 100 speaks"
        return Gate("no", f"{how_many} for anything behind the covers.")
    if need <= _before(profile, weighed):
        return Gate("no", "Nothing measured speaks for anything behind the covers.")
    if not leader.explanation.needs_covers_off:
        return Gate("confirm_first", "The leading explanation needs no covers off, but one that does is not excluded.")
    missing = _missing(profile, weighed, observed, looks)
    if missing is None and test is not None:
        missing = f"A cheap test could still change the answer: {test.title.lower()}."
    return Gate("confirm_first", missing) if missing else Gate("go", "Measurements of different kinds agree.")


def contradicted_gate(disagree: Sequence[Contradiction]) -> Gate:
    """Where captures of one state contradict each other nothing is concluded from them, neither that all is well."""
    worst = disagree[0]
    return Gate(
        "confirm_first",
        f"Two captures of one state read cam {worst.cam.id} {degrees(worst.apart_deg, worst.u95_deg)} apart. Does the "
        "fault come and go, or was something repaired in between? A look settles how it stands now.",
    )


def _before(profile: EngineProfile, weighed: Sequence[Weighed]) -> float:
    """The same chance before anything was measured."""
    every = sum(w.explanation.prior(profile) for w in weighed)
    return sum(w.explanation.prior(profile) for w in weighed if w.explanation.needs_covers_off) / every


def _weak_cylinder_gate(leader: Weighed, looks: Sequence[Look], disturbed: Sequence[Disturbance]) -> Gate:
    """A dead cylinder opens the engine only when two of compression, gauge or leak-down and a look at it agree."""
    cylinders = leader.best.branch.place.cylinders
    cranked = any(d.fault == "weak_cylinder" and set(d.cylinders) == set(cylinders) for d in disturbed)
    read = {
        one.question
        for one in looks
        if one.cylinder in cylinders and (answer := told_answer(one, looks)) is not None and answer.id in _SEAL_LOST
    }
    kinds = cranked + ("leak_down" in read) + ("gauge" in read)
    if (
        len(cylinders) == 1
        and leader.probability >= numbers.GATE_PROBABILITY.value
        and kinds >= 2
        and "leak_down" in read
    ):
        return Gate("go", "Compression and leak-down agree about this cylinder.")
    if cranked and not read:
        alone = "Compression while cranking is one kind of evidence"
        return Gate(
            "confirm_first", f"{alone}: a gauge, leak-down or in-cylinder reading, or a look, must agree first."
        )
    return Gate("confirm_first", "Two of compression, leak-down and a look must agree about it, leak-down among them.")


_SEAL_LOST = ("low", "leaks")


def _missing(
    profile: EngineProfile, weighed: Sequence[Weighed], observed: Sequence[Observable], looks: Sequence[Look]
) -> str | None:
    """The first condition that does not hold, in words."""
    leader = weighed[0]
    second_kinds = [kind for kind in EVIDENCE if kind.opens_covers and any(o.kind == kind.name for o in observed)]
    seen = any((asked := question(one.question)) is not None and asked.second_kind for one in looks)
    if not second_kinds and not seen:
        return "Only the cam signals speak so far. Nothing yet has felt the pistons or valves, or seen the marks."
    if leader.probability < numbers.GATE_PROBABILITY.value:
        return f"The leading explanation stands at {100 * leader.probability:.0f} in 100; that is not sure enough."
    for other in weighed[1:]:
        if other.explanation.needs_covers_off or _excluded_by_look(other, leader, looks):
            continue
        if not _excluded(other, leader, second_kinds, profile, observed):
            title = other.explanation.title(other.best.branch.place, other.amount_deg, other.best.branch.pitches)
            return f"Nothing of a second kind excludes “{title[0].lower() + title[1:]}”."
    if not observed:
        return "Nothing but looks speaks for it; measure the cams against the crank too."
    values = np.array([o.value for o in observed])
    off = np.abs(values - leader.best.predicted) / leader.best.predicted_sd
    worst = int(np.argmax(off))
    if off[worst] > numbers.GATE_CONTRADICTION.value:
        return f"One measurement contradicts it: {observed[worst].words}."
    return None


def _excluded_by_look(other: Weighed, leader: Weighed, looks: Sequence[Look]) -> bool:
    first = (leader.explanation.fault, leader.best.branch)
    second = (other.explanation.fault, other.best.branch)
    return second_kind_log_odds(first, second, looks) >= math.log(numbers.GATE_ODDS.value)


def _excluded(
    other: Weighed,
    leader: Weighed,
    kinds: Sequence[EvidenceKind],
    profile: EngineProfile,
    observed: Sequence[Observable],
) -> bool:
    odds = [
        kind_log_evidence(kind, leader.explanation, profile, observed)
        - kind_log_evidence(kind, other.explanation, profile, observed)
        for kind in kinds
    ]
    return bool(odds) and max(odds) >= math.log(numbers.GATE_ODDS.value)
