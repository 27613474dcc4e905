"""One number of the table."""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["Entry"]


@dataclass(frozen=True, slots=True)
class Entry:
    """One number of the table; two entries are equal when all fields are."""

    value: float
    unit: str
    meaning: str
    source: str
