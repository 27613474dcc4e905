"""The cylinder's volume against the formula of the handbook and against bare geometry."""

from __future__ import annotations

import math

import numpy as np
import pytest

from phasko.core.documents.engine import Geometry
from phasko.core.engine.slider_crank import cylinder_volume


def shape(offset_mm: float = 0.0) -> Geometry:
    return Geometry(bore_mm=86.0, stroke_mm=86.0, rod_mm=142.0, compression_ratio=10.0, crank_offset_mm=offset_mm)


@pytest.mark.parametrize("angle_deg", [-140.0, -60.0, 0.0, 35.0, 90.0, 180.0])
def test_the_volume_is_that_of_the_handbook(angle_deg: float) -> None:
    """V/Vc = 1 + (rc - 1)/2 * (R + 1 - cos a - sqrt(R^2 - sin^2 a)), R the rod over the throw (Heywood, Internal
    Combustion Engine Fundamentals, 1988, equation 2.6; from memory)."""
    rod, angle = 142.0 / 43.0, math.radians(angle_deg)
    over_clearance = 1.0 + 4.5 * (rod + 1.0 - math.cos(angle) - math.sqrt(rod**2 - math.sin(angle) ** 2))
    volume, _ = cylinder_volume(np.array([angle_deg]), shape())
    assert volume[0] == pytest.approx(over_clearance / 9.0, rel=1e-9)


@pytest.mark.parametrize("offset_mm", [-8.0, 0.0, 12.0])
def test_an_offset_bore_counts_from_where_the_piston_is_highest(offset_mm: float) -> None:
    """The pin's height by Pythagoras, with throw and rod as two rigid bars, its highest place looked for by hand."""
    throw = np.radians(np.linspace(-20.0, 20.0, 400_001))
    height = 43.0 * np.cos(throw) + np.sqrt(142.0**2 - (43.0 * np.sin(throw) - offset_mm) ** 2)
    highest = math.degrees(float(throw[height.argmax()]))
    volume, slope = cylinder_volume(np.array([0.0, 70.0]), shape(offset_mm))
    assert volume[0] == pytest.approx(1.0 / 9.0)
    assert slope[0] == pytest.approx(0.0, abs=1e-12)
    at = math.radians(70.0 + highest)
    drop = float(height.max()) - (43.0 * math.cos(at) + math.sqrt(142.0**2 - (43.0 * math.sin(at) - offset_mm) ** 2))
    swept = math.sqrt(185.0**2 - offset_mm**2) - math.sqrt(99.0**2 - offset_mm**2)
    assert volume[1] - volume[0] == pytest.approx(drop / swept, abs=1e-5)


def test_the_slope_is_the_slope() -> None:
    angles = np.linspace(-180.0, 180.0, 7201)
    volume, slope = cylinder_volume(angles, shape(9.0))
    assert np.gradient(volume, np.radians(angles))[1:-1] == pytest.approx(slope[1:-1], abs=1e-5)
