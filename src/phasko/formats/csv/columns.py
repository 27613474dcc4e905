"""From parsed columns to a table: which of them is time, which hold samples, and tables side by side."""

from __future__ import annotations

import re

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray

from phasko.core.errors import DataError
from phasko.formats.csv.dialect import Dialect
from phasko.formats.csv.header import Header
from phasko.formats.csv.time_columns import clock_seconds, time_base
from phasko.formats.table import Table
from phasko.readers.arrow_columns import numbers_of

__all__ = ["side_by_side", "table_of"]


def table_of(arrow: pa.Table, dialect: Dialect, header: Header, place: str, line: int) -> Table:
    """The table of these columns, whose first row is that ``line`` of the file. Raises DataError with the reason."""
    if arrow.num_rows < 2:
        raise DataError("has fewer than two samples", place=place, remedy="Was the recording or the download cut off?")
    clocks, times = {}, {}
    for name in arrow.column_names:
        column = arrow.column(name)
        if pa.types.is_string(column.type):
            clocks[name] = clock_seconds([text or "" for text in column.to_pylist()])
        elif pa.types.is_float64(column.type):
            times[name] = np.asarray(numbers_of(column), dtype=np.float64)
    found = time_base(times, clocks, header, place, line)
    columns: dict[str, NDArray[np.float32]] = {}
    times.clear()
    for name in arrow.column_names:
        if name in found.used or name in clocks:
            continue
        samples = np.array(numbers_of(arrow.column(name)), dtype=np.float32)
        if header.named and re.fullmatch(r"c\d+", name) and bool(np.isnan(samples).all()):
            continue
        columns[name] = samples
    pa.default_memory_pool().release_unused()
    if not columns:
        raise DataError("has a time column and nothing else", place=place)
    units = {name: unit for name, unit in header.units.items() if name in columns}
    notes = (*found.notes, *_dialect_notes(dialect))
    return Table(
        start_s=found.start_s,
        interval_s=found.interval_s,
        columns=columns,
        units=units,
        description=header.description,
        ordered=not header.named,
        notes=notes,
    )


def _dialect_notes(dialect: Dialect) -> tuple[str, ...]:
    words = {";": "semicolons", "\t": "tabs", "|": "bars", " ": "blanks"}
    between = words.get(dialect.delimiter)
    comma = dialect.decimal == ","
    if between is None and not comma:
        return ()
    return (f"Read with {between or 'commas'} between the fields" + (" and decimal commas." if comma else "."),)


def side_by_side(tables: list[Table], place: str) -> Table:
    """Tables of the same moments as one. Raises DataError where they differ in length or time base."""
    first = tables[0]
    size = next(iter(first.columns.values())).size
    columns, units = dict(first.columns), dict(first.units)
    for table in tables[1:]:
        same = table.interval_s is not None and first.interval_s is not None
        same = same and abs(table.start_s - first.start_s) < 0.5 * first.interval_s  # type: ignore[operator]
        if not same or any(samples.size != size for samples in table.columns.values()):
            raise DataError(
                "holds blocks of different length or time base",
                place=place,
                remedy="Export one recording a file, all channels on one time base.",
            )
        for name, samples in table.columns.items():
            unlike = name if name not in columns else f"{name} {len(columns) + 1}"
            columns[unlike] = samples
            units |= {unlike: table.units[name]} if name in table.units else {}
    notes = (*first.notes, f"{len(tables)} blocks stand side by side.")
    return Table(
        start_s=first.start_s,
        interval_s=first.interval_s,
        columns=columns,
        units=units,
        description=first.description,
        ordered=first.ordered,
        notes=notes,
    )
