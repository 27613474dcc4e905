"""What hangs on the engine: sensors, their electrical nuisances, and where wheels really sit."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

__all__ = ["HallSensor", "HookUp", "Nuisances", "Shift"]


@dataclass(frozen=True, slots=True)
class HallSensor:
    """Levels in V, time of one edge, white noise, mains hum, all as they reach the scope."""

    low_v: float = 0.3
    high_v: float = 4.9
    edge_s: float = 20e-6
    noise_v: float = 0.015
    hum_v: float = 0.0


@dataclass(frozen=True, slots=True)
class Shift:
    """True displacements in crank degrees, late positive.

    ``cams_deg`` moves a cam (its signal; the valves with it), ``crank_wheel_deg`` moves only the crank's signal wheel.
    """

    cams_deg: Mapping[str, float] = field(default_factory=dict)
    crank_wheel_deg: float = 0.0


@dataclass(frozen=True, slots=True)
class Nuisances:
    """What an analysis may not count on: standard deviations, each drawn anew per capture.

    ``tooth_deg``: place of each crank tooth, the same every turn. ``cam_jitter_deg``: each cam edge, every time.
    ``cam_swing_deg``: the whole cam, from cycle to cycle. ``profile_edge_deg``: each cam edge of the target against
    the profile, fixed.
    """

    tooth_deg: float = 0.0
    cam_jitter_deg: float = 0.0
    cam_swing_deg: float = 0.0
    profile_edge_deg: float = 0.0


@dataclass(frozen=True, slots=True)
class HookUp:
    """A scope on the crank and some cam sensors: rate, converter and the sensors' levels."""

    cams: tuple[str, ...] | None = None
    sample_rate_hz: float = 100_000.0
    bits: int = 12
    range_v: float = 10.0
    crank: HallSensor = HallSensor()
    cam: HallSensor = HallSensor(high_v=4.8)
