"""All data formats in one table; documentation and error texts are made from it."""

from __future__ import annotations

from typing import Protocol

from phasko.core.errors import DataError
from phasko.formats.csv import CsvFormat
from phasko.formats.table import Table

__all__ = ["FORMATS", "DataFormat", "Table", "format_of", "supported_formats"]


class DataFormat(Protocol):
    """One open data format: a module in this folder, listed once below."""

    @property
    def name(self) -> str: ...
    @property
    def suffixes(self) -> tuple[str, ...]: ...
    def sniff(self, head: bytes) -> bool: ...
    def read(self, data: bytes, place: str) -> Table: ...
    def write(self, table: Table) -> bytes: ...


FORMATS: tuple[DataFormat, ...] = (CsvFormat(),)

_SNIFFED_BYTES = 4096
_KNOWN_WRONG = (
    (b"\x89PNG", "a picture"),
    (b"PK\x03\x04", "a zip archive or a spreadsheet"),
    (b"%PDF", "a PDF document"),
)


def supported_formats() -> str:
    """The formats in words: ``CSV (.csv, .txt, .tsv)``."""
    return ", ".join(f"{form.name} ({', '.join(form.suffixes)})" for form in FORMATS)


def format_of(data: bytes, place: str) -> DataFormat:
    """The format of a file by its content, its name only heads the message. Raises DataError when there is none."""
    if not data.strip():
        raise DataError("is empty", place=place)
    head = data[:_SNIFFED_BYTES]
    for start, what in _KNOWN_WRONG:
        if head.startswith(start):
            raise DataError(f"is {what}, not a recording", place=place, remedy=f"Export it as {supported_formats()}.")
    for form in FORMATS:
        if form.sniff(head):
            return form
    raise DataError(
        "is none of the formats that can be read", place=place, remedy=f"Export it as {supported_formats()}."
    )
