"""Simulated learners of mixed skill at practice cars, and the points that they get."""

from __future__ import annotations

import random
from collections.abc import Sequence
from dataclasses import dataclass

from phasko.bench.blind import ABLE, drawn_car, is_able
from phasko.core.documents.analysis import Verdict
from phasko.core.documents.fault_name import FaultName
from phasko.core.practice import LearnersCall, score_of
from phasko.jobs.practice.on_the_stand import (
    CarOnTheStand,
    StandTest,
    cheapest_way,
    covers_of,
    machines_way,
    next_of,
    settled,
    truth_of,
)

ON_THE_WALL = ("capture_cranking", "wiring", "rhythm", "throttle_hand", "marks", "fuel_pressure", "cam_target")
"""What somebody does who works through a list (common practice, no source)."""


MOST_TESTS = 9


TAKEN_FOR: dict[FaultName, tuple[FaultName, ...]] = {
    "none": ("cam_sensor_fault", "chain_stretched", "weak_cylinder"),
    "chain_jumped": ("crank_signal_shifted", "phaser_off_park", "cam_signal_shifted", "chain_stretched"),
    "chain_stretched": ("chain_jumped", "none", "phaser_off_park"),
    "cam_slipped": ("phaser_off_park", "cam_signal_shifted"),
    "crank_sprocket_slipped": ("crank_signal_shifted", "chain_jumped"),
    "crank_hub_slipped": ("chain_jumped", "none", "ignition_mistimed"),
    "drive_broken": ("cam_sensor_fault", "weak_cylinder"),
    "tensioner_slack": ("chain_jumped", "phaser_off_park", "none"),
    "phaser_off_park": ("chain_jumped", "cam_slipped", "cam_signal_shifted"),
    "cam_signal_shifted": ("cam_slipped", "chain_jumped", "phaser_off_park"),
    "crank_signal_shifted": ("chain_jumped", "crank_hub_slipped"),
    "sync_misadjusted": ("chain_jumped", "cam_sensor_fault"),
    "cam_sensor_fault": ("chain_jumped", "induced_pulses", "none"),
    "crank_sensor_fault": ("induced_pulses", "something_else", "none"),
    "induced_pulses": ("cam_sensor_fault", "crank_sensor_fault"),
    "weak_cylinder": ("valve_train", "something_else", "none"),
    "valve_train": ("weak_cylinder", "exhaust_restricted"),
    "exhaust_restricted": ("chain_jumped", "intake_restricted", "none"),
    "intake_restricted": ("exhaust_restricted", "something_else", "none"),
    "ignition_mistimed": ("chain_jumped", "none"),
    "something_else": ("none", "weak_cylinder", "cam_sensor_fault"),
}
"""What each is taken for by whoever misreads a picture: the traps of the trade (common practice, no source)."""


@dataclass(frozen=True)
class Learner:
    """``follows``: how often he takes the test that tells most, else the next one on the wall. ``reads``: how often he
    reads what a test shows right; misread, it speaks for what the fault is usually taken for. ``understands``: how much
    of what the tests say he takes in, the rest is what he expected before: people revise less than they should (Edwards
    1968, from memory). ``boasts``: how much surer he says he is than he is (Lichtenstein, Fischhoff and Phillips 1982,
    from memory). ``tests``: how many he makes at most. The sizes are own estimates."""

    name: str
    follows: float
    reads: float
    understands: float
    boasts: float
    tests: int


def _mixed(count: int) -> tuple[Learner, ...]:
    rng = random.Random("learners")
    made = []
    for i in range(count):
        skill = (i + 0.5) / count
        made.append(
            Learner(
                f"learner {i + 1}",
                follows=min(1.0, max(0.0, skill + rng.gauss(0.0, 0.15))),
                # The best reads one picture in thirty wrong, the worst one in three.
                reads=min(0.97, max(0.5, 0.66 + 0.31 * skill + rng.gauss(0.0, 0.03))),
                understands=min(1.0, max(0.1, 0.3 + 0.65 * skill + rng.gauss(0.0, 0.1))),
                boasts=max(0.0, rng.gauss(0.25, 0.2) * (1.2 - skill)),
                tests=1 + round(rng.uniform(0.0, 2.0) + (MOST_TESTS - 3) * skill),
            )
        )
    return tuple(made)


LEARNERS = _mixed(100)


SURE_OF, RIGHT_IN = "machine sure", "machine right"


MACHINE, GUESSES, OPENS = "follows the machine", "guesses", "opens every engine"


