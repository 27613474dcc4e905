"""Injector pulses: how long, when, how often in a cycle, and whether they are withheld."""

from phasko.core.injection.pulses import Injection, measure_injection
from phasko.core.injection.result import injection_results

__all__ = ["Injection", "injection_results", "measure_injection"]
