"""Lines among the rows that are no rows: where they stand, and what is made of the few that a long file may hold."""

from __future__ import annotations

import re
from dataclasses import dataclass

import pyarrow as pa

from phasko.formats.csv.dialect import MISSING, MISSING_NUMBERS, Dialect, decoded, fields_of, is_clock, is_number
from phasko.formats.csv.header import Header
from phasko.formats.table import FileBytes
from phasko.readers.time_names import is_time_name

__all__ = ["BadLine", "bad_lines", "line_fault", "rows_for"]

_ROWS_OF_A_BAD_LINE = 1000
_MOST = 50


@dataclass(frozen=True, slots=True)
class BadLine:
    """One line that cannot be read: from byte to byte (its end not among them), its number (from 1), and why."""

    start: int
    stop: int
    number: int
    reason: str
    fields: tuple[str, ...]


def line_fault(line: bytes, header: Header, dialect: Dialect) -> str | None:
    """Why a line is no row of numbers; ``None`` where it is one."""
    try:
        fields = fields_of(line.decode("utf-8"), dialect.delimiter)
    except UnicodeDecodeError:
        return "is not text in UTF-8"
    if len(fields) != len(header.names):
        return f"has {len(fields)} fields, the header has {len(header.names)}"
    for name, field in zip(header.names, fields, strict=True):
        if not is_number(field, dialect.decimal) and not is_clock(field):
            return f"{field!r} in column {name} is not a number"
    return None


def bad_lines(data: FileBytes, start: int, stop: int, first: int, like: tuple[Header, Dialect]) -> list[BadLine]:
    """The lines from byte ``start`` to ``stop`` that are no rows, the first line being number ``first``; none where
    they are more than one in a thousand, since that is no recording with a bad line but something else."""
    header, dialect = like
    found: list[BadLine] = []
    at, number = start, first
    # The pattern only finds who may be bad; what a line is, `line_fault` says.
    for suspect in _not_a_row(len(header.names), dialect).finditer(data, start, stop):
        line = suspect.group()
        reason = line_fault(line, header, dialect) if line.strip() else "is empty"
        if reason is None:
            continue
        number += data[at : suspect.start()].count(b"\n")
        at = suspect.start()
        fields = tuple(fields_of(decoded(line), dialect.delimiter))
        found.append(BadLine(suspect.start(), suspect.end(), number, reason, fields))
        if len(found) > _MOST:
            return []
    rows = data[start:stop].count(b"\n")
    return found if len(found) * _ROWS_OF_A_BAD_LINE <= rows else []


def _not_a_row(fields: int, dialect: Dialect) -> re.Pattern[bytes]:
    decimal = re.escape(dialect.decimal.encode())
    gone = b"|".join(re.escape(word.encode()) for word in (*MISSING, *MISSING_NUMBERS) if word)
    number = rb"[+-]?(?:\d+" + decimal + rb"?\d*|" + decimal + rb"\d+)(?:[eE][+-]?\d+)?"
    field = rb'[ \t]*"?(?:' + number + rb"|" + gone + rb'|)"?[ \t]*'
    between = rb"[ \t]+" if dialect.delimiter == " " else re.escape(dialect.delimiter.encode())
    row = field + (between + field) * (fields - 1)
    return re.compile(rb"(?m)^(?!" + row + rb"\r?$).*$")


def rows_for(
    bad: list[BadLine], before: pa.Table, after: pa.Table, header: Header, dialect: Dialect
) -> pa.Table | None:
    """What stands for bad lines that follow each other: a row of missing samples for each that the time lacks, with
    those of its fields that can be read where a line is a whole row; ``None`` where the time lacks none, since then
    the lines were put between the rows."""
    lacking = _lacking(len(bad), before, after)
    if lacking == 0:
        return None
    columns: dict[str, pa.Array] = {}
    for place, field in enumerate(before.schema):
        if not pa.types.is_floating(field.type):
            columns[field.name] = pa.nulls(lacking, field.type)
            continue
        values = [_value(line, place, header, dialect) if lacking == len(bad) else None for line in bad]
        values = values if lacking == len(bad) else [None] * lacking
        # A first column without a name of the time may be a counter, which must go on evenly, too.
        if place == 0 or is_time_name(field.name):
            values = _between(before[field.name][-1].as_py(), after[field.name][0].as_py(), lacking, values)
        columns[field.name] = pa.array(values, field.type)
    return pa.table(columns, schema=before.schema)


def _lacking(lines: int, before: pa.Table, after: pa.Table) -> int:
    """How many rows the time lacks between two stretches; as many as lines where it does not tell."""
    for field in before.schema:
        if not pa.types.is_float64(field.type) or before.num_rows < 2:
            continue
        last, here, there = before[field.name][-2].as_py(), before[field.name][-1].as_py(), after[field.name][0].as_py()
        if None in (last, here, there) or not here > last:
            continue
        lacking: int = round((there - here) / (here - last)) - 1
        return max(0, min(lines, lacking))
    return lines


def _value(line: BadLine, place: int, header: Header, dialect: Dialect) -> float | None:
    if len(line.fields) != len(header.names):
        return None
    field = line.fields[place]
    if field in MISSING or field in MISSING_NUMBERS or not is_number(field, dialect.decimal):
        return None
    return float(field.replace(dialect.decimal, "."))


def _between(here: float | None, there: float | None, count: int, told: list[float | None]) -> list[float | None]:
    """The times that lie evenly between two rows, whatever the bad lines say: one bad sign may have hit the time."""
    if here is None or there is None:
        return told
    return [here + (there - here) * (k + 1) / (count + 1) for k in range(count)]
