"""Pressures in other units."""

from __future__ import annotations

__all__ = ["to_bar"]

_BAR = {"bar": 1.0, "mbar": 1e-3, "kPa": 1e-2, "Pa": 1e-5, "MPa": 10.0, "psi": 0.0689476, "hPa": 1e-3}
"""One unit in bar; the pound per square inch from NIST Special Publication 811, appendix B.8."""


def to_bar(unit: str) -> float | None:
    """One of that unit in bar; ``None`` for what is no pressure."""
    return _BAR.get(unit.strip())
