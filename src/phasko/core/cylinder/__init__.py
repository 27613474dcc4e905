"""Where pistons and valves stand: by the crank's own speed, and by the pressure in a cylinder."""

from phasko.core.cylinder.index_offset import IndexOffset, IndexSource, index_by_speed
from phasko.core.cylinder.peaks import peak_times_s, turn_by_pressure

__all__ = ["IndexOffset", "IndexSource", "index_by_speed", "peak_times_s", "turn_by_pressure"]
