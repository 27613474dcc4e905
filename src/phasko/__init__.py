"""Phasko: cam-to-crank phase measured with its uncertainty, and a call with the covers on."""

__version__ = "0.2.0"
__all__ = ["__version__"]