def points_of_everybody(seed: int, learners: Sequence[Learner] = LEARNERS) -> list[dict[str, float]]:
    """The points of every learner, and of the three others, at the car of that seed."""
    stand = CarOnTheStand(drawn_car(seed))
    explanations = sum(is_able(fault, stand.profile) for fault in ABLE)
    way, truth = cheapest_way(stand), truth_of(stand.car)

    def points(call: LearnersCall, tests: Sequence[StandTest]) -> float:
        minutes = sum(one.minutes for one in tests)
        cheapest = way.minutes if way.right else max(way.minutes, minutes)
        return score_of(call, truth, explanations, minutes, cheapest).points

    found = {learner.name: points(*_learners_call(learner, stand, seed)) for learner in learners}
    found[MACHINE] = points(*_machines_call(stand))
    found[GUESSES] = points(_guess(stand, seed), ())
    found[OPENS] = points(LearnersCall("chain_jumped", 0.9, "off"), ())
    called = _machines_call(stand)[0]
    found[SURE_OF], found[RIGHT_IN] = called.sure, float(called.fault in truth.right)
    return [found]


def _machines_call(stand: CarOnTheStand) -> tuple[LearnersCall, list[StandTest]]:
    """Every test that is proposed, until none is or the call is sure; and then what the machine says."""
    done = list(machines_way(stand).tests)
    verdict = stand.verdict(done)
    told = _callable(verdict)
    fault = max(told, key=lambda one: told[one])
    return LearnersCall(fault, min(1.0, told[fault]), covers_of(verdict)), done


def _callable(verdict: Verdict) -> dict[FaultName, float]:
    """How likely each explanation is that a learner may call: what is wrong with a reference is none of the car's."""
    told: dict[FaultName, float] = {}
    for one in verdict.faults:
        if not one.besides and one.fault in ABLE:
            told[one.fault] = told.get(one.fault, 0.0) + one.probability
    return told


def _learners_call(learner: Learner, stand: CarOnTheStand, seed: int) -> tuple[LearnersCall, list[StandTest]]:
    rng = random.Random(f"{learner.name}/{seed}")
    done = _tested(stand, learner.follows, learner.tests, rng)
    verdict, before = stand.verdict(done), stand.verdict(())
    told, expected = _callable(verdict), _callable(before)
    believed = {
        fault: chance**learner.understands * expected.get(fault, 1e-4) ** (1.0 - learner.understands)
        for fault, chance in told.items()
        if chance > 0.0
    }
    able = set(believed)
    for _ in done:
        if rng.random() >= learner.reads:
            seen = max(believed, key=lambda one: believed[one])
            takes = [one for one in TAKEN_FOR[seen] if one in able]
            if takes:
                other = rng.choice(takes)
                believed[seen], believed[other] = believed[other], believed[seen]
    total = sum(believed.values())
    fault = max(believed, key=lambda one: believed[one])
    chance = believed[fault] / total
    sure = chance + learner.boasts * (1.0 - chance)
    # Who read it as the machine does opens when it would; else when he is sure of something behind the covers.
    as_read = fault == max(told, key=lambda one: told[one]) and rng.random() < learner.understands
    opens = verdict.teardown == "go" if as_read else fault in _BEHIND and sure > 0.5
    return LearnersCall(fault, min(1.0, sure), "off" if opens else "on"), done


_BEHIND = (
    "chain_jumped",
    "chain_stretched",
    "cam_slipped",
    "crank_sprocket_slipped",
    "crank_hub_slipped",
    "drive_broken",
)


def _tested(stand: CarOnTheStand, follows: float, most: int, rng: random.Random) -> list[StandTest]:
    """Tests in order: what tells most, or what is next on the wall, until the machine would stop or he has enough."""
    done: list[StandTest] = []
    while len(done) < most:
        verdict = stand.verdict(done)
        if settled(verdict, bool(done)):
            break
        test = next_of(stand, verdict) if rng.random() < follows else None
        if test is None or test in done:
            listed = (stand.stand_test(name, None) for name in ON_THE_WALL)
            test = next((one for one in listed if one is not None and one not in done), None)
        if test is None:
            break
        done.append(test)
    return done


def _guess(stand: CarOnTheStand, seed: int) -> LearnersCall:
    """Any explanation, as sure as one among so many is, and a coin for the covers."""
    rng = random.Random(f"guess/{seed}")
    able = [fault for fault in ABLE if is_able(fault, stand.profile)]
    return LearnersCall(rng.choice(able), 1.0 / len(able), "off" if rng.random() < 0.5 else "on")
