"""How far the analysis of a fleet is."""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["Progress"]


@dataclass(frozen=True, slots=True)
class Progress:
    """How far it is: units done of all, how many of them bad, units a second since the start."""

    done: int
    every: int
    bad: int
    rate: float

    @property
    def words(self) -> str:
        """One line."""
        left = (self.every - self.done) / self.rate if self.rate > 0.0 else 0.0
        togo = f", {left / 60.0:.0f} min to go" if left >= 90.0 else f", {left:.0f} s to go"
        bad = f", {self.bad} cannot be read" if self.bad else ""
        pace = f"{self.rate:.1f} a second" if self.rate >= 1.0 else f"{60.0 * self.rate:.0f} a minute"
        return f"{self.done} of {self.every}, {pace}{bad}{togo if self.done < self.every else ''}"
