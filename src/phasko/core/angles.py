"""Angles on the circle: the one wrap that all measuring uses."""

from __future__ import annotations

from typing import TypeVar

from phasko.core.arrays import Floats

__all__ = ["wrap", "wrap_cycle", "wrap_difference"]

Angle = TypeVar("Angle", float, Floats)


def wrap(angle_deg: Angle, modulo_deg: float) -> Angle:
    """The value nearest to 0 among those alike modulo ``modulo_deg``: degrees in (-modulo/2, modulo/2].

    One number, or an array of any shape, each element by itself. The closed end is the late one, as in the documents.
    """
    return modulo_deg / 2 - (modulo_deg / 2 - angle_deg) % modulo_deg


def wrap_cycle(angle_deg: float) -> float:
    """An angle difference within one cycle: degrees in (-360, 360]."""
    return wrap(angle_deg, 720.0)


def wrap_difference(angle_deg: float) -> float:
    """A difference of crank angles: degrees in (-180, 180], late positive."""
    return wrap(angle_deg, 360.0)
