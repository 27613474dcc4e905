"""Comma separated values, and the dialects that programs in other languages write."""

from __future__ import annotations

import io
from dataclasses import dataclass

import numpy as np
import pyarrow as pa
import pyarrow.csv as pa_csv
from numpy.typing import NDArray

from phasko.core.errors import DataError
from phasko.formats.table import Table, even_time_base

__all__ = ["CsvFormat"]

_TIME = "time_s"
_MISSING = ["", "NaN", "nan", "NAN"]


@dataclass(frozen=True, slots=True)
class _Dialect:
    delimiter: str
    decimal: str


class CsvFormat:
    """One header line of column names, the first ``time_s``; semicolons, tabs and decimal commas are read as well."""

    name = "CSV"
    suffixes = (".csv", ".txt", ".tsv")

    def sniff(self, head: bytes) -> bool:
        """Whether the first bytes look like text with a header line."""
        if b"\0" in head:
            return False
        return any(mark in head.split(b"\n", 1)[0] for mark in (b",", b";", b"\t"))

    def read(self, data: bytes, place: str) -> Table:
        """The table; raises DataError with file, line and reason."""
        text = data.removeprefix(b"\xef\xbb\xbf")
        header, _, rest = text.partition(b"\n")
        if not header.strip():
            raise DataError("is empty", place=place)
        dialect = _dialect(header, rest[:4096])
        names = [name.strip().strip('"') for name in _decoded(header, place).split(dialect.delimiter)]
        _check_names(names, place)
        table = _parsed(text, names, dialect, place)
        times = np.asarray(table.column(_TIME).to_numpy(), dtype=np.float64)
        start_s, interval_s = even_time_base(times, place)
        columns = {name: _samples(table, name) for name in names if name != _TIME}
        return Table(start_s, interval_s, columns)

    def write(self, table: Table) -> bytes:
        """The table as the contract's own dialect: commas, points, NaN as an empty field."""
        first = next(iter(table.columns.values()))
        times = table.start_s + table.interval_s * np.arange(first.size)
        arrow = pa.table({_TIME: times, **{name: pa.array(v, from_pandas=True) for name, v in table.columns.items()}})
        sink = io.BytesIO()
        pa_csv.write_csv(arrow, sink, pa_csv.WriteOptions(quoting_style="none"))
        return sink.getvalue()


def _decoded(header: bytes, place: str) -> str:
    try:
        return header.decode("utf-8").rstrip("\r")
    except UnicodeDecodeError as error:
        raise DataError("is not text in UTF-8", place=f"{place}, line 1") from error


def _dialect(header: bytes, sample: bytes) -> _Dialect:
    delimiter = max((";", "\t", ","), key=lambda mark: header.count(mark.encode()))
    decimal = "," if delimiter != "," and b"," in sample else "."
    return _Dialect(delimiter, decimal)


def _check_names(names: list[str], place: str) -> None:
    if names[0] != _TIME:
        raise DataError(
            f"the first column is called {names[0]!r}, not {_TIME}",
            place=f"{place}, line 1",
            remedy="The header line names the columns, the time in seconds first.",
        )
    twice = next((name for i, name in enumerate(names) if name in names[:i]), None)
    if twice is not None:
        raise DataError(f"two columns are called {twice!r}", place=f"{place}, line 1")


def _parsed(text: bytes, names: list[str], dialect: _Dialect, place: str) -> pa.Table:
    read = pa_csv.ReadOptions(column_names=names, skip_rows=1)
    parse = pa_csv.ParseOptions(delimiter=dialect.delimiter)
    types = {name: pa.float64() if name == _TIME else pa.float32() for name in names}
    convert = pa_csv.ConvertOptions(
        column_types=types, null_values=_MISSING, strings_can_be_null=True, decimal_point=dialect.decimal
    )
    try:
        return pa_csv.read_csv(pa.BufferReader(text), read, parse, convert)
    except (pa.ArrowInvalid, UnicodeDecodeError) as error:
        raise _located(text, names, dialect, place) from error


def _located(text: bytes, names: list[str], dialect: _Dialect, place: str) -> DataError:
    """Finds the first line that cannot be read, and says why; only called once something is wrong."""
    lines = text.split(b"\n")
    for number, line in enumerate(lines[1:], start=2):
        if not line.strip() and number == len(lines):
            continue
        reason = _line_fault(line, names, dialect)
        if reason:
            last = number >= len(lines) - 1
            remedy = "Was the file cut off?" if last else ""
            return DataError(reason, place=f"{place}, line {number}", remedy=remedy)
    return DataError("cannot be read as CSV", place=place)


def _line_fault(line: bytes, names: list[str], dialect: _Dialect) -> str | None:
    try:
        fields = line.decode("utf-8").rstrip("\r").split(dialect.delimiter)
    except UnicodeDecodeError:
        return "is not text in UTF-8"
    if len(fields) != len(names):
        return f"has {len(fields)} fields, the header has {len(names)}"
    for name, field in zip(names, fields, strict=True):
        bare = field.strip()
        if bare in _MISSING:
            continue
        try:
            float(bare.replace(dialect.decimal, "."))
        except ValueError:
            return f"{bare!r} in column {name} is not a number"
    return None


def _samples(table: pa.Table, name: str) -> NDArray[np.float32]:
    return np.ascontiguousarray(table.column(name).to_numpy(), dtype=np.float32)
