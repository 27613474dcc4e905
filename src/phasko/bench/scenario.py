"""What is done with the engine while it is recorded: key, throttle, phaser commands, temperature."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

__all__ = ["PhaserCommand", "Scenario", "clear_flood_cranking", "idling", "snapping", "starting"]


@dataclass(frozen=True, slots=True)
class PhaserCommand:
    """Drives one phaser away from park from ``from_s`` to ``to_s``, to this share of its range; a negative share the
    other way, for one that parks in the middle."""

    from_s: float
    to_s: float
    share: float = 1.0


@dataclass(frozen=True, slots=True)
class Scenario:
    """Times in seconds from the start of the recording. The starter turns from ``starter_from_s`` to ``starter_to_s``,
    or until the engine runs; ``throttle`` is the open share of the throttle plate.

    With ``phasers_by_hand`` they are driven from a fused supply, of which nobody writes down when.

    The crank begins at ``start_deg``, at rest or already at ``start_rpm``.

    With ``fuel`` off, or the pedal down while cranking (clear-flood), the control unit injects nothing.
    Between ``snap_from_s`` and ``snap_to_s`` the throttle is thrown open. ``motored_cylinders`` get no fuel in a
    running engine.
    """

    duration_s: float
    starter_from_s: float = 0.3
    starter_to_s: float = 1e9
    throttle: float = 0.0
    fuel: bool = False
    target_rpm: float = 0.0
    temperature: Literal["cold", "hot"] = "hot"
    start_deg: float = 100.0
    start_rpm: float = 0.0
    phasers_connected: bool = False
    phaser_commands: Mapping[str, tuple[PhaserCommand, ...]] = field(default_factory=dict)
    phasers_by_hand: bool = False
    motored_cylinders: tuple[int, ...] = ()
    record_from_s: float = 0.0
    snap_from_s: float = 1e9
    snap_to_s: float = 1e9


def clear_flood_cranking(duration_s: float = 4.0, *, rest_s: float = 0.3, stop_s: float = 0.4) -> Scenario:
    """Pedal down, no fuel: the capture for relative compression and phase; ends with the roll-back."""
    return Scenario(duration_s, starter_from_s=rest_s, starter_to_s=duration_s - stop_s, throttle=1.0)


def starting(duration_s: float = 4.0, *, rest_s: float = 0.4) -> Scenario:
    """Crank to start to run in one recording."""
    return Scenario(duration_s, starter_from_s=rest_s, throttle=0.0, fuel=True, target_rpm=850.0)


def idling(duration_s: float = 2.0, *, target_rpm: float = 800.0, motored: tuple[int, ...] = ()) -> Scenario:
    """Idle, recorded after two and a half seconds of starting."""
    return Scenario(
        duration_s + 2.5,
        starter_from_s=0.0,
        fuel=True,
        target_rpm=target_rpm,
        motored_cylinders=motored,
        record_from_s=2.5,
    )


def snapping(duration_s: float = 2.5, *, target_rpm: float = 800.0) -> Scenario:
    """Idle, then the throttle thrown open for half a second and let go, recorded from half a second before."""
    return Scenario(
        duration_s + 2.5,
        starter_from_s=0.0,
        fuel=True,
        target_rpm=target_rpm,
        record_from_s=2.5,
        snap_from_s=3.0,
        snap_to_s=3.5,
    )
