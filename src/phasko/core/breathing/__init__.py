"""How the engine breathes while it is cranked: pulses in intake, exhaust, crankcase; suck or push at the throttle."""

from phasko.core.breathing.manifold import Manifold, ManifoldState, mean_pressures
from phasko.core.breathing.pulses import PulseMeasurement, PulseOdd, measure_pulses
from phasko.core.breathing.result import breathing_problems, manifold_results, odd_words, pulse_results

__all__ = [
    "Manifold",
    "ManifoldState",
    "PulseMeasurement",
    "PulseOdd",
    "breathing_problems",
    "manifold_results",
    "mean_pressures",
    "measure_pulses",
    "odd_words",
    "pulse_results",
]
