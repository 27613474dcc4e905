"""How well each cylinder seals, from what cranking costs: starter current, battery voltage, the crank's own speed.

What only a picture needs is imported from ``compression.view``: measuring does not load it.
"""

from phasko.core.compression.blind_spots import blind_spots, compression_problems, unread_sources
from phasko.core.compression.firing_order import FiringPlaces, inferred_order, taken_out_problems
from phasko.core.compression.overall import CompressionSize, compression_size, overall_problems, overall_size
from phasko.core.compression.relative import Compression, CylinderCompression, OverallCompression, measure_compression
from phasko.core.compression.result import compression_result
from phasko.core.compression.separation import Separation, separate
from phasko.core.compression.without_crank import compression_without_crank
from phasko.core.compression.worst import sealing_words, worst
from phasko.core.cycle.angle_grid import CrankingCycles, cranking_cycles

__all__ = [
    "Compression",
    "CompressionSize",
    "CrankingCycles",
    "CylinderCompression",
    "FiringPlaces",
    "OverallCompression",
    "Separation",
    "blind_spots",
    "compression_problems",
    "compression_result",
    "compression_size",
    "compression_without_crank",
    "cranking_cycles",
    "inferred_order",
    "measure_compression",
    "overall_problems",
    "overall_size",
    "sealing_words",
    "separate",
    "taken_out_problems",
    "unread_sources",
    "worst",
]
