"""The test that is expected to change the answer most per minute, simulated with the states themselves."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.call.gate import Gate
from phasko.core.call.hypotheses import Hypothesis
from phasko.core.call.posterior import Judgement
from phasko.core.call.technician_tests import TESTS, Target, TechnicianTest
from phasko.core.documents.analysis import FaultName, NextTest, OutcomeResult
from phasko.core.evidence import JobEvidence
from phasko.core.looks import asked_of, question
from phasko.core.words import lower_first

__all__ = [
    "allowed",
    "expected_gain",
    "expected_information",
    "minutes_of",
    "next_test",
    "outcome_table",
    "settling_look",
    "target_of",
]

_LIKELY = 1e-4


def minutes_of(test: TechnicianTest, job: JobEvidence) -> float:
    """What the test costs on this engine: as the job says, else the table's."""
    told = job.told.minutes if job.told is not None else {}
    return told.get(test.test, test.minutes.value)


def next_test(judgement: Judgement, job: JobEvidence, gate: Gate, cautions: Sequence[str]) -> NextTest | None:
    """The best test per minute among those that this engine has, that are not done, and that the cautions allow;
    ``None`` where none is due, or nothing is known yet.

    Where a fault behind the covers leads and nothing of a second kind has spoken, such a test is due however little it
    is expected to change: signals that agree on a wrong thing look just as sure.
    """
    leader = judgement.weighed[0]
    if not judgement.table.observed or gate.teardown == "go" or _settled(judgement, job):
        return None
    target = target_of(judgement, job)
    able = [test for test in TESTS if allowed(test, job, target, cautions)]
    rows = [i for i, chance in enumerate(judgement.chances) if chance > _LIKELY]
    rated = [(expected_gain(test, judgement, rows, target), test) for test in able]
    telling = [(gain / minutes_of(t, job), t) for gain, t in rated if gain >= numbers.NEXT_TEST_LEAST_BITS.value]
    if not telling and leader.best.covers_off:
        telling = [(1.0 / minutes_of(t, job), t) for t in able if t.second_kind]
    if not telling and gate.teardown == "confirm_first" and leader.explanation.area == "cylinder":
        # A second kind has to agree about this cylinder, however sure the first one is.
        parted = [(_from_sound(t, judgement, target), t) for t in able]
        telling = [(apart / minutes_of(t, job), t) for apart, t in parted if apart >= _PARTS_LEAST]
    if not telling and gate.teardown == "confirm_first":
        telling = [(gain / minutes_of(t, job), t) for gain, t in rated if gain > 0.0]
    if not telling:
        return None
    _, best = max(telling, key=lambda pair: pair[0])
    why, parts = _why(best, judgement, target)
    return _proposed(best, job, why, parts, _would_change(best, judgement, rows, target))


_PARTS_LEAST = 0.5


def _from_sound(test: TechnicianTest, judgement: Judgement, target: Target) -> float:
    """How differently the leader and a sound engine show in a test."""
    states = [judgement.hypotheses[row].state for row in (judgement.weighed[0].row, judgement.sound)]
    return _apart(*(test.outcomes(state, target) for state in states))


def _settled(judgement: Judgement, job: JobEvidence) -> bool:
    """Whether nothing is to be asked: all is well for sure, or nothing that was observed speaks for anything and
    nobody complains of anything."""
    leader = judgement.weighed[0]
    if leader.explanation.area != "health":
        return False
    if leader.probability >= numbers.SETTLED_PROBABILITY.value:
        return True
    complaint = job.told.complaint if job.told is not None else None
    complains = complaint is not None and any(symptom != "none" for symptom in complaint.symptoms)
    return not complains and leader.probability >= judgement.priors[leader.explanation.fault]


