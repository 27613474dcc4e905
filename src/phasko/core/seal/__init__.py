"""How well each cylinder seals, from what cranking costs: starter current, battery voltage, the crank's own speed."""

from phasko.core.seal.blind_spots import blind_spots, seal_problems, unread_sources
from phasko.core.seal.compression import Compression, CylinderSeal, OverallSeal, measure_compression
from phasko.core.seal.cycle_signal import CrankingCycles, cranking_cycles
from phasko.core.seal.firing_order import FiringPlaces, inferred_order, taken_out_problems
from phasko.core.seal.overall import SealSize, overall_problems, overall_size, seal_size
from phasko.core.seal.seal_result import compression_result
from phasko.core.seal.seal_view import SealView, seal_view
from phasko.core.seal.separation import Separation, separate
from phasko.core.seal.without_crank import compression_without_crank

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
