"""Readings of many engines of one kind, an engine a row."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from phasko.core.arrays import Floats
from phasko.core.errors import DataError

__all__ = ["KindReadings"]


@dataclass(frozen=True, slots=True, eq=False)
class KindReadings:
    """Offsets of the cams of many engines against the profile.

    ``offsets_deg`` (engines, cams): late positive, NaN where a cam was not read. ``sds_deg`` (engines, cams): standard
    deviation of the measurement. ``distances`` (engines,): in 10 000 km, NaN where it is not known. ``chances``
    (engines,): how likely nothing but wear has moved the engine's cams (0 to 1). ``reach`` (cams,): how far along the
    chain each cam sits, of the furthest; how much of the chain's elongation it shows.
    """

    offsets_deg: Floats
    sds_deg: Floats
    distances: Floats
    chances: Floats
    reach: Floats

    def __post_init__(self) -> None:
        """Raises DataError for shapes that do not fit, and chances that are none."""
        engines, cams = self.offsets_deg.shape
        fits = (
            self.sds_deg.shape == (engines, cams)
            and self.distances.shape == (engines,)
            and self.chances.shape == (engines,)
            and self.reach.shape == (cams,)
        )
        if not fits:
            raise DataError("readings of engines do not fit each other in number")
        if np.any(~(self.chances >= 0.0)) or np.any(self.chances > 1.0):
            raise DataError("a chance lies outside 0 to 1")
