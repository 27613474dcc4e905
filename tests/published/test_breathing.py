"""Volumetric efficiency and air density against a worked handbook example and the standard atmosphere."""

from __future__ import annotations

import numpy as np
import pytest

from phasko.core.road import air_density_kg_m3, volumetric_efficiency


def test_worked_example_of_a_three_litre_six() -> None:
    """Pulkrabek, Engineering Fundamentals of the Internal Combustion Engine (1997), example 2-3: a 3-litre V6 at
    3600 rpm draws 0.00050 kg into each cylinder per cycle; with air of 1.181 kg/m3 (101 kPa, 25 degrees C) the
    volumetric efficiency is 84.7 %. Values from memory."""
    per_cylinder_kg, cylinders, rpm = 0.00050, 6, 3600.0
    air_g_s = 1000.0 * per_cylinder_kg * cylinders * rpm / 60.0 / 2.0
    found = volumetric_efficiency(np.array([air_g_s]), np.array([rpm]), 3.0, np.array([101.0]), np.array([25.0]))
    assert found[0] == pytest.approx(0.847, abs=0.001)


@pytest.mark.parametrize(
    ("pressure_kpa", "temperature_c", "density"),
    [(101.325, 15.0, 1.2250), (89.875, 8.5, 1.1117), (79.495, 2.0, 1.0066)],
)
def test_density_of_the_standard_atmosphere(pressure_kpa: float, temperature_c: float, density: float) -> None:
    """ISO 2533:1975, standard atmosphere at 0, 1000 and 2000 m; values from memory."""
    found = air_density_kg_m3(np.array([pressure_kpa]), np.array([temperature_c]))
    assert found[0] == pytest.approx(density, rel=5e-4)


def test_half_the_air_is_half_the_efficiency_at_any_height() -> None:
    full = volumetric_efficiency(np.array([60.0]), np.array([3000.0]), 2.0, np.array([100.0]), np.array([20.0]))
    half = volumetric_efficiency(np.array([30.0]), np.array([3000.0]), 2.0, np.array([100.0]), np.array([20.0]))
    high = volumetric_efficiency(np.array([48.0]), np.array([3000.0]), 2.0, np.array([80.0]), np.array([20.0]))
    assert half[0] == pytest.approx(full[0] / 2)
    assert high[0] == pytest.approx(full[0])
