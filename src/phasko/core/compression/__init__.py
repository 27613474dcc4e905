"""How well each cylinder seals, from what cranking costs: starter current, battery voltage, the crank's own speed."""

from phasko.core.compression.blind_spots import blind_spots, seal_problems, unread_sources
from phasko.core.compression.firing_order import FiringPlaces, inferred_order, taken_out_problems
from phasko.core.compression.overall import SealSize, overall_problems, overall_size, seal_size
from phasko.core.compression.relative import Compression, CylinderSeal, OverallSeal, measure_compression
from phasko.core.compression.result import compression_result
from phasko.core.compression.separation import Separation, separate
from phasko.core.compression.view import SealView, seal_view
from phasko.core.compression.without_crank import compression_without_crank
from phasko.core.cycle.angle_grid import CrankingCycles, cranking_cycles

__all__ = [
    "Compression",
    "CrankingCycles",
    "CylinderSeal",
    "FiringPlaces",
    "OverallSeal",
    "SealSize",
    "SealView",
    "Separation",
    "blind_spots",
    "compression_result",
    "compression_without_crank",
    "cranking_cycles",
    "inferred_order",
    "measure_compression",
    "overall_problems",
    "overall_size",
    "seal_problems",
    "seal_size",
    "seal_view",
    "separate",
    "taken_out_problems",
    "unread_sources",
]