def allowed(test: TechnicianTest, job: JobEvidence, target: Target, cautions: Sequence[str]) -> bool:
    """Whether this engine has the test, it is not done, and no caution forbids it."""
    asked = question(test.answered_by) if test.answered_by is not None else None
    if asked is not None and (not asked_of(asked, job.profile) or (asked.per_cylinder and target.cylinder is None)):
        return False
    may_crank = "stop_cranking" not in cautions
    return test.possible(job) and (may_crank or not test.cranks) and not test.done(job, target)


def settling_look(judgement: Judgement, job: JobEvidence) -> NextTest | None:
    """The look that tells how the engine stands now, where its captures contradict each other; ``None`` once it was
    taken."""
    target = target_of(judgement, job)
    able = [t for t in TESTS if t.second_kind and allowed(t, job, target, ("stop_cranking",))]
    if not able:
        return None
    best = min(able, key=lambda one: minutes_of(one, job))
    why = "The captures contradict each other; this shows how it stands now."
    return _proposed(best, job, why, [w.explanation.fault for w in judgement.weighed[:2]])


def _proposed(
    test: TechnicianTest,
    job: JobEvidence,
    why: str,
    parts: Sequence[FaultName],
    outcomes: Sequence[OutcomeResult] = (),
) -> NextTest:
    return NextTest(
        test=test.test,
        title=test.title,
        how=test.how,
        minutes=minutes_of(test, job),
        cranks=test.cranks,
        why=why,
        parts=list(parts),
        outcomes=list(outcomes),
    )


def _would_change(
    test: TechnicianTest, judgement: Judgement, rows: Sequence[int], target: Target
) -> list[OutcomeResult]:
    """What each outcome of the test would make of the call, the likeliest outcome first."""
    weighed = {str(w.explanation.fault): w for w in judgement.weighed}
    chances = np.array([judgement.chances[i] for i in rows])
    outcomes = [test.outcomes(judgement.hypotheses[i].state, target) for i in rows]
    found = []
    for name in dict.fromkeys(name for one in outcomes for name in one):
        after = chances * np.array([one.get(name, 0.0) for one in outcomes])
        total = float(after.sum())
        if total <= _LIKELY:
            continue
        by_fault: dict[str, float] = {}
        for i, chance in zip(rows, after, strict=True):
            fault = judgement.hypotheses[i].explanation.fault
            by_fault[fault] = by_fault.get(fault, 0.0) + float(chance) / total
        leader = weighed[max(by_fault, key=lambda fault: by_fault[fault])]
        found.append(
            OutcomeResult(
                outcome=name,
                chance=min(1.0, total / float(chances.sum())),
                fault=leader.explanation.fault,
                words=lower_first(leader.title),
                probability=min(1.0, by_fault[leader.explanation.fault]),
            )
        )
    return sorted(found, key=lambda one: -one.chance)


def target_of(judgement: Judgement, job: JobEvidence) -> Target:
    """The cylinder and cam that the likeliest explanations are about."""
    cylinders: dict[int, float] = {}
    cams: dict[str, float] = {}
    for one, chance in zip(judgement.hypotheses, judgement.chances, strict=True):
        for branch in (one.branch, one.second_branch):
            if branch is None:
                continue
            if len(branch.place.cylinders) == 1:
                cylinder = branch.place.cylinders[0]
                cylinders[cylinder] = cylinders.get(cylinder, 0.0) + float(chance)
            for cam in branch.place.cams:
                cams[cam] = cams.get(cam, 0.0) + float(chance)
    named = max(cylinders, key=lambda c: cylinders[c], default=None)
    if named is not None and cylinders[named] < _CYLINDER_WORTH_A_TEST:
        named = None
    return Target(job.profile, named, max(cams, key=lambda c: cams[c], default=None))


_CYLINDER_WORTH_A_TEST = 0.05


