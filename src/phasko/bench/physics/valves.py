"""Valve lift over crank angle, and the opening it gives."""

from __future__ import annotations

import math

from numba import njit

__all__ = ["lift_mm", "valve_area"]


@njit(cache=True, error_model="numpy")
def lift_mm(angle_deg: float, centre_deg: float, full_deg: float, peak_mm: float, clearance_mm: float) -> float:
    """Lift at a cycle angle: sine squared about its centre, less the clearance that the lobe takes up first."""
    off = (angle_deg - centre_deg + 360.0) % 720.0 - 360.0
    if abs(off) >= 0.5 * full_deg:
        return 0.0
    c = math.cos(math.pi * off / full_deg)
    return max(0.0, peak_mm * c * c - clearance_mm)


@njit(cache=True, error_model="numpy")
def valve_area(lift: float, diameter_mm: float, count: float, coefficient: float) -> float:
    """Effective area in m2: the curtain below a quarter of the diameter, the port above (Heywood, section 6.3.2)."""
    curtain = math.pi * diameter_mm * lift
    port = math.pi * diameter_mm * diameter_mm / 4.0 * 0.85
    return coefficient * count * min(curtain, port) * 1e-6
