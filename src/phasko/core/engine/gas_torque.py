"""The torque with which one cylinder's gas turns the crank, per bar of its peak pressure: the shape behind a hump."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from phasko.core.arrays import Floats
from phasko.core.documents.engine import EngineProfile, Geometry
from phasko.core.engine.slider_crank import cylinder_volume

__all__ = ["LowTorque", "gas_torque", "leaking_torque", "squeezed_less_torque", "usual_geometry"]


POLYTROPIC = 1.30
"""Exponent of cranking compression with its loss of heat; 1.28 to 1.33 (Heywood, Internal Combustion Engine
Fundamentals, 1988, section 5.4; from memory)."""

_GAMMA = 1.4
_CRITICAL = (2.0 / (_GAMMA + 1.0)) ** (_GAMMA / (_GAMMA - 1.0))
_LEAK_STEP_DEG = 1.0
_LEAKS = np.concatenate([[0.0], np.geomspace(1e-5, 0.0063, 29)])
"""Leaks that are tabled: the share of a full cylinder's gas that escapes per crank degree while the flow is choked and
the gas has the pressure of the outside air."""

_CLEARANCES = np.geomspace(1.0, 20.0, 25)
"""Clearance volumes that are tabled for a cylinder that compresses less, over that of a sound one."""

USUAL_CLOSE_DEG = 590.0
USUAL_OPEN_DEG = 140.0


def usual_geometry(profile: EngineProfile) -> Geometry:
    """The profile's, or that of a usual engine of its size; only ratios count for the shape."""
    if profile.geometry is not None:
        return profile.geometry
    return Geometry(bore_mm=86.0, stroke_mm=86.0, rod_mm=142.0, compression_ratio=10.0)


def gas_torque(after_tdc_deg: Floats, profile: EngineProfile) -> Floats:
    """Torque that drives the crank (positive) per unit of peak gauge pressure, at angles after the cylinder's firing
    TDC in (-360, 360].

    Closed valves between intake closing and exhaust opening, polytropic; piston area left out. Torque is pressure times
    dV/dtheta by virtual work (``slider_crank``). ``after_tdc_deg`` and the result have any shape, alike; metres of
    lever, since pressure and area are left out.
    """
    shape = usual_geometry(profile)
    closes, opens = _closed_span_deg(profile)
    volume, slope = cylinder_volume(after_tdc_deg, shape)
    at_closing = cylinder_volume(np.array([closes]), shape)[0][0]
    clearance = cylinder_volume(np.zeros(1), shape)[0][0]
    ratio = np.power(at_closing / volume, POLYTROPIC)
    peak = (at_closing / clearance) ** POLYTROPIC - 1.0
    closed = (after_tdc_deg > closes) & (after_tdc_deg < opens)
    return np.asarray(np.where(closed, (ratio - 1.0) / peak, 0.0) * slope)


@dataclass(frozen=True, slots=True, eq=False)
class LowTorque:
    """The same of a cylinder that is low for one reason, more and more of it: (steps of it, angles) per unit of its own
    peak, and the peak that is left of a sound one's, falling."""

    angles_deg: Floats
    left: Floats
    torque: Floats

    def at(self, after_tdc_deg: Floats, relative: float) -> Floats:
        """The torque of the cylinder whose peak is ``relative`` to a sound one's. ``after_tdc_deg`` in deg and the
        result have any shape, alike."""
        row = float(np.interp(-relative, -self.left, np.arange(self.left.size)))
        low = min(int(row), self.left.size - 2)
        between = self.torque[low] + (row - low) * (self.torque[low + 1] - self.torque[low])
        return np.asarray(np.interp(after_tdc_deg, self.angles_deg, between))


def leaking_torque(profile: EngineProfile) -> LowTorque:
    """How the torque of one cylinder changes as it leaks more and more.

    The gas in the closed cylinder, in steps of the crank angle: what flows out, or back in below the outside, goes as
    the pressure before the hole and the flow function of the pressure ratio, choked above the critical one (Heywood,
    Internal Combustion Engine Fundamentals, 1988, appendix C; from memory); what stays follows the polytropic line.
    The speed is taken for even.
    """
    angles = _closed_deg(profile)
    volume, slope = cylinder_volume(angles, usual_geometry(profile))
    mass, pressure = np.ones(_LEAKS.size), np.ones(_LEAKS.size)
    gauge = np.zeros((_LEAKS.size, angles.size))
    for k in range(1, angles.size):
        mass = np.maximum(mass - _LEAKS * _LEAK_STEP_DEG * _flow(pressure), 1e-6)
        pressure = (mass * volume[0] / volume[k]) ** POLYTROPIC
        gauge[:, k] = pressure - 1.0
    return _low_torque(angles, gauge, slope)


def squeezed_less_torque(profile: EngineProfile) -> LowTorque:
    """How the torque of one cylinder changes as it is tight but compresses less: a bent rod, a burnt or wrong piston.
    Its clearance grows, all else is as in ``gas_torque``."""
    angles = _closed_deg(profile)
    volume, slope = cylinder_volume(angles, usual_geometry(profile))
    clearance = float(cylinder_volume(np.zeros(1), usual_geometry(profile))[0][0])
    wider = volume + (_CLEARANCES[:, None] - 1.0) * clearance
    return _low_torque(angles, (wider[:, :1] / wider) ** POLYTROPIC - 1.0, slope)


def _closed_span_deg(profile: EngineProfile) -> tuple[float, float]:
    """(intake closing, exhaust opening) after the cylinder's firing TDC, or those of a usual engine."""
    timing = profile.valve_timing
    if timing is None:
        return USUAL_CLOSE_DEG - 720.0, USUAL_OPEN_DEG
    return timing.intake_close_deg - 720.0, timing.exhaust_open_deg


def _closed_deg(profile: EngineProfile) -> Floats:
    """Angles after TDC at which the valves are closed, in whole steps."""
    closes, opens = _closed_span_deg(profile)
    return np.arange(math.ceil(closes), math.floor(opens) + 1.0, _LEAK_STEP_DEG)


def _low_torque(angles: Floats, gauge: Floats, slope: Floats) -> LowTorque:
    peak = gauge.max(axis=1)
    ends = np.array([angles[0] - _LEAK_STEP_DEG, *angles, angles[-1] + _LEAK_STEP_DEG])
    return LowTorque(ends, peak / peak[0], np.pad(gauge / peak[:, None] * slope, ((0, 0), (1, 1))))


def _flow(pressure: Floats) -> Floats:
    """Mass flow out of the cylinder at a pressure against the outside's, both in the outside's measure; 1 where it is
    choked at the outside's pressure."""
    ratio = np.clip(np.minimum(pressure, 1.0 / pressure), _CRITICAL, 1.0)
    gamma = _GAMMA
    speed = np.sqrt(np.maximum(ratio ** (2.0 / gamma) - ratio ** ((gamma + 1.0) / gamma), 0.0))
    choked = math.sqrt(_CRITICAL ** (2.0 / gamma) - _CRITICAL ** ((gamma + 1.0) / gamma))
    return np.asarray(np.sign(pressure - 1.0) * np.maximum(pressure, 1.0) * speed / choked)
