"""Following the next test from the first capture on, against working through a fixed list: what it costs in minutes.

What a look would show is drawn from the truth with a reliability of its own; the further captures of the job are there
for whoever asks for one.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from phasko.core.call import call
from phasko.core.call.technician_tests import TESTS
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.analysis import Verdict
from phasko.core.documents.job import JobDocument, Look
from phasko.core.evidence import JobEvidence
from trials.drawn_faults import Truth
from trials.drawn_jobs import BenchJob

__all__ = ["Walk", "walked"]

FIXED_ORDER = (
    "wiring",
    "rhythm",
    "throttle_hand",
    "marks",
    "fuel_pressure",
    "cam_target",
    "crank_wheel",
    "exhaust_opened",
    "intake_opened",
    "tensioner",
    "capture_running",
    "valve_moves",
    "leak_down",
)
"""Cheap and easy things first, as a list on the wall has them (common practice, no source)."""

SURE = 0.9
MOST_STEPS = 8
_MINUTES = {test.test: test.minutes.value for test in TESTS}


@dataclass(frozen=True)
class Walk:
    """Minutes until the call was sure, led by the next test and by the list, and whether it was right then."""

    led_minutes: float
    listed_minutes: float
    led_right: bool
    listed_right: bool


def walked(job: BenchJob, captures: Sequence[CaptureMeasurement]) -> Walk:
    """Both ways from the first capture on."""
    led = _walk(job, captures, _by_next_test)
    listed = _walk(job, captures, _by_list)
    return Walk(led[0], listed[0], led[1], listed[1])


Choose = Callable[[Verdict, Sequence[str]], str | None]


def _by_next_test(verdict: Verdict, done: Sequence[str]) -> str | None:  # noqa: ARG001
    return verdict.next_test.test if verdict.next_test is not None else None


def _by_list(verdict: Verdict, done: Sequence[str]) -> str | None:
    stopped = "stop_cranking" in verdict.cautions
    cranking = {test.test for test in TESTS if test.cranks}
    return next((name for name in FIXED_ORDER if name not in done and not (stopped and name in cranking)), None)


def _walk(job: BenchJob, captures: Sequence[CaptureMeasurement], choose: Choose) -> tuple[float, bool]:
    rng = np.random.default_rng([job.seed, 43])
    looks: list[Look] = []
    done: list[str] = []
    at_hand = list(captures[:1])
    spent = 0.0
    while True:
        told = _told(done)
        verdict = call(JobEvidence(job.profile, at_hand, looks, told=told))
        leader = verdict.faults[0]
        test = choose(verdict, done)
        # What cannot be answered here ends the walk, and so does what was done already.
        test = test if test in _ANSWERED and test not in done else None
        if leader.probability >= SURE or verdict.teardown == "go" or test is None or len(done) >= MOST_STEPS:
            return spent, leader.fault in job.truth.acceptable
        spent += _MINUTES[test]
        done.append(test)
        cylinder = leader.where.cylinders[0] if len(leader.where.cylinders) == 1 else None
        look = _shown(test, job, cylinder, rng)
        if look is not None:
            looks.append(look)
        elif test.startswith("capture") and len(at_hand) < len(captures):
            at_hand = list(captures)


def _told(done: Sequence[str]) -> JobDocument:
    """Tests that cannot be answered here, and those done without an answer, are too dear to be proposed (again)."""
    dear = {name: 9_999.0 for name in _MINUTES if name in done or name not in _ANSWERED}
    return JobDocument.model_validate({"schema": "phasko.job/1", "minutes": dear})


_ANSWERED = {*FIXED_ORDER, "borescope", "sensor_wires", "wiggle", "profile_check", "capture_cranking"}


def _shown(test: str, job: BenchJob, cylinder: int | None, rng: np.random.Generator) -> Look | None:
    """What a look or reading shows of the truth."""
    truth = job.truth
    reliable = rng.random() < 0.95
    if test == "leak_down":
        own = cylinder or job.profile.firing_order[0]
        leaks = truth.fault == "weak_cylinder" and own in truth.cylinders
        return Look(question=test, cylinder=own, value=float(rng.uniform(35, 80) if leaks else rng.uniform(3, 15)))
    if test in ("valve_moves", "borescope"):
        own = cylinder or job.profile.firing_order[0]
        return Look(question=test, cylinder=own, answer=_answer(test, truth, own, reliable))
    if test == "wiggle":
        return Look(question="wiring", answer="damaged" if ("sensor" in truth.fault) is reliable else "good")
    if test in ("capture_running", "profile_check") or test.startswith("capture"):
        return None
    return Look(question=test, answer=_answer(test, truth, cylinder, reliable))


def _answer(test: str, truth: Truth, cylinder: int | None, reliable: bool) -> str:
    broken = truth.fault == "drive_broken"
    # On the maker's own mark a slipped hub shows nothing.
    out = max((abs(v - truth.hub_deg) for v in truth.valves_deg.values()), default=0.0)
    phased = truth.fault == "phaser_off_park"
    usual, other, holds = {
        "marks": ("true", "out", broken or (out > 8.0 and not phased)),
        "cam_target": ("sits_right", "moved", any(abs(v) > 5.0 for v in truth.target_deg.values())),
        "crank_wheel": ("sits_right", "moved", abs(truth.wheel_deg) > 5.0),
        "tensioner": ("usual", "far_out", truth.fault == "chain_stretched"),
        "wiring": ("good", "damaged", "sensor" in truth.fault),
        "sensor_wires": ("right", "ground_missing", "sensor" in truth.fault),
        "rhythm": ("even", "uneven", truth.fault in ("weak_cylinder", "valve_train")),
        "throttle_hand": ("pulls", "pushes_back", out > 22.0),
        "fuel_pressure": ("right", "low", False),
        "exhaust_opened": ("same", "better", truth.fault == "exhaust_restricted"),
        "intake_opened": ("same", "better", truth.fault == "intake_restricted"),
        "valve_moves": ("moves", "still", broken or (truth.fault == "valve_train" and cylinder in truth.cylinders)),
        "borescope": ("clean", "marked", broken),
    }[test]
    return other if holds is reliable else usual
