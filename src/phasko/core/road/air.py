"""How full an engine's cylinders get."""

from __future__ import annotations

import numpy as np

from phasko.core.arrays import Floats

__all__ = ["air_density_kg_m3", "volumetric_efficiency"]


GAS_CONSTANT_J_PER_KG_K = 287.05
"""Of dry air (ISO 2533, standard atmosphere; from memory)."""

ZERO_CELSIUS_K = 273.15


def air_density_kg_m3(pressure_kpa: Floats, temperature_c: Floats) -> Floats:
    """Of dry air by the ideal gas law. ``pressure_kpa`` and ``temperature_c`` (n,) give (n,) in kg/m3, from kPa and
    degrees Celsius."""
    return np.asarray(1000.0 * pressure_kpa / (GAS_CONSTANT_J_PER_KG_K * (temperature_c + ZERO_CELSIUS_K)))


def volumetric_efficiency(
    air_g_s: Floats, rpm: Floats, displacement_l: float, pressure_kpa: Floats, temperature_c: Floats
) -> Floats:
    """Air drawn over the air that would fill the displacement every second turn at the density of the outside: eta = 2
    * m / (rho * V * N) of a four-stroke engine (Heywood, Internal Combustion Engine Fundamentals, 1988, equation 2.27a;
    from memory). 1 is full. All arrays are of shape (moments,)."""
    per_s = air_density_kg_m3(pressure_kpa, temperature_c) * displacement_l / 1000.0 * rpm / 60.0 / 2.0
    return np.asarray(air_g_s / 1000.0 / per_s)
