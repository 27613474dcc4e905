"""How far a valve is open over the crank angle: the lift of its lobe and the area that gas flows through."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats

__all__ = ["ValveLobe", "valve_area_m2"]


@dataclass(frozen=True, slots=True)
class ValveLobe:
    """A sine-squared lift of a usual height: ``full_deg`` from seat to seat, ``ramp_deg`` of it on either side below
    the lift at which the profile gives its timing, ``lift_mm``."""

    full_deg: float
    ramp_deg: float
    lift_mm: float

    @classmethod
    def between(cls, open_deg: float, close_deg: float, lift_mm: float) -> ValveLobe:
        """The lobe that is above ``lift_mm`` between two angles (deg)."""
        duration = (close_deg - open_deg) % 720.0
        below = math.asin(math.sqrt(min(0.5, lift_mm / numbers.PEAK_LIFT_MM.value))) / math.pi
        full = duration / (1.0 - 2.0 * below)
        return cls(full, full * below, lift_mm)

    def moved_by_size_deg(self, area: float) -> float:
        """By how much (deg) a valve passes its lift nearer to the middle of its lobe when it opens by another area,
        over the usual one (unitless). Valves of other sizes differ too, so that only what is far from any usual one is
        a worn lobe or clearance."""
        if abs(math.log(area)) < numbers.AREA_UNUSUAL.value:
            return 0.0
        lift = min(1.0, self.lift_mm / (numbers.PEAK_LIFT_MM.value * area))
        return self.full_deg * math.asin(math.sqrt(lift)) / math.pi - self.ramp_deg


def valve_area_m2(inside_deg: Floats, lobe: ValveLobe, size_mm: float) -> Floats:
    """Effective area (m2) of a pair of valves with heads of ``size_mm``, ``inside_deg`` (deg, any shape) after the
    start of their lobe: the curtain, at most the port (Heywood 1988, section 6.3.2)."""
    inside = np.clip(inside_deg, 0.0, lobe.full_deg)
    lift = numbers.PEAK_LIFT_MM.value * np.sin(np.pi * inside / lobe.full_deg) ** 2
    port = np.pi * size_mm * size_mm / 4.0 * 0.85
    return np.asarray(2.0 * numbers.FLOW_COEFFICIENT.value * np.minimum(np.pi * size_mm * lift, port) * 1e-6)
