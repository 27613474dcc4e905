"""The test that is expected to change the answer most per minute, simulated with the explanations' own states."""

from __future__ import annotations

import math
from collections.abc import Sequence

from phasko.core import numbers
from phasko.core.call.posterior import Weighed
from phasko.core.call.technician_tests import CONFIRMED_BY, TESTS, TechnicianTest
from phasko.core.documents.analysis import NextTest
from phasko.core.documents.engine import EngineProfile
from phasko.core.looks import Look

__all__ = ["expected_bits", "next_test", "settling_look"]


def expected_bits(test: TechnicianTest, weighed: Sequence[Weighed]) -> float:
    """Mutual information between the test's outcome and the explanation, in bits (Shannon 1948).

    A look shows what is there with the reliability of the table; otherwise any other outcome alike.
    """
    joint = {w.explanation.fault: _outcomes(test, w) for w in weighed if w.probability > 0.0}
    names = sorted({name for shares in joint.values() for name in shares})
    if len(names) < 2:
        return 0.0
    right = numbers.LOOK_RELIABILITY.value
    chance = {w.explanation.fault: w.probability for w in weighed}
    rows = []
    for fault, shares in joint.items():
        unknown = 1.0 - sum(shares.values())
        row = [
            _blurred(shares.get(name, 0.0), 1.0 - unknown, right, len(names)) + unknown / len(names) for name in names
        ]
        rows.append((chance[fault], row))
    marginal = [sum(p * row[k] for p, row in rows) for k in range(len(names))]
    return sum(
        p * row[k] * math.log2(row[k] / marginal[k]) for p, row in rows for k in range(len(names)) if p and row[k]
    )


def _blurred(share: float, known: float, right: float, count: int) -> float:
    return right * share + (1.0 - right) * (known - share) / (count - 1)


def _outcomes(test: TechnicianTest, weighed: Weighed) -> dict[str, float]:
    shares: dict[str, float] = {}
    for one in weighed.branches:
        name = test.outcome(weighed.explanation.fault, one.branch.state)
        if name is not None:
            shares[name] = shares.get(name, 0.0) + one.probability / weighed.probability
    return shares


def next_test(
    profile: EngineProfile,
    weighed: Sequence[Weighed],
    known: Sequence[object],
    may_crank: bool,
    looks: Sequence[Look] = (),
) -> NextTest | None:
    """The best test per minute among those that the engine has and the cautions allow; ``None`` if none is due, or
    nothing is ``known`` yet. What the ``looks`` answer is done.

    Where the signals alone are sure of a fault behind the covers, a test of a second kind is due all the same,
    however little it is expected to change: signals that agree on a wrong thing look just as sure.
    """
    leader = weighed[0]
    settled = leader.explanation.fault == "none" and leader.probability >= numbers.SETTLED_PROBABILITY.value
    if not known or settled:
        return None
    done = {one.question for one in looks}
    allowed = [
        test
        for test in TESTS
        if test.possible(profile) and (may_crank or not test.cranks) and test.answered_by not in done
    ]
    rated = [(expected_bits(test, weighed) / test.minutes, test) for test in allowed]
    least = numbers.NEXT_TEST_LEAST_BITS.value
    telling = [(rate, test) for rate, test in rated if rate * test.minutes >= least]
    if not telling and leader.explanation.needs_covers_off:
        telling = [(1.0 / test.minutes, test) for test in allowed if test.feels_valves]
    if not telling:
        confirms = CONFIRMED_BY.get(leader.explanation.fault)
        telling = [(1.0 / test.minutes, test) for test in allowed if test.test == confirms]
    if not telling:
        return None
    _, best = max(telling, key=lambda pair: pair[0])
    return NextTest(
        test=best.test,
        title=best.title,
        how=best.how,
        minutes=best.minutes,
        cranks=best.cranks,
        why=_why(best, weighed),
    )


def settling_look(profile: EngineProfile, looks: Sequence[Look]) -> NextTest | None:
    """The look that tells how the engine stands now, where its captures contradict each other; ``None`` once it was
    taken."""
    done = {one.question for one in looks}
    able = [t for t in TESTS if t.feels_valves and not t.cranks and t.possible(profile) and t.answered_by not in done]
    if not able:
        return None
    best = min(able, key=lambda one: one.minutes)
    why = "The captures contradict each other; this shows how it stands now."
    return NextTest(test=best.test, title=best.title, how=best.how, minutes=best.minutes, cranks=best.cranks, why=why)


def _why(test: TechnicianTest, weighed: Sequence[Weighed]) -> str:
    """Which of the leading explanations the test parts."""
    leader = weighed[0]
    shown = test.outcome(leader.explanation.fault, leader.best.branch.state)
    for other in weighed[1:]:
        if other.probability < numbers.RIVAL_LEAST.value:
            break
        seen = test.outcome(other.explanation.fault, other.best.branch.state)
        if seen is not None and shown is not None and seen != shown:
            return f"Parts “{_title(leader)}” from “{_title(other)}”."
    return f"Shows whether “{_title(leader)}” holds."


def _title(weighed: Weighed) -> str:
    title = weighed.explanation.title(weighed.best.branch.place, weighed.amount_deg, weighed.best.branch.pitches)
    return title[0].lower() + title[1:]
