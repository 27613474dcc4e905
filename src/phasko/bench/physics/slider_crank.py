"""Slider-crank: cylinder volume and its slope over crank angle, with an offset crank."""

from __future__ import annotations

import math

from numba import njit

__all__ = ["piston_drop", "tdc_angle_rad", "volume_and_slope"]


@njit(cache=True, error_model="numpy")
def piston_drop(angle_rad: float, radius: float, rod: float, offset: float) -> float:
    """How far (m) the piston pin stands below its highest place; angle from the crank throw pointing up the bore.

    Closed formula: y = sqrt((L + r)^2 - e^2) - r cos a - sqrt(L^2 - (r sin a - e)^2); Heywood equation 2.5 for e = 0.
    """
    lateral = radius * math.sin(angle_rad) - offset
    highest = math.sqrt((rod + radius) ** 2 - offset * offset)
    return highest - radius * math.cos(angle_rad) - math.sqrt(rod * rod - lateral * lateral)


@njit(cache=True, error_model="numpy")
def tdc_angle_rad(radius: float, rod: float, offset: float) -> float:
    """Angle of the throw at which the piston of an offset crank is highest: rod and throw in line."""
    return math.asin(offset / (rod + radius))


@njit(cache=True, error_model="numpy")
def volume_and_slope(
    after_tdc_rad: float, radius: float, rod: float, offset: float, bore_area: float, clearance: float
) -> tuple[float, float]:
    """(volume m3, dV/d angle m3/rad) at an angle after this cylinder's top dead centre."""
    angle = after_tdc_rad + tdc_angle_rad(radius, rod, offset)
    lateral = radius * math.sin(angle) - offset
    root = math.sqrt(rod * rod - lateral * lateral)
    drop = piston_drop(angle, radius, rod, offset)
    slope = radius * math.sin(angle) + lateral * radius * math.cos(angle) / root
    return clearance + bore_area * drop, bore_area * slope
