"""Reads and writes delimited text: dialect and header from the first lines, the numbers by Arrow."""

from __future__ import annotations

import io
import json
from collections.abc import Mapping
from dataclasses import replace

import numpy as np
import pyarrow as pa
import pyarrow.csv as pa_csv

from phasko.core.errors import DataError
from phasko.formats.csv.bad_lines import BadLine, bad_lines, line_fault, rows_for
from phasko.formats.csv.columns import side_by_side, table_of
from phasko.formats.csv.dialect import Dialect, comment_of, decoded, fields_of, find_dialect, is_number
from phasko.formats.csv.header import Header, plain_names, read_header
from phasko.formats.csv.rows import STRANGE_LINE, Block, blocks_of, parsed
from phasko.formats.table import FileBytes, Table

__all__ = ["CsvFormat"]

_HEAD_BYTES = (1 << 16, 1 << 20, 1 << 24)
"""Where no rows of numbers begin in so much of a file, the next more is looked at: preambles can be long."""
_ROW_BYTES = 1 << 16
_LINES_NAMED = 5
_TIME = "time_s"
_UTF16 = ((b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16"))


class CsvFormat:
    """Delimited text (CSV)."""

    name = "CSV"
    suffixes = (".csv", ".txt", ".tsv", ".asc")
    mapping = (
        "Commas, semicolons, tabs, bars or blanks between the fields, point or comma as decimal mark, UTF-8, UTF-16 or "
        "Windows text. Above the numbers may stand comments, a preamble, names with or without units, a row of units, "
        "a line with sample rate or interval. The time column is the one named so (time, t, seconds ...), in the unit "
        "it names; a time of day and seconds with a fraction in a second column are read too; without one the sample "
        "rate counts. Several blocks are joined: those with the same names one after the other, others side by side. "
        "An empty field, NaN or a mark for overflow is a missing sample; so are those of a line that cannot "
        "be read, where it is no more than one in a thousand, and a note names it. Written with one comment line "
        "`# phasko.capture {...}` that holds the description, then names, `time_s` first."
    )

    def sniff(self, head: bytes) -> bool:
        """Whether the first bytes look like text with rows of numbers."""
        if head.startswith((b"\xff\xfe", b"\xfe\xff")):
            return True
        if b"\0" in head:
            return False
        lines = _lines(head)
        return find_dialect(lines) is not None or any(mark in lines[0] for mark in ",;\t")

    def read(self, data: FileBytes, place: str) -> Table:
        """The table; raises DataError with file, line and reason."""
        for mark, code in _UTF16:
            if data[:2] == mark:
                try:
                    data = data[: len(data) // 2 * 2].decode(code).encode()
                except UnicodeDecodeError as error:
                    raise DataError("is not text in UTF-16", place=place) from error
        skipped = 3 if data[:3] == b"\xef\xbb\xbf" else 0
        lines, dialect = _beginning(data, skipped)
        if not any(line.strip() for line in lines):
            raise DataError("is empty", place=place)
        if dialect is None:
            _check_text(lines, place)
            remedy = "The file needs rows of numbers, one per sample."
            raise DataError("has no rows of numbers", place=place, remedy=remedy)
        header = read_header(lines, dialect)
        if header.repeated and _TIME in header.names:
            raise DataError(f"two columns are called {header.repeated[0]!r}", place=f"{place}, line 1")
        start = _offset_of_line(data, skipped, dialect.first_row)
        last = _cut_row(data, start, dialect, header)
        block = Block(start, len(data) if last is None else last, dialect.first_row + 1)
        table = _table_of_block(data, block, dialect, header, place)
        if last is None:
            return table
        # Found only where something is wrong: counting lines costs a look at the whole file.
        line = bytes(data[:last]).count(b"\n") + 1
        return replace(table, cut_off=f"in line {line}, in the middle of a row; the rows before it were kept")

    def write(self, table: Table) -> bytes:
        """The contract's own dialect: commas, points, NaN as an empty field; the description as a comment above."""
        first = next(iter(table.columns.values()))
        times = table.start_s + (table.interval_s or 1.0) * np.arange(first.size)
        names = plain_names(list(table.columns))
        columns = {names[name]: pa.array(v, from_pandas=True) for name, v in table.columns.items()}
        sink = io.BytesIO()
        if table.description is not None:
            sink.write(f"# phasko.capture {_renamed(table.description, names)}\n".encode())
        sink.write(f"{','.join([_TIME, *names.values()])}\n".encode())
        options = pa_csv.WriteOptions(include_header=False, quoting_style="none")
        pa_csv.write_csv(pa.table({_TIME: times, **columns}), sink, options)
        return sink.getvalue()


def _renamed(description: str, names: Mapping[str, str]) -> str:
    """The description with its columns called as they are in the file."""
    if all(name == plain for name, plain in names.items()):
        return description
    document = json.loads(description)
    for channel in document.get("channels", []):
        channel["column"] = names.get(channel.get("column"), channel.get("column"))
    return json.dumps(document)


def _beginning(data: FileBytes, start: int) -> tuple[list[str], Dialect | None]:
    """The lines down to some rows of numbers, and how to read those; ``None`` where there are none."""
    lines: list[str] = []
    for size in _HEAD_BYTES:
        head = data[start : start + size]
        lines = _lines(head)
        dialect = find_dialect(lines)
        if dialect is not None or len(head) < size:
            return lines, dialect
    return lines, None


def _lines(data: bytes) -> list[str]:
    """Whole lines at the beginning; a last one that was cut by the size of the head is left out."""
    text = decoded(data).replace("\r\n", "\n").replace("\r", "\n")
    lines = text.split("\n")
    return lines[:-1] if len(lines) > 1 and len(data) in _HEAD_BYTES else lines


def _offset_of_line(data: FileBytes, start: int, line: int) -> int:
    """Where a line begins, counted from ``start``."""
    at = start
    for _ in range(line):
        at = data.find(b"\n", at) + 1
        if at == 0:
            return len(data)
    return at


def _cut_row(data: FileBytes, start: int, dialect: Dialect, header: Header) -> int | None:
    """Where a last row begins that was cut off: without an end of line, and short of fields, or of decimals that every
    row before it has. ``None`` where the last row is whole."""
    if data[-1:] in (b"\n", b"\r"):
        return None
    at = max(start, data.rfind(b"\n") + 1)
    last = bytes(data[at:])
    if at <= start or not last.strip() or len(last) > _ROW_BYTES or STRANGE_LINE.match(last):
        return None
    fields = fields_of(decoded(last), dialect.delimiter)
    if len(fields) > len(header.names):
        return None
    if len(fields) < len(header.names):
        return at
    before = decoded(bytes(data[max(start, at - _ROW_BYTES // 16) : at])).split("\n")[1:-1]
    decimals = [_decimals(fields_of(row, dialect.delimiter)[-1], dialect) for row in before if row.strip()]
    return at if decimals and _decimals(fields[-1], dialect) < min(decimals) else None


def _decimals(field: str, dialect: Dialect) -> int:
    """How many signs stand behind the decimal mark; -1 for a whole number, -2 for none at all."""
    bare = field.strip()
    if not is_number(bare, dialect.decimal):
        return -2
    return len(bare.rpartition(dialect.decimal)[2]) if dialect.decimal in bare else -1


def _check_text(lines: list[str], place: str) -> None:
    for number, line in enumerate(lines[:3], start=1):
        if "\ufffd" in line:
            raise DataError("is not text in UTF-8", place=f"{place}, line {number}")


def _table_of_block(data: FileBytes, block: Block, dialect: Dialect, header: Header, place: str) -> Table:
    """All rows; a few lines among them that are none are left out."""
    try:
        return _whole_or_joined(data, block, dialect, header, place)
    except DataError as fault:
        # An empty line instead of a row is read over: then only the time tells that a row is lacking.
        return _without_bad_lines(data, block, (header, dialect), place, fault)


def _whole_or_joined(data: FileBytes, block: Block, dialect: Dialect, header: Header, place: str) -> Table:
    """All rows; where something stands between them the blocks are read one by one and joined."""
    try:
        # Nearly every file is one block: the look for others is left for when this fails.
        arrow = parsed(data, block, dialect, header)
    except (pa.ArrowInvalid, pa.ArrowKeyError, UnicodeDecodeError) as error:
        blocks = blocks_of(data, block)
        if blocks == [block]:
            raise _located(data, block, dialect, header, place) from error
        return _joined(data, blocks, dialect, header, place)
    return table_of(arrow, dialect, header, place, block.line)


def _without_bad_lines(
    data: FileBytes, block: Block, like: tuple[Header, Dialect], place: str, fault: DataError
) -> Table:
    """The rows around a few lines that are none, joined; what they lack is missing, and a note names each. Raises
    ``fault`` where there are none, or too many."""
    header, dialect = like
    bad = bad_lines(data, block.start, block.stop, block.line, like)
    if not bad:
        raise fault
    try:
        pieces, between = _apart(data, block, bad, like)
    except (pa.ArrowInvalid, pa.ArrowKeyError, UnicodeDecodeError):
        raise fault from None
    joined, notes = pieces[:1], []
    for after, lines in zip(pieces[1:], between, strict=False):
        stand_in = rows_for(lines, joined[-1], after, header, dialect)
        joined += [after] if stand_in is None else [stand_in, after]
        became = "it was left out" if stand_in is None else "what it lacks counts as missing"
        notes += [f"Line {line.number} {line.reason}: {became}." for line in lines]
    if len(notes) > _LINES_NAMED:
        notes[_LINES_NAMED:] = [f"{len(notes) - _LINES_NAMED} more lines cannot be read."]
    table = table_of(pa.concat_tables(joined), dialect, header, place, block.line)
    return replace(table, notes=(*table.notes, *notes))


def _apart(
    data: FileBytes, block: Block, bad: list[BadLine], like: tuple[Header, Dialect]
) -> tuple[list[pa.Table], list[list[BadLine]]]:
    """(The stretches of rows, the bad lines behind each of them)."""
    header, dialect = like
    pieces: list[pa.Table] = []
    between: list[list[BadLine]] = []
    start, number = block.start, block.line
    for one in bad:
        if one.start > start:
            pieces.append(parsed(data, Block(start, one.start, number), dialect, header))
            between.append([])
        if between:
            between[-1].append(one)
        start, number = one.stop + 1, one.number + 1
    if start < block.stop:
        pieces.append(parsed(data, Block(start, block.stop, number), dialect, header))
    return pieces, between


def _joined(data: FileBytes, blocks: list[Block], dialect: Dialect, header: Header, place: str) -> Table:
    """Blocks with the same names one after the other, blocks with other names side by side."""
    parts: list[tuple[Header, pa.Table, int]] = []
    known, end = header, blocks[0].start
    for block in blocks:
        between = _lines(data[end : block.start]) if block.start > end else []
        end = block.stop
        own = known
        if any(line.strip() and comment_of(line) is None for line in between):
            rows = Dialect(dialect.delimiter, dialect.decimal, len(between), dialect.fields)
            told = read_header(between, rows)
            own = told if told.named else known
        try:
            parts.append((own, parsed(data, block, dialect, own), block.line))
        except (pa.ArrowInvalid, pa.ArrowKeyError, UnicodeDecodeError) as error:
            raise _located(data, block, dialect, own, place) from error
        known = own
    by_names: dict[tuple[str, ...], list[tuple[Header, pa.Table, int]]] = {}
    for part in parts:
        by_names.setdefault(part[0].names, []).append(part)
    tables = [
        table_of(pa.concat_tables([p[1] for p in group]), dialect, group[0][0], place, group[0][2])
        for group in by_names.values()
    ]
    return tables[0] if len(tables) == 1 else side_by_side(tables, place)


def _located(data: FileBytes, block: Block, dialect: Dialect, header: Header, place: str) -> DataError:
    """Finds the first line that cannot be read, and says why; only called once something is wrong."""
    at, number = block.start, block.line
    while at < block.stop:
        end = data.find(b"\n", at, block.stop)
        stop = end if end >= 0 else block.stop
        line = bytes(data[at:stop])
        reason = line_fault(line, header, dialect) if line.strip() else None
        if reason:
            last = stop >= block.stop - 1
            return DataError(reason, place=f"{place}, line {number}", remedy="Was the file cut off?" if last else "")
        at, number = stop + 1, number + 1
    return DataError("cannot be read as rows of numbers", place=place)
