"""What an in-cylinder pressure channel tells about the cycle."""

from phasko.core.cylinder.peaks import peak_times_s, turn_by_pressure

__all__ = ["peak_times_s", "turn_by_pressure"]
