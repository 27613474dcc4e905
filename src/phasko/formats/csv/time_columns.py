"""Which columns of a text table hold the time, and the even time base they make."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from phasko.core.arrays import Floats
from phasko.core.errors import DataError
from phasko.formats.csv.header import Header, time_unit_of
from phasko.formats.table import even_time_base
from phasko.readers.time_names import is_time_name

__all__ = ["Times", "clock_seconds", "time_base"]


_COUNTERS = re.compile(
    r"(samples?|index|idx|no|nr|n|#|points?|records?|row|line|count)\.?( ?(no|nr|number|index))?\.?$", re.I
)
_DAY_S = 86_400.0


@dataclass(frozen=True, slots=True)
class Times:
    """Start and interval in s (``None``: the file does not tell), the columns that were used up, and how."""

    start_s: float
    interval_s: float | None
    used: frozenset[str]
    notes: tuple[str, ...]


def time_base(
    columns: Mapping[str, Floats], clocks: Mapping[str, Floats], header: Header, place: str, line: int
) -> Times:
    """Finds the time among numeric ``columns`` and ``clocks`` (times of day, in s). Raises DataError when there is a
    time column that is not even; ``line`` is where its first stamp stands."""
    if clocks:
        return _of_clock(columns, clocks, header, place, line)
    named = [name for name in columns if is_time_name(name)]
    if not named:
        return _unnamed(columns, header, place, line)
    first = columns[named[0]] * time_unit_of(named[0], header.units)
    notes: tuple[str, ...] = () if named[0] == "time_s" else (f"Time from the column {named[0]!r}.",)
    if len(named) > 1:
        split = _split_seconds(columns, named, header)
        if split is not None:
            first, notes = split, (f"Time from the columns {named[0]!r} and {named[1]!r} together.",)
        else:
            _must_agree(columns, named, header, first, place)
            notes = (f"Each channel has its own time column; they agree, {named[0]!r} was taken.",)
    start, interval = even_time_base(first, place, line)
    if header.interval_s is not None and abs(header.interval_s / interval - 1.0) > 0.01:
        told = f"The preamble tells {1 / header.interval_s:.6g} samples a second, the time column {1 / interval:.6g}; "
        notes = (*notes, told + "the time column was believed.")
    return Times(start, interval, frozenset(named), notes)


def clock_seconds(texts: list[str]) -> Floats:
    """Seconds of the day of ``[date ]hh:mm:ss.fff`` (or ``mm:ss.fff``); not a number where there is none."""
    found = np.full(len(texts), np.nan)
    for i, text in enumerate(texts):
        parts = text.rsplit(" ", 1)[-1].rsplit("T", 1)[-1].replace(",", ".").split(":")
        if len(parts) >= 2:
            try:
                found[i] = sum(float(part) * 60.0**k for k, part in enumerate(reversed(parts)))
            except ValueError:
                continue
    return found


def _of_clock(
    columns: Mapping[str, Floats], clocks: Mapping[str, Floats], header: Header, place: str, line: int
) -> Times:
    name = next((n for n, times in clocks.items() if np.isfinite(times).all()), None)
    if name is None:
        raise DataError("has a time of day that cannot be read", place=place, remedy="Export the time in seconds.")
    times = clocks[name].copy()
    fraction = next((n for n in columns if is_time_name(n) and time_unit_of(n, header.units) < 1.0), None)
    used = set(clocks)
    if fraction is not None and np.all(times == np.round(times)):
        times = times + columns[fraction] * time_unit_of(fraction, header.units)
        used.add(fraction)
    times[1:] += _DAY_S * np.cumsum(np.diff(times) < -_DAY_S / 2)
    times -= times[0]
    if header.interval_s is not None and not _even(times):
        note = "The time of day is too coarse; the sample rate of the preamble was taken."
        return Times(0.0, header.interval_s, frozenset(used), (note,))
    start, interval = even_time_base(times, place, line)
    return Times(start, interval, frozenset(used), (f"Time from the time of day in {name!r}, beginning at 0.",))


def _even(times_s: Floats) -> bool:
    try:
        even_time_base(times_s, "")
    except DataError:
        return False
    return True


def _split_seconds(columns: Mapping[str, Floats], named: list[str], header: Header) -> Floats | None:
    """Whole seconds in one column and their fraction in the next, joined; ``None`` where the columns are not such."""
    whole, part = columns[named[0]], columns[named[1]]
    unit = time_unit_of(named[1], header.units)
    if not np.all(whole == np.round(whole)) or np.all(part == whole):
        return None
    if unit == 1.0 and float(np.nanmax(np.abs(part))) >= 1.0:
        return None
    return np.asarray(whole * time_unit_of(named[0], header.units) + part * unit)


def _must_agree(columns: Mapping[str, Floats], named: list[str], header: Header, first: Floats, place: str) -> None:
    interval = (first[-1] - first[0]) / max(1, first.size - 1)
    for name in named[1:]:
        other = columns[name] * time_unit_of(name, header.units)
        if not np.nanmax(np.abs(other - first)) < 0.5 * abs(interval) + 1e-12:
            raise DataError(
                f"the channels were not taken at the same moments: {name!r} differs from {named[0]!r}",
                place=place,
                remedy="Export them on one time base.",
            )


def _unnamed(columns: Mapping[str, Floats], header: Header, place: str, line: int) -> Times:
    """Nothing is called time: the sample rate of the preamble counts, else a first column that grows evenly."""
    counters = frozenset(name for name in columns if _COUNTERS.match(name) and _counts(columns[name]))
    if header.interval_s is not None:
        note = f"No time column; {1 / header.interval_s:.6g} samples a second, as the preamble tells."
        return Times(header.start_s or 0.0, header.interval_s, counters, (note,))
    first = next(iter(columns))
    if first in counters or len(header.names) < 2 or _counts(columns[first]):
        return Times(0.0, None, counters | ({first} if _counts(columns[first]) else frozenset()), ())
    if not np.all(np.diff(columns[first]) > 0) and not (_grows(columns[first]) and _even(columns[first])):
        return Times(0.0, None, frozenset(), ())
    start, interval = even_time_base(columns[first], place, line)
    return Times(start, interval, frozenset({first}), (f"The first column ({first}) grows evenly: taken as seconds.",))


def _grows(values: Floats) -> bool:
    return bool(values.size > 2 and np.all(np.diff(values) >= 0) and values[-1] > values[0])


def _counts(values: Floats) -> bool:
    """Whether the values are 0, 1, 2 ... from anywhere."""
    return bool(values.size > 2 and np.all(np.diff(values) == 1.0) and values[0] == np.round(values[0]))
