"""What every data format is read into: named columns on one even time base."""

from __future__ import annotations

import io
import mmap
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, BinaryIO

import numpy as np
from numpy.typing import NDArray

from phasko.core.errors import DataError

__all__ = ["FileBytes", "Table", "as_file", "check_time_base", "even_time_base", "without_time"]

FileBytes = bytes | mmap.mmap
"""The content of a file: in memory, or mapped from the disk."""


def as_file(data: FileBytes) -> BinaryIO:
    """The content as a file to read from, from its beginning; a mapped one is not copied."""
    return io.BytesIO(data) if isinstance(data, bytes) else io.BufferedReader(_Mapped(data))


class _Mapped(io.RawIOBase):
    """A mapped file with all that a file has: what is mapped lacks ``seekable``, which archives ask for."""

    def __init__(self, mapped: mmap.mmap) -> None:
        self._mapped = mapped
        self._at = 0

    def readable(self) -> bool:
        return True

    def seekable(self) -> bool:
        return True

    def seek(self, offset: int, whence: int = io.SEEK_SET) -> int:
        begin = {io.SEEK_SET: 0, io.SEEK_CUR: self._at, io.SEEK_END: len(self._mapped)}[whence]
        self._at = max(0, begin + offset)
        return self._at

    def tell(self) -> int:
        return self._at

    def readinto(self, buffer: Any, /) -> int:
        piece = self._mapped[self._at : self._at + len(buffer)]
        buffer[: len(piece)] = piece
        self._at += len(piece)
        return len(piece)


@dataclass(frozen=True, slots=True, eq=False)
class Table:
    """Columns as stored (before scale and offset), all of one length; missing samples are NaN.

    ``interval_s`` is ``None`` where the file says nothing about time. ``units`` are those the file names;
    ``description`` is the capture description that was written into the file, as JSON. ``ordered``: the file has no
    names, its columns are called c1, c2 ... in their order. ``notes`` say how the file was understood;
    ``cut_off`` where the file ends before it should, in words: what stands before that was kept.
    """

    start_s: float
    interval_s: float | None
    columns: Mapping[str, NDArray[np.float32]]
    units: Mapping[str, str] = field(default_factory=dict)
    description: str | None = None
    ordered: bool = False
    notes: tuple[str, ...] = ()
    cut_off: str | None = None


_BLOCK = 1 << 18
_EVENNESS = 0.5
"""Largest distance of a time stamp from the even grid, in intervals: files round their stamps, scopes do not wander."""


def even_time_base(times_s: NDArray[np.float64], place: str, first_line: int = 2) -> tuple[float, float]:
    """(start, interval) in s of an evenly spaced time column: the interval is (last - first) / (n - 1).

    Stamps may be rounded to coarser steps than the interval. ``first_line`` is where the first stamp stands. Raises
    DataError when times are missing, do not grow, or are not evenly spaced.
    """
    if times_s.size < 2:
        raise DataError("has fewer than two samples", place=place, remedy="Was the recording or the download cut off?")
    bad = np.flatnonzero(~np.isfinite(times_s))
    if bad.size:
        raise DataError("the time is not a number", place=f"{place}, line {int(bad[0]) + first_line}")
    first, last = float(times_s[0]), float(times_s[-1])
    interval = (last - first) / (times_s.size - 1)
    if interval <= 0:
        raise DataError("the time does not grow from first to last sample", place=place)
    worst, off = _farthest_off(times_s, first, interval)
    if off > max(_EVENNESS * interval, 2e-9) and off > 1.05 * _stamp_step(times_s):
        raise DataError(
            f"the time is not evenly spaced: {times_s[worst]:.9g} s stands {off / interval:.1f} samples off",
            place=f"{place}, line {worst + first_line}",
            remedy="Export the recording without gaps, or cut it into pieces.",
        )
    return first, interval


def _farthest_off(times_s: NDArray[np.float64], first: float, interval: float) -> tuple[int, float]:
    """The stamp farthest from its even place, and how far; block by block, since a long recording has many."""
    worst, off = 0, -1.0
    for start in range(0, times_s.size, _BLOCK):
        part = times_s[start : start + _BLOCK]
        away = np.abs(part - (first + interval * np.arange(start, start + part.size)))
        i = int(np.argmax(away))
        if away[i] > off:
            worst, off = start + i, float(away[i])
    return worst, off


def _stamp_step(times_s: NDArray[np.float64]) -> float:
    """The step to which stamps were rounded, where so coarsely that some repeat; else 0."""
    steps = np.diff(times_s)
    if not np.any(steps == 0.0) or np.any(steps < 0.0):
        return 0.0
    return float(steps[steps > 0].min())


def check_time_base(start_s: float, interval_s: float, place: str) -> None:
    """Raises DataError for times that no recording has, before anything is reckoned with them."""
    if not 1e-10 <= interval_s <= 100.0 or not abs(start_s) <= 1e7:
        raise DataError(
            f"says that it begins at {start_s:.3g} s and has {interval_s:.3g} s between samples",
            place=place,
            remedy="Is the time in another unit? Say so in the name of its column (time_ms, time_us).",
        )


def without_time(place: str) -> DataError:
    """The error for a file that says nothing about time."""
    return DataError(
        "has no time column and names no sample rate",
        place=place,
        remedy="Say how many samples were taken a second (interval_s in the description).",
    )
