"""The cylinder or bank that compresses least, in the words that are set largest."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.compression.blind_spots import dead_bank
from phasko.core.compression.relative import Compression
from phasko.core.documents.engine import EngineProfile

__all__ = ["Worst", "sealing_words", "worst"]


@dataclass(frozen=True, slots=True)
class Worst:
    """What compresses least: ``Cylinder 3``, ``Bank 1``, ``Cylinders 2 and 3``, ``One cylinder``; its share of the
    healthy ones' peak pressure, and the half width of that."""

    where: str
    relative: float
    u95: float | None

    @property
    def size(self) -> str:
        """``42 %``; no digits beyond what the measurement carries."""
        return f"{100 * self.relative:.0f} %"


def worst(compression: Compression, engine: EngineProfile) -> Worst | None:
    """The low one; ``None`` where no cylinder is low. Where cylinders have no names it is told without one."""
    if compression.identified_by is None:
        lowest = float(np.min(compression.sources[0].relative))
        if compression.events_per_cycle is None or lowest >= numbers.COMPRESSION_WEAK_BELOW.value:
            return None
        return Worst("One cylinder, which one is not known", lowest, None)
    low = sorted((c for c in compression.cylinders if c.state in ("weak", "dead")), key=lambda c: c.relative or 0.0)
    if not low:
        return None
    bank = dead_bank([c.cylinder for c in low], engine)
    if bank is not None:
        own = [c.relative or 0.0 for c in low]
        return Worst(f"Bank {bank}", sum(own) / len(own), max(c.u95 or 0.0 for c in low))
    return Worst(f"Cylinder {low[0].cylinder}", low[0].relative or 0.0, low[0].u95)


def sealing_words(compression: Compression, engine: EngineProfile) -> str:
    """For lists: ``cylinder 3 at 42 %``, ``4 of 4 sound``, or what is not known."""
    low = worst(compression, engine)
    if low is not None:
        where = low.where.split(",")[0]
        return f"{where[0].lower()}{where[1:]} at {low.size}"
    if compression.sound is None:
        return "cylinders not counted"
    return f"{compression.sound} of {compression.expected_events} sound"
