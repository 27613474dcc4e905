"""Tests with a before and an after in one job: what is changed, what is recorded on either side, what it shows."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from phasko.core.documents.engine import EngineProfile

__all__ = ["BEFORE_AFTER", "BeforeAfter", "before_after_of", "before_after_tests"]


@dataclass(frozen=True, slots=True)
class BeforeAfter:
    """One test: its steps, what to mind, the look under which its outcome counts, and the hook-up for both captures.
    ``possible``: this engine has what it is about."""

    id: str
    title: str
    shows: str
    steps: tuple[str, ...]
    caution: str
    hook_up: str
    possible: Callable[[EngineProfile], bool] = lambda profile: True  # noqa: ARG005


def _sparks(profile: EngineProfile) -> bool:
    return profile.ignition is None or profile.ignition.type != "none"


def _phased(profile: EngineProfile) -> bool:
    return any(cam.phaser is not None for cam in profile.cams)


BEFORE_AFTER: tuple[BeforeAfter, ...] = (
    BeforeAfter(
        id="cold_strategy",
        title="Force the cold start's strategy",
        shows="Starting otherwise when cold can hide signals that are out of step. It starts now: they are.",
        steps=(
            "Record a start as it is.",
            "Key off, unplug the coolant sensor: the control unit takes the engine for ice cold. It sets a code.",
            "Record the start again.",
            "Plug it in again and clear that code.",
        ),
        caution="The engine may start: wheels chocked, hands clear. Hot coolant and exhaust near the sensor.",
        hook_up="timing",
    ),
    BeforeAfter(
        id="sensor_unplugged",
        title="Unplug the cam sensor",
        shows="Some engines start without a cam signal, and not with a wrong one. Better: signals do not agree.",
        steps=(
            "Record a start as it is.",
            "Key off, unplug one cam sensor. It sets a code.",
            "Record the start again.",
            "Plug it in again and clear that code.",
        ),
        caution="The engine may start: wheels chocked, hands clear.",
        hook_up="timing",
    ),
    BeforeAfter(
        id="coil_swapped",
        title="Change two coils over",
        shows="A misfire that moves with the coil is the coil; one that stays is the cylinder.",
        steps=(
            "Record the misfire, or save its code.",
            "Key off, change this coil and another one over; count the cylinders once more.",
            "Record again.",
        ),
        caution="Ignition off while leads are changed; tens of kilovolts else.",
        hook_up="spark",
        possible=_sparks,
    ),
    BeforeAfter(
        id="solenoid_swapped",
        title="Change two solenoids over",
        shows="A fault that moves with the solenoid is the solenoid; one that stays: oil way, phaser, or wiring.",
        steps=(
            "Record a sweep of both phasers.",
            "Engine cold enough to touch: solenoids out, look at their screens, change them over, new seals.",
            "Record both sweeps again.",
        ),
        caution="Hot oil. No drive without a fuse.",
        hook_up="sweep",
        possible=_phased,
    ),
    BeforeAfter(
        id="exhaust_opened",
        title="Open the exhaust before the catalyst",
        shows="Better with the exhaust open: it is blocked behind the opening.",
        steps=(
            "Record it cranking, or at full throttle where that is legal.",
            "Take a sensor out before the catalyst.",
            "Record the same again.",
        ),
        caution="Hot exhaust; gas led outdoors, or nobody near it.",
        hook_up="breathing",
    ),
    BeforeAfter(
        id="fuel_by_hand",
        title="Give a little fuel by hand",
        shows="It catches: it lacked fuel. No reaction at all: not a fuel fault.",
        steps=(
            "Record a start as it is.",
            "A little fuel into the intake, behind the air meter.",
            "Record the start again.",
        ),
        caution="Very little, away from sparks and hot parts; extinguisher at hand. Never with glow plugs.",
        hook_up="timing",
        possible=_sparks,
    ),
)
"""Common practice, no published source."""


def before_after_of(test_id: str) -> BeforeAfter | None:
    """The test of that name; ``None`` where there is none."""
    return next((one for one in BEFORE_AFTER if one.id == test_id), None)


def before_after_tests(profile: EngineProfile) -> tuple[BeforeAfter, ...]:
    """The tests that this engine has."""
    return tuple(one for one in BEFORE_AFTER if one.possible(profile))
