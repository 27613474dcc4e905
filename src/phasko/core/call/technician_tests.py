"""The tests that a technician can do next: what each costs, how it is done, and what it would show."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from phasko.core import numbers
from phasko.core.documents.engine import EngineProfile
from phasko.core.explanations import EngineState

__all__ = ["CONFIRMED_BY", "TESTS", "TechnicianTest"]

Outcome = Callable[[str, EngineState], str | None]
"""Maps (fault, state) to what the test would show. ``None``: the test would say nothing about this fault."""


@dataclass(frozen=True, slots=True)
class TechnicianTest:
    """One test a technician can do: what it costs, whether the engine is cranked, what it would show,
    and whether it feels valves or pistons (or sees their marks) instead of reading the signals once more.
    ``answered_by``: the look under which its answer is noted; once it is there, the test is done."""

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
    return any(abs(shift) > numbers.LOOK_SEEN_DEG.value for shift in state.valves_deg.values())


def _marks(fault: str, state: EngineState) -> str | None:
    return None if fault == "something_else" else ("out" if _valves_out(state) else "true")


def _pressure(fault: str, state: EngineState) -> str | None:
    if fault == "something_else":
        return None
    return ("valves out" if _valves_out(state) else "valves true") + (
        ", wheel out" if abs(state.crank_wheel_deg) > numbers.LOOK_SEEN_DEG.value / 2 else ", wheel true"
    )


def _wheel(fault: str, state: EngineState) -> str | None:
    return (
        None
        if fault == "something_else"
        else ("moved" if abs(state.crank_wheel_deg) > numbers.LOOK_SEEN_DEG.value else "sits right")
    )


def _target(fault: str, state: EngineState) -> str | None:
    moved = any(abs(shift) > numbers.LOOK_SEEN_DEG.value for shift in state.cam_signals_deg.values())
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
    cam = any(
        abs(shift) > numbers.LOOK_SEEN_DEG.value
        for shift in (*state.valves_deg.values(), *state.cam_signals_deg.values())
    )
    return "only the spark moves" if fault == "ignition_mistimed" else "spark and cam" if cam else "right as it is"


def _wiggle(fault: str, state: EngineState) -> str | None:  # noqa: ARG001
    signal = fault in ("cam_sensor_fault", "crank_sensor_fault", "induced_pulses")
    return None if fault == "something_else" else ("the signal changes" if signal else "the signal stays")


TESTS: tuple[TechnicianTest, ...] = (
    TechnicianTest(
        test="marks",
        title="Crank mark against the cam marks",
        how="Through the oil filler or under the light top cover, with the crank on its own mark: the cam marks or an "
        "alignment tool show whether the valves have moved. Turn the engine by hand, in its running direction only.",
        minutes=numbers.MINUTES_MARKS.value,
        cranks=False,
        outcome=_marks,
        feels_valves=True,
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
        test="tensioner",
        title="Tensioner travel",
        how="Through its opening or with a dummy plunger: a chain that has grown lets the tensioner out further.",
        minutes=numbers.MINUTES_TENSIONER.value,
        cranks=False,
        outcome=_tensioner,
        feels_valves=False,
        possible=lambda profile: profile.drive is None or profile.drive.type == "chain",
        answered_by="tensioner",
    ),
    TechnicianTest(
        test="phaser_sweep",
        title="Drive the phaser and watch the cam",
        how="Drive the solenoid from a fused supply or the scan tool and record the cam: it must sweep to both stops "
        "and come back to park.",
        minutes=numbers.MINUTES_SWEEP.value,
        cranks=True,
        outcome=_sweep,
        feels_valves=False,
        possible=lambda profile: any(cam.phaser for cam in profile.cams),
    ),
    TechnicianTest(
        test="cylinder_pressure",
        title="Pressure in one cylinder with the crank signal",
        how="A transducer in place of a plug, that injector unplugged, its coil on an earthed gap: it shows the true "
        "TDC and when the valves move. Let the pressure off before taking the adapter out.",
        minutes=numbers.MINUTES_PRESSURE.value,
        cranks=True,
        outcome=_pressure,
        feels_valves=True,
        possible=lambda profile: profile.valve_timing is not None,
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
"""The test that looks at a fault itself. It is proposed when no other test would change the answer."""
