"""The plan: every test that is worth doing, best first by what it tells per minute and risk; also before anything is
measured."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.call.cautions import cautions, valves_towards_pistons
from phasko.core.call.posterior import Judgement, judge
from phasko.core.call.technician_tests import TESTS, Target, TechnicianTest
from phasko.core.call.test_choice import allowed, expected_gain, minutes_of, outcome_table, target_of
from phasko.core.call.verdict import with_told
from phasko.core.evidence import JobEvidence, observe_all
from phasko.core.words import count_words, lower_first

__all__ = ["PlannedTest", "plan_tests"]


@dataclass(frozen=True, slots=True)
class PlannedTest:
    """One test of the plan: what it costs (minutes; ``risk_minutes`` is what the chance of a ruined engine adds on the
    average), what it is expected to tell (``gain_bits``), how many explanations it parts, and why in a sentence.
    ``answered_by``: the look under which its answer is noted; ``None`` for captures."""

    test: str
    title: str
    how: str
    minutes: float
    risk_minutes: float
    gain_bits: float
    parts: int
    cranks: bool
    why: str
    answered_by: str | None

    @property
    def worth(self) -> float:
        """Bits a minute, its risk counted in."""
        return self.gain_bits / (self.minutes + self.risk_minutes)


def plan_tests(job: JobEvidence) -> tuple[PlannedTest, ...]:
    """Every test that this engine allows, is not done, is not forbidden by a caution, and tells something; best first.

    The gain is the same as that of the call's next test: mutual information between outcome and explanation, and the
    hours that a better decision saves. The chances before measuring stand where nothing was measured.
    """
    job = with_told(job)
    observed = observe_all(job)
    judgement = judge(job.profile, observed)
    # What only was told forbids nothing: the minutes that cranking risks stand against it in the order.
    seen = bool(job.captures or job.looks or job.roads)
    warned = cautions(judgement, job.profile, observed) if seen else []
    target = target_of(judgement, job)
    rows = [i for i, chance in enumerate(judgement.chances) if chance > _LIKELY]
    meets = _valves_meet(judgement, job)
    planned = [
        _planned(test, job, judgement, rows, target, meets) for test in TESTS if allowed(test, job, target, warned)
    ]
    telling = [one for one in planned if one.gain_bits >= numbers.NEXT_TEST_LEAST_BITS.value]
    return tuple(sorted(telling, key=lambda one: -one.worth))


_LIKELY = 1e-4


def _valves_meet(judgement: Judgement, job: JobEvidence) -> float:
    """Chance that valves stand where they meet pistons, on an engine not known to be free-running."""
    if job.profile.interference is False:
        return 0.0
    return sum(
        float(chance) * valves_towards_pistons(one.state, job.profile)
        for one, chance in zip(judgement.hypotheses, judgement.chances, strict=True)
        if chance > _LIKELY
    )


def _planned(
    test: TechnicianTest,
    job: JobEvidence,
    judgement: Judgement,
    rows: Sequence[int],
    target: Target,
    meets: float,
) -> PlannedTest:
    gain = expected_gain(test, judgement, rows, target)
    parts = _parted(judgement, rows, outcome_table(test, judgement, rows, target))
    minutes = minutes_of(test, job)
    ruin = meets * numbers.CRANKING_RUIN_CHANCE.value * numbers.ENGINE_HOURS.value * 60.0 if test.cranks else 0.0
    return PlannedTest(
        test=test.test,
        title=test.title,
        how=test.how,
        minutes=minutes,
        risk_minutes=ruin,
        gain_bits=gain,
        parts=parts,
        cranks=test.cranks,
        why=_why(test, minutes, parts, ruin),
        answered_by=test.answered_by,
    )


def _parted(judgement: Judgement, rows: Sequence[int], table: Floats) -> int:
    """How many explanations with at least one chance in a hundred some likely outcome moves by a factor of two."""
    if table.shape[1] < 2:
        return 0
    chances = np.array([judgement.chances[i] for i in rows])
    chances /= chances.sum()
    faults = np.array([judgement.fault_of[i] for i in rows])
    shown = chances @ table
    moved = 0
    for fault in np.unique(faults):
        own = chances * (faults == fault)
        total = float(own.sum())
        if total < _COUNTS_FROM:
            continue
        ratio = np.maximum((own @ table) / total, 1e-6) / np.maximum(shown, 1e-9)
        moved += bool(np.any(((ratio > 2.0) | (ratio < 0.5)) & (shown > _COUNTS_FROM)))
    return moved


_COUNTS_FROM = 0.01


def _why(test: TechnicianTest, minutes: float, parts: int, ruin: float) -> str:
    time = f"{count_words(round(minutes))} minute{'' if round(minutes) == 1 else 's'}"
    reach = _REACH.get(test.test, "nothing to plug in" if test.answered_by is not None else "")
    cost = f"{reach}, {time}" if reach else time
    tells = f"parts {count_words(parts)} explanation{'' if parts == 1 else 's'}" if parts else "tells a little"
    risk = "; turns the engine" if test.cranks and ruin >= _RISK_SAID_MINUTES else ""
    return f"{cost[:1].upper()}{lower_first(cost)[1:]}: {tells}{risk}"


_RISK_SAID_MINUTES = 1.0
_REACH = {
    "capture_cranking": "crank, cams and one clamp",
    "capture_running": "the same leads",
    "relative_compression": "one clamp and one lead",
    "phaser_sweep": "one lead more",
    "cylinder_pressure": "one plug out",
    "second_cylinder_pressure": "another plug out",
    "sync_adjust": "two leads",
    "spark_turned": "two leads",
    "wiggle": "one lead",
    "profile_check": "nothing to plug in",
    "known_good": "nothing to plug in",
    "road_test": "a scan tool",
}
"""What has to be plugged in for a test, in words."""
