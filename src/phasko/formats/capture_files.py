"""A capture as its two files: the data file and the description beside it, read into one recording."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from phasko.core.documents import CaptureDescription, parse_document
from phasko.core.errors import DataError
from phasko.core.signals.recording import Channel, Recording, scaled_samples
from phasko.formats.registry import format_of
from phasko.formats.table import FileBytes, Table, check_time_base, without_time

__all__ = ["CaptureFiles", "RawCapture", "read_capture", "read_capture_files", "read_raw_capture"]


@dataclass(frozen=True, slots=True, eq=False)
class CaptureFiles:
    """The original bytes of both files, and their names as a person knows them."""

    description_name: str
    description: bytes
    data_name: str
    data: FileBytes

    @property
    def sha256(self) -> str:
        """One hash over both files, description first."""
        digest = hashlib.sha256(hashlib.sha256(self.description).digest())
        digest.update(hashlib.sha256(self.data).digest())
        return digest.hexdigest()


def read_capture_files(description_path: Path) -> CaptureFiles:
    """Reads ``NAME.capture.json`` and the data file it names, which lies beside it. Raises DataError."""
    description = _bytes_of(description_path)
    parsed = parse_document(description, CaptureDescription, description_path.name)
    data_path = description_path.parent / parsed.data
    if Path(parsed.data).name != parsed.data:
        raise DataError(
            f"data names {parsed.data!r}; it must be a plain file name beside the description",
            place=description_path.name,
        )
    return CaptureFiles(description_path.name, description, parsed.data, _bytes_of(data_path))


def _bytes_of(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except FileNotFoundError as error:
        raise DataError("does not exist", place=path.name) from error
    except OSError as error:
        raise DataError(f"cannot be opened: {error.strerror}", place=path.name) from error


@dataclass(frozen=True, slots=True, eq=False)
class RawCapture:
    """A described capture before scale and offset: every described column as it stands in the file; ``notes``
    say how it was read."""

    name: str
    description: CaptureDescription
    start_s: float
    interval_s: float
    columns: Mapping[str, NDArray[np.float32]]
    cut_off: str | None = None
    notes: tuple[str, ...] = ()

    def recording(self) -> Recording:
        """The same after scale and offset."""
        channels = tuple(Channel(d, scaled_samples(self.columns[d.column], d)) for d in self.description.channels)
        return Recording(self.name, self.description, self.start_s, self.interval_s, channels, cut_off=self.cut_off)


def read_capture(files: CaptureFiles) -> Recording:
    """The recording in these files: every described column after scale and offset. Raises DocumentError, DataError."""
    return read_raw_capture(files).recording()


def read_raw_capture(files: CaptureFiles) -> RawCapture:
    """The described columns as they stand in the data file. Raises DocumentError, DataError."""
    description = parse_document(files.description, CaptureDescription, files.description_name)
    table = format_of(files.data, files.data_name).read(files.data, files.data_name)
    interval_s = table.interval_s if table.interval_s is not None else description.interval_s
    if interval_s is None:
        raise without_time(files.data_name)
    check_time_base(table.start_s, interval_s, files.data_name)
    columns = {d.column: _column(table, d.column, files) for d in description.channels}
    return RawCapture(
        name=files.description_name,
        description=description,
        start_s=table.start_s,
        interval_s=interval_s,
        columns=columns,
        cut_off=table.cut_off,
        notes=table.notes,
    )


def _column(table: Table, column: str, files: CaptureFiles) -> NDArray[np.float32]:
    """The samples of a column; in a file without names the number in its name counts. Raises DataError."""
    if column in table.columns:
        return table.columns[column]
    number = re.fullmatch(r"\D*(\d+)", column)
    if table.ordered and number is not None and f"c{int(number.group(1))}" in table.columns:
        return table.columns[f"c{int(number.group(1))}"]
    has = ", ".join(table.columns)
    text = f"describes column {column!r}, but {files.data_name} has {has}"
    raise DataError(text, place=files.description_name)
