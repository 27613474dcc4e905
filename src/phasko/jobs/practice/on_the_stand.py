"""A practice car on which every test can be done at once, and what the machine's call is after any of them."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

from phasko.bench.blind import BlindCar
from phasko.bench.instruments import CarSheet, SimulatedCar
from phasko.bench.pool import pool_engine
from phasko.core.call import call
from phasko.core.call.technician_tests import TESTS
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.capture.steps import measure_capture
from phasko.core.documents import CaptureDescription, EngineProfile
from phasko.core.documents.analysis import Verdict
from phasko.core.documents.job import JobDocument, Look
from phasko.core.evidence import JobEvidence
from phasko.core.hookup import hook_up_plan, hook_up_question, question_of_test
from phasko.core.practice import Covers, Truth
from phasko.core.signals.recording import Channel, Recording
from phasko.jobs.practice.testing import look_minutes, recording_minutes, runs, shown_look
from phasko.jobs.recording.leads import set_up
from phasko.jobs.recording.simulated import Doing, car_sheet

__all__ = ["CarOnTheStand", "StandTest", "Way", "cheapest_way", "covers_of", "machines_way", "truth_of"]

_RATE_HZ = 25_000.0
_LENGTH_S = 3.6
SURE = 0.9
"""As sure as this the machine's call is taken."""
MOST_TESTS = 9


@dataclass(frozen=True, slots=True)
class StandTest:
    """One test: ``capture`` with the hook-up for a question, or ``look``; of a ``cylinder`` where it has one."""

    kind: str
    name: str
    cylinder: int | None = None

    @property
    def minutes(self) -> float:
        return recording_minutes(self.name, ()) if self.kind == "capture" else look_minutes(self.name)


