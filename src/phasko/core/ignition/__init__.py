"""Sparks: when each coil fires against the crank, how often per cycle, and whose cylinder it really is."""

from phasko.core.ignition.firing import CoilFiring, measure_firing, turn_by_coil
from phasko.core.ignition.result import ignition_problems, ignition_results

__all__ = ["CoilFiring", "ignition_problems", "ignition_results", "measure_firing", "turn_by_coil"]
