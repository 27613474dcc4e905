"""How a text file separates its fields and writes its numbers, told from its first lines."""

from __future__ import annotations

import re
from dataclasses import dataclass

__all__ = [
    "MISSING",
    "MISSING_NUMBERS",
    "Dialect",
    "comment_of",
    "decoded",
    "fields_of",
    "find_dialect",
    "is_clock",
    "is_number",
]

MISSING = ("", "NaN", "nan", "NAN", "-nan", "---", "--", "n/a", "N/A", "#N/A", "NULL", "null", "None", "∞", "-∞")
MISSING_NUMBERS = ("Inf", "inf", "INF", "-Inf", "-inf", "-INF", "+Inf", "Infinity", "-Infinity", "Overflow", "OVERFLOW")
_SPACES = " "
_ROWS_OF_A_BLOCK = 3
_DELIMITERS = (";", "\t", ",", "|", _SPACES)
_NUMBER = re.compile(r"[+-]?(\d+[.,]?\d*|[.,]\d+)([eE][+-]?\d+)?$")
_CLOCK = re.compile(r"(\d{1,4}[-/.]\d{1,2}[-/.]\d{1,4}[ T])?\d{1,3}:\d{2}(:\d{2})?([.,:]\d+)?$")
_DATE = re.compile(r"\d{1,4}[-/.]\d{1,2}[-/.]\d{1,4}$")
_COMMENT = re.compile(r"\s*(#|%|//|!|\*)\s*")


@dataclass(frozen=True, slots=True)
class Dialect:
    """``delimiter`` (one space stands for any run of blanks), ``decimal`` mark, the first line with numbers (from 0)
    and how many fields the lines with numbers have."""

    delimiter: str
    decimal: str
    first_row: int
    fields: int


def decoded(data: bytes) -> str:
    """Text of the first bytes of a file: UTF-8 where it is that, else the western one-byte code."""
    try:
        return data.decode("utf-8")
    except UnicodeDecodeError as error:
        if error.start > len(data) - 4:
            return data[: error.start].decode("utf-8")
        return data.decode("cp1252", errors="replace")


def fields_of(line: str, delimiter: str) -> list[str]:
    """The fields of a line, quotes taken off."""
    bare = line.strip("\r\n")
    if delimiter == _SPACES:
        return bare.split()
    if '"' not in bare:
        return [field.strip() for field in bare.split(delimiter)]
    found, field, quoted = [], "", False
    for mark in bare:
        if mark == '"':
            quoted = not quoted
        elif mark == delimiter and not quoted:
            found.append(field.strip())
            field = ""
        else:
            field += mark
    return [*found, field.strip()]


def is_number(field: str, decimal: str) -> bool:
    """Whether a field is a number in that notation, or stands for a missing one."""
    if field in MISSING or field in MISSING_NUMBERS:
        return True
    other = "." if decimal == "," else ","
    return other not in field and _NUMBER.match(field) is not None


def is_clock(field: str) -> bool:
    """Whether a field is a time of day or a date."""
    return _CLOCK.match(field) is not None or _DATE.match(field) is not None


def comment_of(line: str) -> str | None:
    """What a comment line says; ``None`` for other lines."""
    found = _COMMENT.match(line)
    return None if found is None else line[found.end() :].strip()


def find_dialect(lines: list[str]) -> Dialect | None:
    """The way to read the lines that makes the longest unbroken run of like rows of numbers; ``None`` without any.

    Where two ways do equally well (``1;2`` may be one field), the one with more fields is right.
    """
    best: tuple[tuple[int, int], Dialect] | None = None
    last = [line for line in lines if line.strip()][-8:]
    likely = [mark for mark in _DELIMITERS if any(mark in line.strip() for line in last)]
    for delimiter in likely or _DELIMITERS[:1]:
        for decimal in (".", ","):
            if decimal == delimiter and not any('"' in line for line in lines):
                continue
            run = _longest_run(lines, delimiter, decimal)
            if run is None:
                continue
            first, count, fields = run
            quality = (count, fields)
            if best is None or quality > best[0]:
                best = quality, Dialect(delimiter, decimal, first, fields)
    return None if best is None else best[1]


def _longest_run(lines: list[str], delimiter: str, decimal: str) -> tuple[int, int, int] | None:
    """(first line, lines, fields) of the longest run of rows of numbers with like many fields; the first line is that
    of the first such run, since a file may hold several blocks."""
    runs: list[tuple[int, int, int]] = []
    start = count = width = 0
    for i, line in enumerate([*lines, "end"]):
        fields = fields_of(line, delimiter)
        numbers = _is_row(fields, decimal)
        if numbers and count and len(fields) == width:
            count += 1
            continue
        if count:
            runs.append((start, count, width))
        start, count, width = i, (1 if numbers else 0), len(fields)
    if not runs:
        return None
    best = max(runs, key=lambda run: run[1])
    first = next(run for run in runs if run == best or (run[2] == best[2] and run[1] >= _ROWS_OF_A_BLOCK))
    return first[0], best[1], best[2]


def _is_row(fields: list[str], decimal: str) -> bool:
    numbers = 0
    for field in fields:
        if is_number(field, decimal):
            numbers += field not in MISSING
        elif not is_clock(field):
            return False
    return numbers > 0
