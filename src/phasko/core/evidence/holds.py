"""Of which states of the engine it is true what an answer speaks about."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from phasko.core import numbers
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.evidence.cylinder_compression import pressed, relative_pressures
from phasko.core.looks import Speaks

__all__ = ["holds"]

Holds = Callable[[EngineState, EngineProfile, int | None], bool]


def holds(speaks: Speaks, state: EngineState, profile: EngineProfile, cylinder: int | None = None) -> bool:
    """Whether the thing that an answer speaks about is there in that state (of that ``cylinder``, where it has one)."""
    return _HOLDS[speaks](state, profile, cylinder)


def _valves(least_deg: float) -> Holds:
    def far(state: EngineState, profile: EngineProfile, cylinder: int | None) -> bool:  # noqa: ARG001
        if not state.cams_turn or state.unknown_valves_sd_deg:
            return True
        return any(abs(state.valves_of(cam.id)) >= least_deg for cam in profile.cams)

    return far


def _worn(state: EngineState, profile: EngineProfile, cylinder: int | None) -> bool:  # noqa: ARG001
    return bool(state.elongation_percent or state.slack_deg or state.phaser_deg) or (
        state.worn and bool(state.valves_deg)
    )


def _one_weak(state: EngineState, profile: EngineProfile, cylinder: int | None) -> bool:  # noqa: ARG001
    """Some cylinders but not every second one: a whole bank or every second in firing order sounds even; and where
    firing is uneven the ear cannot tell."""
    if not profile.fires_evenly or state.unknown_seal_sd:
        return bool(state.unknown_seal_sd)
    relative = relative_pressures(pressed(state, profile))
    low = {c for c, p in relative.items() if p < numbers.GAUGE_LOW_SHARE.value}
    order = profile.firing_order
    return bool(low) and low not in ({*order[::2]}, {*order[1::2]}, {*order})


def _leak(state: EngineState, profile: EngineProfile, cylinder: int | None) -> bool:  # noqa: ARG001
    return state.seal.get(cylinder or 0, 1.0) * state.seal_of_all < numbers.SEAL_LEAKS_BELOW.value or bool(
        state.unknown_seal_sd and state.cams_turn and not state.outside
    )


def _does_not_burn(state: EngineState, profile: EngineProfile, cylinder: int | None) -> bool:
    low = relative_pressures(pressed(state, profile)).get(cylinder or 0, 1.0) < numbers.GAUGE_LOW_SHARE.value
    return low or state.outside or bool(state.spark_deg) or bool(state.signals) or not state.cams_turn


def _met(state: EngineState, profile: EngineProfile, cylinder: int | None) -> bool:  # noqa: ARG001
    """Valves so far towards the pistons that they meet, on an engine where they can."""
    if profile.interference is False:
        return False
    if not state.cams_turn:
        return True
    return any(abs(state.valves_of(cam.id)) >= 2 * numbers.CAUTION_LEAST_DEG.value for cam in profile.cams)


def _displaced(state: EngineState, profile: EngineProfile, cylinder: int | None) -> bool:  # noqa: ARG001
    turned = state.sprocket_deg or state.hub_deg or state.crank_wheel_deg
    moved = bool(state.valves_deg) and not state.elongation_percent
    return bool(turned or moved or state.cam_signals_deg or state.unknown_valves_sd_deg)


def _valve_fault(state: EngineState, profile: EngineProfile, cylinder: int | None) -> bool:  # noqa: ARG001
    return cylinder in state.still or cylinder in state.worn_lobes or not state.cams_turn


_HOLDS: Mapping[Speaks, Holds] = {
    "valves out of time": _valves(numbers.LOOK_SEEN_DEG.value),
    "valves far out of time": _valves(numbers.PUSH_BACK_LEAST_DEG.value),
    "a worn timing drive": _worn,
    "a long chain": lambda state, profile, cylinder: state.elongation_percent >= numbers.STRETCH_MIN_PERCENT.value,  # noqa: ARG005
    "a sensor or its wiring": lambda state, profile, cylinder: bool(state.signals),  # noqa: ARG005
    "signals that do not agree": lambda state, profile, cylinder: state.out_of_step(  # noqa: ARG005
        tuple(cam.id for cam in profile.cams)
    ),
    "one weak cylinder": _one_weak,
    "a leak in that cylinder": _leak,
    "a valve fault in that cylinder": _valve_fault,
    "a cylinder that does not burn": _does_not_burn,
    "valves that met pistons": _met,
    "a blocked exhaust": lambda state, profile, cylinder: state.exhaust_blocked > 0.0,  # noqa: ARG005
    "a blocked intake": lambda state, profile, cylinder: state.intake_blocked > 0.0,  # noqa: ARG005
    "a phaser driven wrong": lambda state, profile, cylinder: (  # noqa: ARG005
        bool(state.phaser_deg) and state.phaser_when == "connected"
    ),
    "a moved crank wheel": lambda state, profile, cylinder: (  # noqa: ARG005
        abs(state.crank_wheel_deg + state.hub_deg) >= numbers.WHEEL_SEEN_DEG.value
    ),
    "a moved cam target": lambda state, profile, cylinder: any(  # noqa: ARG005
        abs(deg) >= numbers.WHEEL_SEEN_DEG.value for deg in state.cam_signals_deg.values()
    ),
    "a fault outside this list, such as fuel": lambda state, profile, cylinder: state.outside,  # noqa: ARG005
    "a fault outside this list, such as a coil": lambda state, profile, cylinder: state.outside,  # noqa: ARG005
    "a part fitted wrong": lambda state, profile, cylinder: bool(  # noqa: ARG005
        state.cam_signals_deg or state.crank_wheel_deg or state.signals
    ),
    "a drive put together wrong": _displaced,
    "nothing": lambda state, profile, cylinder: False,  # noqa: ARG005
}
