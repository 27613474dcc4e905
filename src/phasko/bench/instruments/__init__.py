"""The simulated scope and scan tool in a process of their own: ``python -m phasko.bench.instruments``."""

from phasko.bench.instruments.car import CarSheet, HeatSheet, SimulatedCar, Trouble
from phasko.bench.instruments.server import serve_instruments

__all__ = ["CarSheet", "HeatSheet", "SimulatedCar", "Trouble", "serve_instruments"]
