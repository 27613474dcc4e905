"""Where the piston stands: cylinder volume over the crank angle after top dead centre."""

from __future__ import annotations

import math

import numpy as np

from phasko.core.arrays import Floats
from phasko.core.documents.engine import Geometry

__all__ = ["cylinder_volume"]


def cylinder_volume(after_tdc_deg: Floats, shape: Geometry) -> tuple[Floats, Floats]:
    """(volume in swept volumes with its clearance, its slope per rad) at angles after top dead centre:
    ``after_tdc_deg`` (n,) in deg, both results (n,).

    Slider crank with an offset bore: the piston is highest where throw and rod lie in line, and angles count from
    there (Heywood, Internal Combustion Engine Fundamentals, 1988, equations 2.4 to 2.6, for no offset; from memory).
    """
    radius, rod, aside = 0.5, shape.rod_mm / shape.stroke_mm, shape.crank_offset_mm / shape.stroke_mm
    angle = np.radians(after_tdc_deg) + math.asin(aside / (rod + radius))
    across = radius * np.sin(angle) - aside
    root = np.sqrt(rod**2 - across**2)
    highest, lowest = (math.sqrt((rod + throw) ** 2 - aside**2) for throw in (radius, -radius))
    swept = highest - lowest
    drop = highest - (radius * np.cos(angle) + root)
    slope = radius * np.sin(angle) + across * radius * np.cos(angle) / root
    return np.asarray(drop / swept + 1.0 / (shape.compression_ratio - 1.0)), np.asarray(slope / swept)
