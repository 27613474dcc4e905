"""Reads a scan tool's log (CSV): a row per moment, columns with or without units, moments as uneven as they come."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from phasko.core.errors import DataError
from phasko.core.road import RoadLog, road_log
from phasko.formats.csv.dialect import MISSING, MISSING_NUMBERS, Dialect, decoded, fields_of, find_dialect, is_clock
from phasko.formats.csv.header import read_header
from phasko.formats.csv.time_columns import clock_seconds
from phasko.readers.time_names import SECONDS_OF

__all__ = ["MOST_LOG_BYTES", "read_scan_log"]

MOST_LOG_BYTES = 50_000_000


def read_scan_log(data: bytes, place: str) -> RoadLog:
    """The log. Raises DataError with file, line and reason for what is no such log."""
    if len(data) > MOST_LOG_BYTES:
        raise DataError(
            f"is larger than {MOST_LOG_BYTES // 1_000_000} MB",
            place=place,
            remedy="A scan tool's log is small; was a scope capture meant?",
        )
    if b"\0" in data:
        raise DataError("is not text", place=place, remedy="Export the log as CSV.")
    lines = decoded(data).replace("\r\n", "\n").replace("\r", "\n").split("\n")
    dialect = find_dialect(lines[:400])
    if dialect is None:
        raise DataError("has no rows of numbers", place=place, remedy="Export the log as CSV.")
    header = read_header(lines[:400], dialect)
    if not header.named:
        raise DataError("has no line with the columns' names", place=place, remedy="Export it with names.")
    rows = _rows(lines, dialect, place)
    units = [_unit(name, header.units) for name in header.names]
    return road_log(header.names, units, rows, place)


def _unit(name: str, units: dict[str, str]) -> str:
    """The unit that is told, also by the ending of the name (``time_ms``)."""
    told = units.get(name, "")
    ending = name.rsplit("_", 1)[-1].lower() if "_" in name else ""
    return told or (ending if ending in SECONDS_OF else "")


def _rows(lines: list[str], dialect: Dialect, place: str) -> NDArray[np.float64]:
    """(moments, columns); lines that are no rows (blank, repeated names) are passed over, a broken one is named."""
    found: list[list[float]] = []
    clocks: list[int] = []
    for number, line in enumerate(lines[dialect.first_row :], start=dialect.first_row + 1):
        if not line.strip():
            continue
        fields = fields_of(line, dialect.delimiter)
        while len(fields) > dialect.fields and not fields[-1]:
            fields.pop()
        if len(fields) != dialect.fields:
            if number == len(lines) or (number == len(lines) - 1 and not lines[-1].strip()):
                break
            reason = f"has {len(fields)} fields, the others have {dialect.fields}"
            raise DataError(reason, place=f"{place}, line {number}")
        if not clocks and not found:
            clocks = [i for i, one in enumerate(fields) if is_clock(one)]
        try:
            found.append([_number(one, dialect.decimal) if i not in clocks else np.nan for i, one in enumerate(fields)])
        except ValueError as error:
            raise DataError(f"{error} is not a number", place=f"{place}, line {number}") from error
        for i in clocks:
            found[-1][i] = _clock(fields[i])
    return np.array(found, dtype=np.float64).reshape(len(found), dialect.fields)


def _clock(field: str) -> float:
    return float(np.asarray(clock_seconds([field]))[0])


def _number(field: str, decimal: str) -> float:
    if field in MISSING or field in MISSING_NUMBERS:
        return float("nan")
    try:
        return float(field.replace(",", ".") if decimal == "," else field)
    except ValueError:
        raise ValueError(repr(field)) from None
