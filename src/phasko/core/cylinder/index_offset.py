"""Where the crank wheel's index stands against the pistons, from whatever felt them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.cycle.angle_grid import CrankingCycles
from phasko.core.cylinder.tdc_by_speed import StarterSource, tdc_by_speed
from phasko.core.documents.engine import EngineProfile

__all__ = ["IndexOffset", "IndexSource", "Starter", "index_by_speed"]

IndexSource = Literal["cylinder_pressure", "speed", "current", "joined"]
Starter = tuple[StarterSource, Floats]


@dataclass(frozen=True, slots=True)
class IndexOffset:
    """How late the index tooth passes against the profile, measured by the pistons (deg, late positive), with its 95 %
    half width."""

    offset_deg: float
    u95_deg: float
    source: IndexSource

    @property
    def confirms(self) -> bool:
        """Whether the wheel stands where the profile has it, as far as this can tell."""
        return abs(self.offset_deg) <= max(self.u95_deg, numbers.INDEX_TRUE_DEG.value)


def index_by_speed(
    cycles: CrankingCycles, engine: EngineProfile, relative: Mapping[int, float] | None, starter: Starter | None
) -> IndexOffset | None:
    """From the crank's own speed (``tdc_by_speed``); ``None`` where it does not show, or only within more than
    ``INDEX_U95_MOST_DEG``. ``starter``: what its torque follows, (STEPS,) of the mean cycle."""
    found = tdc_by_speed(cycles, engine, relative, starter)
    if found is None or found.u95_deg > numbers.INDEX_U95_MOST_DEG.value:
        return None
    return IndexOffset(found.index_offset_deg, found.u95_deg, "speed")
