"""Named series of a container file as one table: which of them is the time, which belong together."""

from __future__ import annotations

import re
from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from phasko.core.errors import DataError
from phasko.formats.csv.header import Header, time_unit_of
from phasko.formats.table import Table, even_time_base
from phasko.readers.time_names import is_time_name

__all__ = ["table_of_series"]

_INTERVAL = re.compile(r"(.*_)?(interval|dt|period|increment|sample_?interval)(_(s|ms|us))?$", re.IGNORECASE)
_RATE = re.compile(r"(.*_)?(fs|rate|frequency|sample_?rate|sampling_?(rate|frequency))(_(hz|khz))?$", re.IGNORECASE)
_START = re.compile(r"(start|start_?time|t0)(_s)?$", re.IGNORECASE)


def table_of_series(
    series: Mapping[str, NDArray[np.generic]],
    scalars: Mapping[str, float],
    units: Mapping[str, str],
    place: str,
    description: str | None = None,
) -> Table:
    """The longest series that have one length, on the time that one of them, or a single number, tells.

    Raises DataError where there is no series, or a time that is not even.
    """
    numeric = {name: values for name, values in series.items() if values.size > 1 and values.dtype.kind in "fiub"}
    if not numeric:
        raise DataError("holds no series of numbers", place=place)
    lengths = [values.size for values in numeric.values()]
    size = max(set(lengths), key=lambda n: (lengths.count(n), n))
    together = {name: values for name, values in numeric.items() if values.size == size}
    left_out = sorted(set(numeric) - set(together))
    notes = [f"Left out, of another length: {', '.join(left_out)}."] if left_out else []
    start_s: float
    interval_s: float | None
    times = [name for name in together if is_time_name(name.rsplit("/", 1)[-1])]
    if times:
        header = Header(
            names=(), units=dict(units), named=True, repeated=(), interval_s=None, start_s=None, description=None
        )
        stamps = np.asarray(together[times[0]], dtype=np.float64)
        scale = time_unit_of(times[0].rsplit("/", 1)[-1], {times[0].rsplit("/", 1)[-1]: header.units.get(times[0], "")})
        start_s, interval_s = even_time_base(stamps * scale, place, 1)
        together = {name: values for name, values in together.items() if name not in times}
        if times[0] != "time_s":
            notes.append(f"Time from {times[0]!r}.")
    else:
        told = _told_interval(scalars)
        start_s, interval_s = next((v for n, v in scalars.items() if _START.match(n)), 0.0), told
    if not together:
        raise DataError("holds a time and nothing else", place=place)
    columns = {name: np.ascontiguousarray(values, dtype=np.float32) for name, values in together.items()}
    named = {name: unit for name, unit in units.items() if name in columns}
    return Table(
        start_s=start_s,
        interval_s=interval_s,
        columns=columns,
        units=named,
        description=description,
        ordered=False,
        notes=tuple(notes),
    )


def _told_interval(scalars: Mapping[str, float]) -> float | None:
    scale = {"ms": 1e-3, "us": 1e-6, "khz": 1e3}
    for name, value in scalars.items():
        unit = scale.get(name.rsplit("_", 1)[-1].lower(), 1.0)
        if _INTERVAL.match(name) and value > 0:
            return value * unit
        if _RATE.match(name) and value > 0:
            return 1.0 / (value * unit)
    return None
