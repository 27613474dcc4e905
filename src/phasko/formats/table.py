"""What every data format is read into: named columns on one even time base."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from phasko.core.errors import DataError

__all__ = ["Table", "even_time_base"]


@dataclass(frozen=True, slots=True, eq=False)
class Table:
    """Columns as stored (before scale and offset), all of one length; missing samples are NaN."""

    start_s: float
    interval_s: float
    columns: Mapping[str, NDArray[np.float32]]


_EVENNESS = 0.5
"""Largest distance of a time stamp from the even grid, in intervals: files round their stamps, scopes do not wander."""


def even_time_base(times_s: NDArray[np.float64], place: str) -> tuple[float, float]:
    """(start, interval) in s of an evenly spaced time column: the interval is (last - first) / (n - 1).

    Raises DataError when times are missing, do not grow, or are not evenly spaced.
    """
    if times_s.size < 2:
        raise DataError("has fewer than two samples", place=place, remedy="Was the recording or the download cut off?")
    bad = np.flatnonzero(~np.isfinite(times_s))
    if bad.size:
        raise DataError("time_s is not a number", place=f"{place}, line {int(bad[0]) + 2}")
    first, last = float(times_s[0]), float(times_s[-1])
    interval = (last - first) / (times_s.size - 1)
    if interval <= 0:
        raise DataError("time_s does not grow from first to last sample", place=place)
    off = np.abs(times_s - (first + interval * np.arange(times_s.size)))
    worst = int(np.argmax(off))
    if off[worst] > max(_EVENNESS * interval, 2e-9):
        raise DataError(
            f"time_s is not evenly spaced: {times_s[worst]:.9g} s stands {off[worst] / interval:.1f} samples off",
            place=f"{place}, line {worst + 2}",
            remedy="Export the recording without gaps, or cut it into pieces.",
        )
    return first, interval
