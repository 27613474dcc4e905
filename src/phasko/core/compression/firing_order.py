"""The firing order, inferred from cylinders that were taken out on purpose: each leaves a gap at its own place."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from phasko.core.documents.analysis import CompressionResult, Problem
from phasko.core.documents.engine import EngineProfile

__all__ = ["FiringPlaces", "inferred_order", "taken_out_problems"]


@dataclass(frozen=True, slots=True)
class FiringPlaces:
    """``order``: the cylinder at each place of the firing order, ``None`` where no capture tells. ``contradicts``: the
    profile has another one somewhere. ``conflicts``: in words, captures that do not go together."""

    order: tuple[int | None, ...]
    contradicts: bool
    conflicts: tuple[str, ...]

    @property
    def complete(self) -> bool:
        return None not in self.order


def inferred_order(taken: Sequence[tuple[int, CompressionResult | None]], engine: EngineProfile) -> FiringPlaces:
    """From captures of (the cylinder taken out, what was measured). The place of the index is cylinder 1's by
    definition; with all places but one known the last is known too."""
    places: list[int | None] = [None] * engine.cylinders
    places[engine.firing_order.index(1)] = 1
    conflicts: list[str] = []
    for cylinder, compression in taken:
        place = _gap(compression, engine)
        if place is None:
            conflicts.append(f"With cylinder {cylinder} out no single gap was found.")
        elif places[place] is None and cylinder not in places:
            places[place] = cylinder
        elif places[place] != cylinder:
            conflicts.append(
                f"With cylinder {cylinder} out the gap stands at place {place + 1}, which is taken by another; was the "
                "right plug out?"
            )
    left = [c for c in range(1, engine.cylinders + 1) if c not in places]
    if places.count(None) == 1 and len(left) == 1:
        places[places.index(None)] = left[0]
    both = zip(places, engine.firing_order, strict=True)
    contradicts = any(found is not None and found != own for found, own in both)
    return FiringPlaces(tuple(places), contradicts, tuple(conflicts))


def _gap(compression: CompressionResult | None, engine: EngineProfile) -> int | None:
    """The place in the firing order that does not compress."""
    if compression is None or compression.identified_by is None:
        return None
    low = [c.cylinder for c in compression.cylinders if c.state == "dead"]
    return engine.firing_order.index(low[0]) if len(low) == 1 else None


def taken_out_problems(
    taken_out: int | None, compression: CompressionResult | None, engine: EngineProfile
) -> list[Problem]:
    """What the gap of a cylinder that was taken out says about the profile's firing order."""
    if taken_out is None or taken_out not in engine.firing_order:
        return []
    place = _gap(compression, engine)
    if place is None:
        text = f"Cylinder {taken_out} was taken out, but no single cylinder is found without compression."
        return [Problem(code="taken_out_unseen", text=text)]
    if engine.firing_order[place] == taken_out:
        return []
    text = (
        f"Cylinder {taken_out} was taken out, and the gap stands at place {place + 1} of the firing order, where the "
        f"profile has cylinder {engine.firing_order[place]}: the profile's firing order is wrong, or another plug was "
        "out."
    )
    return [Problem(code="firing_order_contradicts", text=text)]