def expected_gain(test: TechnicianTest, judgement: Judgement, rows: Sequence[int], target: Target) -> float:
    """What the test is expected to be worth, in bits: what it tells, and with a weight the hours of expected loss that
    it saves, opening for nothing against driving on."""
    table = outcome_table(test, judgement, rows, target)
    if table.shape[1] < 2:
        return 0.0
    chances = np.array([judgement.chances[i] for i in rows])
    hypotheses = [judgement.hypotheses[i] for i in rows]
    saved = _saved_hours(chances, hypotheses, table)
    return _information(chances, hypotheses, table) + numbers.DECISION_WEIGHT.value * saved


def expected_information(test: TechnicianTest, judgement: Judgement, rows: Sequence[int], target: Target) -> float:
    """Mutual information between the test's outcome and the explanation, in bits (Shannon 1948); ``rows`` are the
    hypotheses that count."""
    table = outcome_table(test, judgement, rows, target)
    chances = np.array([judgement.chances[i] for i in rows])
    return _information(chances, [judgement.hypotheses[i] for i in rows], table)


def outcome_table(test: TechnicianTest, judgement: Judgement, rows: Sequence[int], target: Target) -> Floats:
    """Chance (unitless) of every outcome of a test under every hypothesis that counts: shape (rows, outcomes)."""
    outcomes = [test.outcomes(judgement.hypotheses[i].state, target) for i in rows]
    names = sorted({name for one in outcomes for name in one})
    return np.array([[one.get(name, 0.0) for name in names] for one in outcomes])


def _information(chances: Floats, hypotheses: Sequence[Hypothesis], table: Floats) -> float:
    faults = sorted({one.explanation.fault for one in hypotheses})
    joint = np.zeros((len(faults), table.shape[1]))
    for chance, one, row in zip(chances, hypotheses, table, strict=True):
        joint[faults.index(one.explanation.fault)] += chance * row
    joint /= joint.sum()
    apart = joint.sum(axis=1, keepdims=True) @ joint.sum(axis=0, keepdims=True)
    kept = joint > 0.0
    return float((joint[kept] * np.log2(joint[kept] / apart[kept])).sum())


def _saved_hours(chances: Floats, hypotheses: Sequence[Hypothesis], table: Floats) -> float:
    """How much less is lost on the average with the outcome known: the better of opening and leaving is chosen."""
    covered = np.array([one.branch.covers_off for one in hypotheses])
    before = _least_loss(chances, covered)
    after = 0.0
    for outcome in range(table.shape[1]):
        after += _least_loss(chances * table[:, outcome], covered)
    return max(0.0, before - after)


def _least_loss(weights: Floats, covered: np.ndarray) -> float:
    in_vain = float(weights[~covered].sum()) * numbers.OPENING_HOURS.value
    missed = float(weights[covered].sum()) * numbers.ENGINE_HOURS.value * numbers.RUIN_CHANCE.value
    return min(in_vain, missed)


def _why(test: TechnicianTest, judgement: Judgement, target: Target) -> tuple[str, list[FaultName]]:
    """Which of the leading explanations the test parts most, and which those are."""
    leader = judgement.weighed[0]
    shown = test.outcomes(judgement.hypotheses[leader.row].state, target)
    best, most = None, 0.0
    for other in judgement.weighed[1:]:
        if other.probability < numbers.RIVAL_LEAST.value:
            break
        seen = test.outcomes(judgement.hypotheses[other.row].state, target)
        apart = other.probability * _apart(shown, seen)
        if apart > most and _apart(shown, seen) > 0.3:
            best, most = other, apart
    fault = leader.explanation.fault
    if best is None:
        return f"Shows whether “{lower_first(leader.title)}” holds.", [fault]
    why = f"Parts “{lower_first(leader.title)}” from “{lower_first(best.title)}”."
    return why, [fault, best.explanation.fault]


def _apart(one: Mapping[str, float], other: Mapping[str, float]) -> float:
    """How differently two states show in a test: 0 alike, 1 nothing in common."""
    return 0.5 * math.fsum(abs(one.get(name, 0.0) - other.get(name, 0.0)) for name in {*one, *other})
