"""The torque with which one cylinder's gas turns the crank, per bar of its peak pressure: the shape behind a hump."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from phasko.core.documents.engine import EngineProfile, Geometry

__all__ = ["gas_torque", "usual_geometry"]

Floats = NDArray[np.float64]

POLYTROPIC = 1.30
"""Exponent of cranking compression with its loss of heat; 1.28 to 1.33 (Heywood, Internal Combustion Engine
Fundamentals, 1988, section 5.4; from memory)."""

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

    Closed valves between intake closing and exhaust opening, polytropic; piston area left out. Slider-crank
    kinematics: V(theta) and dV/dtheta (Heywood, equations 2.4 to 2.6; from memory); torque is pressure times
    dV/dtheta by virtual work.
    """
    shape = usual_geometry(profile)
    timing = profile.valve_timing
    closes = (timing.intake_close_deg if timing is not None else USUAL_CLOSE_DEG) - 720.0
    opens = timing.exhaust_open_deg if timing is not None else USUAL_OPEN_DEG
    angle = np.radians(after_tdc_deg)
    volume, slope = _volume(angle, shape)
    at_closing = _volume(np.array([math.radians(closes)]), shape)[0][0]
    clearance = _volume(np.zeros(1), shape)[0][0]
    ratio = np.power(at_closing / volume, POLYTROPIC)
    peak = (at_closing / clearance) ** POLYTROPIC - 1.0
    closed = (after_tdc_deg > closes) & (after_tdc_deg < opens)
    return np.asarray(np.where(closed, (ratio - 1.0) / peak, 0.0) * slope)


def _volume(angle_rad: Floats, shape: Geometry) -> tuple[Floats, Floats]:
    """(volume over piston area in strokes, its slope over the angle)."""
    radius, rod = 0.5, shape.rod_mm / shape.stroke_mm
    across = radius * np.sin(angle_rad) - shape.crank_offset_mm / shape.stroke_mm
    root = np.sqrt(rod**2 - across**2)
    top = math.sqrt((rod + radius) ** 2 - (shape.crank_offset_mm / shape.stroke_mm) ** 2)
    travel = top - (radius * np.cos(angle_rad) + root)
    slope = radius * np.sin(angle_rad) + across * radius * np.cos(angle_rad) / root
    return travel + 1.0 / (shape.compression_ratio - 1.0), slope