class CarOnTheStand:
    """One car: ``verdict`` of any set of tests. What each test shows is found once."""

    def __init__(self, car: BlindCar) -> None:
        self.car = car
        self.profile: EngineProfile = pool_engine(car.engine)
        self._captures: dict[StandTest, CaptureMeasurement] = {}
        self._looks: dict[StandTest, Look | None] = {}
        self._verdicts: dict[frozenset[StandTest], Verdict] = {}

    @cached_property
    def told(self) -> JobDocument:
        """What was told of the car, with every test that it has no answer to too dear to be proposed."""
        dear = {test.test: 9_999.0 for test in TESTS if self.stand_test(test.test, None) is None}
        return self.car.told.model_copy(update={"minutes": dear})

    def stand_test(self, test: str, cylinder: int | None) -> StandTest | None:
        """The test that a technician's test of this name is here; ``None`` where the car has no answer to it."""
        own = cylinder or self.profile.firing_order[0]
        if test == "wiggle":
            return StandTest("look", "wiring")
        if any(one.test == test and one.answered_by is not None for one in TESTS):
            per_cylinder = test in ("leak_down", "valve_moves", "borescope", "gauge", "plug")
            return StandTest("look", test, own if per_cylinder else None)
        question = {"capture_cranking": "timing", "relative_compression": "timing"}.get(test) or question_of_test(test)
        asked = hook_up_question(question) if question is not None else None
        if asked is None or not asked.possible(self.profile) or asked.id not in _RECORDED:
            return None
        if asked.turns in ("idle", "running") and not runs(self.car):
            return None
        if test == "second_cylinder_pressure":
            order = self.profile.firing_order
            own = order[(order.index(own) + len(order) // 2) % len(order)]
        return StandTest("capture", asked.id, own if asked.id == "pressure" else None)

    def verdict(self, done: Iterable[StandTest]) -> Verdict:
        """The machine's call once these tests are done."""
        key = frozenset(done)
        if key not in self._verdicts:
            # One order for one set: what is known does not hang on when it was found out.
            ordered = sorted(key, key=lambda one: (one.kind, one.name, one.cylinder or 0))
            shown = [self._look(one) for one in ordered if one.kind == "look"]
            captures = [self._capture(one) for one in ordered if one.kind == "capture"]
            told = self.told.model_copy(update={"minutes": self.told.minutes | _done_minutes(key)})
            job = JobEvidence(self.profile, captures, [one for one in shown if one is not None], told=told)
            self._verdicts[key] = call(job)
        return self._verdicts[key]

    def _look(self, test: StandTest) -> Look | None:
        if test not in self._looks:
            self._looks[test] = shown_look(self.car, test.name, test.cylinder)
        return self._looks[test]

    def _capture(self, test: StandTest) -> CaptureMeasurement:
        if test not in self._captures:
            self._captures[test] = measure_capture(self.recording(test), self.profile)
        return self._captures[test]

    def recording(self, test: StandTest) -> Recording:
        """What the simulated scope records for that test, with the planned hook-up on eight channels."""
        asked = hook_up_question(test.name)
        assert asked is not None
        plan = hook_up_plan(self.profile, asked, 8, self.car.told, test.cylinder)
        armed = set_up(plan, 0)
        temperature = "cold" if self.car.hidden.present == "cold" else "hot"
        driven = tuple(lead.cam for lead in armed.leads if lead.role == "phaser_command" and lead.cam)
        doing = Doing(asked.turns, temperature, "unplugged", driven)
        made = car_sheet(self.profile, json.dumps(self.car.simulated()), doing, self.car.seed)
        sheet = CarSheet.model_validate({**made, "length_s": 12.0 if driven else _LENGTH_S})
        signals = [(channel.signal, channel.range_v) for channel in armed.setup.channels]
        volts = SimulatedCar(sheet).recorded(signals, _RATE_HZ).volts
        description = CaptureDescription.model_validate(
            {
                "schema": "phasko.capture/1",
                "data": f"{test.name}.csv",
                "condition": asked.turns,
                "phasers": "sweep" if driven else "unplugged",
                "temperature": temperature,
                "throttle": "open" if asked.turns == "cranking" else "closed",
                "symptom": "absent" if self.car.hidden.present == "not_today" else "unknown",
                "channels": [one.model_dump(exclude_none=True) for one in armed.channels],
            }
        )
        channels = tuple(Channel(one, volts[i]) for i, one in enumerate(description.channels))
        return Recording(f"{test.name}.capture.json", description, 0.0, 1.0 / _RATE_HZ, channels)


_RECORDED = ("timing", "running", "pressure", "sweep", "breathing", "spark")


def _done_minutes(done: Iterable[StandTest]) -> dict[str, float]:
    """What was done already is too dear to be proposed again."""
    return {one.name: 9_999.0 for one in done if one.kind == "look"}


def truth_of(car: BlindCar) -> Truth:
    """What the score needs to know."""
    hidden = car.hidden
    return Truth(hidden.fault, hidden.also, hidden.covers, hidden.ruins)


def covers_of(verdict: Verdict) -> Covers:
    """Whether the machine's call opens the covers."""
    return "off" if verdict.teardown == "go" else "on"


@dataclass(frozen=True, slots=True)
class Way:
    """Tests in order, their minutes, whether the machine's call is right after them, and how sure (0 to 1) it is."""

    tests: tuple[StandTest, ...]
    minutes: float
    right: bool
    sure: float


def machines_way(stand: CarOnTheStand, begun: tuple[StandTest, ...] = ()) -> Way:
    """Following the next test from the complaint on until the call is sure or no test would change it."""
    done = list(begun)
    while len(done) < MOST_TESTS:
        verdict = stand.verdict(done)
        if settled(verdict, bool(done)):
            break
        test = next_of(stand, verdict)
        if test is None or test in done:
            break
        done.append(test)
    return _way(stand, tuple(done))


def settled(verdict: Verdict, tested: bool) -> bool:
    """Whether the machine would stop testing here."""
    # What was told alone is no reason to stop: nothing has been looked at.
    if not tested:
        return False
    return verdict.teardown == "go" or (verdict.teardown == "no" and verdict.faults[0].probability >= SURE)


def next_of(stand: CarOnTheStand, verdict: Verdict) -> StandTest | None:
    """The next test that the machine proposes and this car has an answer to."""
    if verdict.next_test is None:
        return None
    cylinders = verdict.faults[0].where.cylinders if verdict.faults else []
    return stand.stand_test(verdict.next_test.test, cylinders[0] if len(cylinders) == 1 else None)


def _way(stand: CarOnTheStand, tests: tuple[StandTest, ...]) -> Way:
    verdict = stand.verdict(tests)
    truth = truth_of(stand.car)
    right = verdict.faults[0].fault in truth.right and truth.covers in ("either", covers_of(verdict))
    return Way(tests, sum(one.minutes for one in tests), right, verdict.faults[0].probability)


def cheapest_way(stand: CarOnTheStand) -> Way:
    """The cheapest way that was found: the machine's own, then the same with every test left out without which the call
    is right all the same, and no less sure. Where that never is, the machine's way as it was."""
    found = machines_way(stand)
    if not found.right:
        return found
    # A lucky guess from the complaint alone is no way.
    least = min(SURE, found.sure)
    for test in sorted(found.tests, key=lambda one: -one.minutes):
        without = _way(stand, tuple(one for one in found.tests if one != test))
        if without.tests and without.right and without.sure >= least:
            found = without
    return found
