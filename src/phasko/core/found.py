"""What a measuring step returns: what it found, and what is to be said about it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Generic, TypeVar

from phasko.core.documents.analysis import Problem

__all__ = ["Found"]

Value_co = TypeVar("Value_co", covariant=True)


@dataclass(frozen=True, slots=True, eq=False)
class Found(Generic[Value_co]):
    """A value with the problems met on the way to it, in the order in which they were met."""

    value: Value_co
    problems: tuple[Problem, ...] = ()
