"""The test that is expected to change the answer most per minute, simulated with the explanations' own states."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from phasko.core import numbers
from phasko.core.documents.analysis import NextTest
from phasko.core.documents.engine import EngineProfile
from phasko.core.faults import EngineState
from phasko.core.judgement.likelihood import Weighed
from phasko.core.observations import Observation

__all__ = ["TESTS", "TechnicianTest", "expected_bits", "next_test"]

Outcome = Callable[[str, EngineState], str | None]
"""Maps (fault, state) to what the test would show; ``None``: it would say nothing about this one."""

_SEEN_DEG = 4.0
"""Displacement that a careful look shows, in crank degrees (two at the cam)."""


@dataclass(frozen=True, slots=True)
class TechnicianTest:
    """One test a technician can do: what it costs, whether the engine is cranked, what it would show,
    and whether it feels valves or pistons (or sees their marks) instead of reading the signals once more.
    ``answered_by``: the observation under which its answer is noted; once it is there, the test is done."""

    test: str
    title: str
    how: str
    minutes: float
    cranks: bool
    outcome: Outcome
    feels_valves: bool = False
    possible: Callable[[EngineProfile], bool] = lambda profile: True  # noqa: ARG005
    answered_by: str | None = None


def _valves_out(state: EngineState) -> bool:
    return any(abs(shift) > _SEEN_DEG for shift in state.valves_deg.values())


def _marks(fault: str, state: EngineState) -> str | None:
    return None if fault == "something_else" else ("out" if _valves_out(state) else "true")


def _pressure(fault: str, state: EngineState) -> str | None:
    if fault == "something_else":
        return None
    return ("valves out" if _valves_out(state) else "valves true") + (
        ", wheel out" if abs(state.crank_wheel_deg) > _SEEN_DEG / 2 else ", wheel true"
    )


def _wheel(fault: str, state: EngineState) -> str | None:
    return None if fault == "something_else" else ("moved" if abs(state.crank_wheel_deg) > _SEEN_DEG else "sits right")


def _target(fault: str, state: EngineState) -> str | None:
    moved = any(abs(shift) > _SEEN_DEG for shift in state.cam_signals_deg.values())
    return None if fault == "something_else" else ("moved" if moved else "sits right")


def _profile(fault: str, state: EngineState) -> str | None:  # noqa: ARG001
    return "wrong" if fault == "reference_wrong" else "right"


def _sweep(fault: str, state: EngineState) -> str | None:  # noqa: ARG001
    return "a stop is missing" if fault == "phaser_off_park" else "moves between its stops"


def _tensioner(fault: str, state: EngineState) -> str | None:  # noqa: ARG001
    return {"chain_stretched": "far out", "chain_jumped": None, "something_else": None}.get(fault, "usual travel")


def _leak_down(fault: str, state: EngineState) -> str | None:  # noqa: ARG001
    return {"weak_cylinder": "leaks", "something_else": None}.get(fault, "tight")


def _valve_seen(fault: str, state: EngineState) -> str | None:  # noqa: ARG001
    return {"valve_train": "stands still", "something_else": None}.get(fault, "moves")


def _exhaust_opened(fault: str, state: EngineState) -> str | None:  # noqa: ARG001
    return {"exhaust_restricted": "better", "something_else": None}.get(fault, "the same")


def _intake_opened(fault: str, state: EngineState) -> str | None:  # noqa: ARG001
    return {"intake_restricted": "better", "something_else": None}.get(fault, "the same")


def _spark_turned(fault: str, state: EngineState) -> str | None:
    if fault == "something_else":
        return None
    cam = any(abs(shift) > _SEEN_DEG for shift in (*state.valves_deg.values(), *state.cam_signals_deg.values()))
    return "only the spark moves" if fault == "ignition_mistimed" else "spark and cam" if cam else "right as it is"


def _wiggle(fault: str, state: EngineState) -> str | None:  # noqa: ARG001
    signal = fault in ("cam_sensor_fault", "crank_sensor_fault", "induced_pulses")
    return None if fault == "something_else" else ("the signal changes" if signal else "the signal stays")


TESTS: tuple[TechnicianTest, ...] = (
    TechnicianTest(
        "marks",
        "Crank mark against the cam marks",
        "Through the oil filler or under the light top cover, with the crank on its own mark: the cam marks or an "
        "alignment tool show whether the valves have moved. Turn the engine by hand, in its running direction only.",
        numbers.MINUTES_MARKS.value,
        False,
        _marks,
        True,
        answered_by="marks",
    ),
    TechnicianTest(
        "crank_wheel_look",
        "Look at the crank wheel and its sensor",
        "Bent bracket, loose sensor, a wheel that has turned on its hub or was fitted anew: look, and feel for play.",
        numbers.MINUTES_WHEEL_LOOK.value,
        False,
        _wheel,
    ),
    TechnicianTest(
        "cam_target_look",
        "Look at the cam's signal wheel and sensor",
        "A target turned on its cam, a bent or wrong sensor, a spacer left out: look through the sensor's hole.",
        numbers.MINUTES_TARGET_LOOK.value,
        False,
        _target,
    ),
    TechnicianTest(
        "wiggle",
        "Wiggle and warm the sensor while watching its signal",
        "Key on, engine standing: tap the sensor, move plug and loom, warm the sensor with measured temperature, a "
        "magnet before it; then supply, ground and leads nearby. Keep clear of belts and fans.",
        numbers.MINUTES_WIGGLE.value,
        False,
        _wiggle,
        answered_by="wiring",
    ),
    TechnicianTest(
        "leak_down",
        "Leak-down of that cylinder",
        "Plug seen tight first. On the cylinder's own TDC with the gear out: listen at intake, exhaust, filler and "
        "radiator. Air may turn the engine, nobody's tool on the crank.",
        numbers.MINUTES_LEAK_DOWN.value,
        False,
        _leak_down,
        answered_by="leak_down",
    ),
    TechnicianTest(
        "valve_look",
        "Watch that cylinder's valves move",
        "Through the filler, a cover or a borescope, while the crank is turned by hand.",
        numbers.MINUTES_VALVE_LOOK.value,
        False,
        _valve_seen,
        answered_by="valve_moves",
    ),
    TechnicianTest(
        "exhaust_opened",
        "Open the exhaust and try again",
        "Take a sensor out before the catalyst; hot parts, extraction indoors.",
        numbers.MINUTES_EXHAUST_OPENED.value,
        False,
        _exhaust_opened,
        answered_by="exhaust_opened",
    ),
    TechnicianTest(
        "intake_opened",
        "Open the intake and try again",
        "Air filter and duct off, the throttle seen to open fully.",
        numbers.MINUTES_INTAKE_OPENED.value,
        False,
        _intake_opened,
        answered_by="intake_opened",
    ),
    TechnicianTest(
        "spark_turned",
        "Turn the distributor, or swap the coil, and watch the spark",
        "Does the spark move alone, or the cam's signal with it? Look which coil the lead is on. No bare probes.",
        numbers.MINUTES_SPARK_TURNED.value,
        True,
        _spark_turned,
    ),
    TechnicianTest(
        "profile_check",
        "Check the engine data",
        "Compare wheel, index angle, timing edge and cam edges with the maker's data, or record a known good engine "
        "of this kind in the same state.",
        numbers.MINUTES_PROFILE_CHECK.value,
        False,
        _profile,
    ),
    TechnicianTest(
        "tensioner",
        "Tensioner travel",
        "Through its opening or with a dummy plunger: a chain that has grown lets the tensioner out further.",
        numbers.MINUTES_TENSIONER.value,
        False,
        _tensioner,
        False,
        lambda profile: profile.drive is None or profile.drive.type == "chain",
        answered_by="tensioner",
    ),
    TechnicianTest(
        "phaser_sweep",
        "Drive the phaser and watch the cam",
        "Drive the solenoid from a fused supply or the scan tool and record the cam: it must sweep to both stops and "
        "come back to park.",
        numbers.MINUTES_SWEEP.value,
        True,
        _sweep,
        False,
        lambda profile: any(cam.phaser for cam in profile.cams),
    ),
    TechnicianTest(
        "cylinder_pressure",
        "Pressure in one cylinder with the crank signal",
        "A transducer in place of a plug, that injector unplugged, its coil on an earthed gap: it shows the true TDC "
        "and when the valves move. Let the pressure off before taking the adapter out.",
        numbers.MINUTES_PRESSURE.value,
        True,
        _pressure,
        True,
        lambda profile: profile.valve_timing is not None,
    ),
)


CONFIRMED_BY = {
    "reference_wrong": "profile_check",
    "weak_cylinder": "leak_down",
    "valve_train": "valve_look",
    "exhaust_restricted": "exhaust_opened",
    "intake_restricted": "intake_opened",
    "ignition_mistimed": "spark_turned",
}
"""The test that looks at a fault itself, due where nothing else would change the answer."""


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
    looks: Sequence[Observation] = (),
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


def _why(test: TechnicianTest, weighed: Sequence[Weighed]) -> str:
    """Which of the leading explanations the test parts."""
    leader = weighed[0]
    shown = test.outcome(leader.explanation.fault, leader.best.branch.state)
    for other in weighed[1:]:
        if other.probability < 0.005:
            break
        seen = test.outcome(other.explanation.fault, other.best.branch.state)
        if seen is not None and shown is not None and seen != shown:
            return f"Parts “{_title(leader)}” from “{_title(other)}”."
    return f"Shows whether “{_title(leader)}” holds."


def _title(weighed: Weighed) -> str:
    title = weighed.explanation.title(weighed.best.branch.place, weighed.amount_deg, weighed.best.branch.pitches)
    return title[0].lower() + title[1:]
