"""What the compiled engine is given: fixed properties, and what changes in time.

Apart from the kernel, so that describing an engine does not load the compiler.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from phasko.bench.arrays import Floats

__all__ = ["CYLINDER_COLUMNS", "Inputs", "Machine"]

CYLINDER_COLUMNS = (
    "tdc_deg",
    "clearance_m3",
    "intake_centre_deg",
    "intake_full_deg",
    "intake_peak_mm",
    "intake_clearance_mm",
    "exhaust_centre_deg",
    "exhaust_full_deg",
    "exhaust_peak_mm",
    "exhaust_clearance_mm",
    "ring_leak_m2",
    "intake_leak_m2",
    "exhaust_leak_m2",
    "plug_leak_m2",
    "intake_port",
    "exhaust_port",
    "leak_from_s",
    "leak_to_s",
    "added_ring_leak_m2",
    "fires",
)
"""Columns of ``Machine.cylinders``, in order."""


class Machine(NamedTuple):
    """Fixed properties, SI units unless the name says otherwise; ``cylinders`` has one row per cylinder."""

    cylinders: Floats
    cam_of_intake: NDArray[np.int64]
    cam_of_exhaust: NDArray[np.int64]
    bore_area: float
    radius: float
    rod: float
    offset: float
    intake_valve_mm: float
    exhaust_valve_mm: float
    valves_each: float
    plenum_m3: float
    exhaust_m3: float
    crankcase_m3: float
    tailpipe_m2: float
    breather_m2: float
    ambient_pa: float
    ambient_k: float
    wall_k: float
    piston_area_factor: float
    inertia: float
    friction_nm: float
    friction_nms: float
    battery_v: float
    battery_ohm: float
    line_ohm: float
    inductance_h: float
    motor_nm_per_a: float
    motor_efficiency: float
    accessory_a: float
    heat_j_per_kg_air: float
    burn_deg: float
    governs_fuel: bool


class Inputs(NamedTuple):
    """What changes in time, one value per ``every`` steps: throttle, speed held by it (0: none), starter, spark and
    fuel, cam shifts."""

    every: int
    throttle_m2: Floats
    target_rpm: Floats
    starter: NDArray[np.bool_]
    ignites: NDArray[np.bool_]
    spark_deg: Floats
    cam_shift_deg: Floats
