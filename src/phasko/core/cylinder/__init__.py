"""Where pistons and valves stand: by the crank's own speed, and by the pressure in a cylinder."""

from phasko.core.cylinder.closed_line import wall_k
from phasko.core.cylinder.corner_sweep import SweptCorners, travel_deg
from phasko.core.cylinder.corners import Corner
from phasko.core.cylinder.felt_cylinder import FeltCylinder
from phasko.core.cylinder.felt_cylinders import felt_cylinders, felt_without_crank, index_by_pressure
from phasko.core.cylinder.index_offset import IndexOffset, IndexSource, index_by_current, index_by_speed, joined_index
from phasko.core.cylinder.peaks import peak_times_s, turn_by_pressure
from phasko.core.cylinder.result import pressure_results
from phasko.core.cylinder.tdc_by_current import CurrentTdc, tdc_by_current
from phasko.core.cylinder.tdc_by_speed import FoldedTorque, SpeedTdc, tdc_by_speed
from phasko.core.cylinder.torque_fit import Cranked

__all__ = [
    "Corner",
    "Cranked",
    "CurrentTdc",
    "FeltCylinder",
    "FoldedTorque",
    "IndexOffset",
    "IndexSource",
    "SpeedTdc",
    "SweptCorners",
    "felt_cylinders",
    "felt_without_crank",
    "index_by_current",
    "index_by_pressure",
    "index_by_speed",
    "joined_index",
    "peak_times_s",
    "pressure_results",
    "tdc_by_current",
    "tdc_by_speed",
    "travel_deg",
    "turn_by_pressure",
    "wall_k",
]
