"""A capture as its two files: the data file and the description beside it, read into one recording."""

from __future__ import annotations

import hashlib
import re
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from phasko.core.documents import CaptureDescription, parse_document
from phasko.core.errors import DataError
from phasko.core.recording import Channel, Recording
from phasko.formats.registry import format_of
from phasko.formats.table import Table, without_time

__all__ = ["CaptureFiles", "read_capture", "read_capture_files"]


@dataclass(frozen=True, slots=True, eq=False)
class CaptureFiles:
    """The original bytes of both files, and their names as a person knows them."""

    description_name: str
    description: bytes
    data_name: str
    data: bytes

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


def read_capture(files: CaptureFiles) -> Recording:
    """The recording in these files: every described column after scale and offset. Raises DocumentError, DataError."""
    description = parse_document(files.description, CaptureDescription, files.description_name)
    table = format_of(files.data, files.data_name).read(files.data, files.data_name)
    interval_s = table.interval_s if table.interval_s is not None else description.interval_s
    if interval_s is None:
        raise without_time(files.data_name)
    channels = []
    for described in description.channels:
        raw = _column(table, described.column, files)
        samples = (
            raw if described.scale == 1.0 and described.offset == 0.0 else raw * described.scale + described.offset
        )
        channels.append(Channel(described, np.asarray(samples, dtype=np.float32)))
    return Recording(files.description_name, description, table.start_s, interval_s, tuple(channels))


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
