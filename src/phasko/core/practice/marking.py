"""Marking a number that was read by hand against the truth, with the tolerance of a good hand."""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["Asked", "Marked", "marked"]


@dataclass(frozen=True, slots=True)
class Asked:
    """One number to be read: what is asked, in which ``unit``, and within which ``tolerance`` a good hand reads it.
    ``modulo``: an angle that comes round again (720 for a place in the cycle)."""

    id: str
    words: str
    unit: str
    tolerance: float
    modulo: float | None = None
    places: int = 0
    """Decimal places in which the truth is told."""


@dataclass(frozen=True, slots=True)
class Marked:
    """An answer as it was marked: how far it is off, signed (answer less truth), and what is said of it."""

    right: bool
    off_by: float
    words: str


def marked(asked: Asked, answer: float, truth: float) -> Marked:
    """Whether the answer is right."""
    off = answer - truth
    if asked.modulo is not None:
        off = (off + asked.modulo / 2.0) % asked.modulo - asked.modulo / 2.0
    unit = asked.unit if asked.unit in ("", "°") else f" {asked.unit}"
    true = f"{truth:.{asked.places}f}{unit}"
    # A hair more than the tolerance, so that an answer typed at its edge is not refused for its last bit.
    right = abs(off) <= asked.tolerance + 1e-9
    if right:
        near = "" if asked.tolerance == 0.0 else f", within {asked.tolerance:g}{unit} of it"
        return Marked(True, off, f"Right: {true}{near}.")
    way = "more" if off > 0 else "less"
    return Marked(False, off, f"It is {true}; yours is {abs(off):.{max(asked.places, 1)}f}{unit} {way}.")
