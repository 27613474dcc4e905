"""The simulated engine and instruments: stand-ins for the car, the sensors and the scope. Shares no analysis code."""

from phasko.bench.hookup import HallSensor, HookUp, Nuisances, Shift
from phasko.bench.motion import Cranking, CrankMotion, crank_motion
from phasko.bench.pool import pool_engine, pool_engines
from phasko.bench.scope import BenchCapture, capture_files, record

__all__ = [
    "BenchCapture",
    "CrankMotion",
    "Cranking",
    "HallSensor",
    "HookUp",
    "Nuisances",
    "Shift",
    "capture_files",
    "crank_motion",
    "pool_engine",
    "pool_engines",
    "record",
]
