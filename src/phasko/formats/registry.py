"""All data formats in one table; documentation and error texts are made from it."""

from __future__ import annotations

from typing import Protocol

from phasko.core.errors import DataError
from phasko.formats.csv import CsvFormat
from phasko.formats.hdf5 import Hdf5Format
from phasko.formats.mat import MatFormat
from phasko.formats.mdf import MdfFormat
from phasko.formats.parquet import ParquetFormat
from phasko.formats.table import FileBytes, Table
from phasko.formats.wav import WavFormat

__all__ = [
    "FORMATS",
    "WRITTEN",
    "DataFormat",
    "Table",
    "WritableFormat",
    "format_of",
    "formats_page",
    "supported_formats",
]


class DataFormat(Protocol):
    """One open data format: a module in this folder, listed once below."""

    @property
    def name(self) -> str: ...
    @property
    def suffixes(self) -> tuple[str, ...]: ...
    @property
    def mapping(self) -> str: ...
    def sniff(self, head: bytes) -> bool: ...
    def read(self, data: FileBytes, place: str) -> Table: ...


class WritableFormat(DataFormat, Protocol):
    """A format that is written too, with units and description inside."""

    def write(self, table: Table) -> bytes: ...


WRITTEN: tuple[WritableFormat, ...] = (CsvFormat(), WavFormat(), Hdf5Format(), MdfFormat(), ParquetFormat())
FORMATS: tuple[DataFormat, ...] = (WavFormat(), Hdf5Format(), MdfFormat(), MatFormat(), ParquetFormat(), CsvFormat())
"""In the order in which they are tried: text is what nothing else claims."""

_SNIFFED_BYTES = 4096
_KNOWN_WRONG = (
    (b"\x89PNG", "a picture"),
    (b"PK\x03\x04", "a zip archive or a spreadsheet"),
    (b"%PDF", "a PDF document"),
)


def supported_formats() -> str:
    """The formats in words: ``CSV (.csv, .txt, .tsv)``."""
    return ", ".join(f"{form.name} ({', '.join(form.suffixes)})" for form in FORMATS)


def formats_page() -> str:
    """The page of the documentation about the formats, in Markdown."""
    written = {form.name for form in WRITTEN}
    lines = [
        "# Data files",
        "",
        "Made from the registry of formats; do not edit. What a file is is told from its content, not from its name.",
        "A value is raw · scale + offset, as the description says; the description lies beside the file as",
        "`NAME.capture.json`, or in the file where it was written here.",
    ]
    for form in FORMATS:
        ways = "read and written" if form.name in written else "read"
        lines += ["", f"## {form.name} ({', '.join(form.suffixes)}): {ways}", "", form.mapping]
    return "\n".join(lines) + "\n"


def format_of(data: FileBytes, place: str) -> DataFormat:
    """The format of a file by its content, its name only heads the message. Raises DataError when there is none."""
    head = data[:_SNIFFED_BYTES]
    if not head.strip():
        raise DataError("is empty", place=place)
    for start, what in _KNOWN_WRONG:
        if head.startswith(start):
            raise DataError(f"is {what}, not a recording", place=place, remedy=f"Export it as {supported_formats()}.")
    for form in FORMATS:
        if form.sniff(head):
            return form
    raise DataError(
        "is none of the formats that can be read", place=place, remedy=f"Export it as {supported_formats()}."
    )
