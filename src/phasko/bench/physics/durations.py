"""How long a valve is off its seat."""

from __future__ import annotations

import math

__all__ = ["full_duration"]


def full_duration(duration_deg: float, at_lift_mm: float, peak_mm: float) -> float:
    """Duration from seat to seat of a sine-squared lift that is above ``at_lift_mm`` for ``duration_deg``."""
    if peak_mm <= at_lift_mm:
        return duration_deg
    return duration_deg / (1.0 - 2.0 * math.asin(math.sqrt(at_lift_mm / peak_mm)) / math.pi)
