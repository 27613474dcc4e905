"""Rows of numbers in a text file: where they stand, and their fields as numbers, by Arrow."""

from __future__ import annotations

import io
import mmap
import re
from dataclasses import dataclass

import pyarrow as pa
import pyarrow.csv as pa_csv

from phasko.formats.csv.dialect import MISSING, MISSING_NUMBERS, Dialect, decoded, fields_of, is_clock
from phasko.formats.csv.header import Header
from phasko.formats.table import FileBytes
from phasko.readers.time_names import is_time_name

__all__ = ["STRANGE_LINE", "Block", "blocks_of", "parsed"]

_MOST_BLOCKS = 1000
STRANGE_LINE = re.compile(
    rb"(?m)^[ \t]*(?!\r?$)(?![\d+\-.,;\t]|\xe2|\"[\d+\-.,]|\"\"|[Nn][aA][Nn]|NULL|null|None|[Nn]/[Aa]|[Ii]nf).*$"
    rb"|^[ \t]*\r?$"
)
"""A line that is no row of numbers, or an empty one."""


@dataclass(frozen=True, slots=True)
class Block:
    """Rows of numbers without anything between: from byte to byte, and the line at which they begin (from 1)."""

    start: int
    stop: int
    line: int


def blocks_of(data: FileBytes, whole: Block) -> list[Block]:
    """The stretches of rows between lines that are no rows (names, comments, blank lines, a footer)."""
    found, start, line = [], whole.start, whole.line
    for strange in STRANGE_LINE.finditer(data, whole.start, whole.stop):
        if strange.start() > start:
            found.append(Block(start, strange.start(), line))
            line += data[start : strange.start()].count(b"\n")
        start = min(strange.end() + 1, whole.stop)
        line += 1
        if len(found) > _MOST_BLOCKS:
            break
    if start < whole.stop:
        found.append(Block(start, whole.stop, line))
    return found or [whole]


def parsed(data: FileBytes, block: Block, dialect: Dialect, header: Header) -> pa.Table:
    """The fields of these rows as columns. Raises Arrow's own errors where a row has too few or too many, or a field is
    no number."""
    source: pa.NativeFile
    delimiter = dialect.delimiter
    if delimiter == " ":
        blanks = re.sub(rb"(?m)^[ \t]+|[ \t]+(?=\r?$)", b"", data[block.start : block.stop])
        source, delimiter = pa.BufferReader(re.sub(rb"[ \t]+", b"\t", blanks)), "\t"
    elif isinstance(data, mmap.mmap):
        source = pa.PythonFile(_Mapped(data, block.start, block.stop), mode="r")
    else:
        source = pa.BufferReader(pa.py_buffer(data).slice(block.start, block.stop - block.start))
    names = list(header.names)
    clocks = _clock_columns(data, block, dialect, header)
    read = pa_csv.ReadOptions(column_names=names, block_size=1 << 22)
    parse = pa_csv.ParseOptions(delimiter=delimiter)
    types = {
        name: pa.string() if name in clocks else pa.float64() if _may_be_time(name, header) else pa.float32()
        for name in names
    }
    convert = pa_csv.ConvertOptions(
        column_types=types,
        null_values=[*MISSING, *MISSING_NUMBERS],
        strings_can_be_null=True,
        decimal_point=dialect.decimal,
    )
    table = pa_csv.read_csv(source, read, parse, convert)
    pa.default_memory_pool().release_unused()
    return table


class _Mapped(io.RawIOBase):
    """A stretch of a mapped file as a stream that gives back the memory behind it."""

    def __init__(self, data: mmap.mmap, start: int, stop: int) -> None:
        self._data, self._at, self._stop = data, start, stop

    def readable(self) -> bool:
        return True

    def read(self, size: int = -1) -> bytes:
        end = self._stop if size < 0 else min(self._stop, self._at + size)
        piece = self._data[self._at : end]
        first = -(-self._at // mmap.PAGESIZE) * mmap.PAGESIZE
        if end - first > mmap.PAGESIZE:
            self._data.madvise(mmap.MADV_DONTNEED, first, end - first)
        self._at = end
        return piece


def _may_be_time(name: str, header: Header) -> bool:
    return name == header.names[0] or is_time_name(name)


def _clock_columns(data: FileBytes, block: Block, dialect: Dialect, header: Header) -> set[str]:
    """Columns whose first field is a time of day or a date."""
    end = data.find(b"\n", block.start)
    first = fields_of(decoded(data[block.start : end if end > 0 else block.stop]), dialect.delimiter)
    return {name for name, field in zip(header.names, first, strict=False) if is_clock(field)}
