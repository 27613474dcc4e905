"""One part moved by any amount: the grid that several explanations share."""

from __future__ import annotations

from collections.abc import Callable

from phasko.core.engine.state import EngineState
from phasko.core.explanations.explanation import Branch, Place
from phasko.core.explanations.grids import Grid, shift_grid

__all__ = ["moved", "shifted"]


def shifted(place: Place, share: float, state: Callable[[float], EngineState], covers_off: bool) -> list[Branch]:
    """Branches of a part moved by any amount, late and early alike; ``state`` turns an amount into a state."""
    return moved(place, share, shift_grid(), state, covers_off)


def moved(
    place: Place, share: float, grid: Grid, state: Callable[[float], EngineState], covers_off: bool
) -> list[Branch]:
    """The same over a given grid of amounts."""
    return [
        Branch(
            share=share * weight,
            state=state(amount),
            place=place,
            amount_deg=amount,
            amount_sd=width,
            nudged=state(amount + width),
            covers_off=covers_off,
        )
        for amount, weight, width in grid
    ]
