"""One part of one shaft moved by any amount: the grid that several explanations share."""

from __future__ import annotations

from collections.abc import Callable

from phasko.core.engine.state import Branch, EngineState, Place
from phasko.core.explanations.grids import shift_grid

__all__ = ["shifted"]


def shifted(place: Place, share: float, state: Callable[[float], EngineState]) -> list[Branch]:
    """Branches of a part moved by any amount, late and early alike; ``state`` turns an amount into a state."""
    return [
        Branch(
            share=share * weight,
            state=state(amount),
            place=place,
            amount_deg=amount,
            amount_sd=width,
            pitches=None,
            nudged=state(amount + width),
        )
        for amount, weight, width in shift_grid()
    ]
