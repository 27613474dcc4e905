"""MATLAB files, which are read and not written."""

from __future__ import annotations

from phasko.formats.apart import read_apart
from phasko.formats.hdf5 import read_hdf5
from phasko.formats.series import table_of_series
from phasko.formats.table import FileBytes, Table

__all__ = ["MatFormat"]


class MatFormat:
    """MATLAB level 5, and level 7.3, which is HDF5."""

    name = "MAT"
    suffixes = (".mat",)
    mapping = (
        "Every numeric vector is a series under its variable's name, a matrix gives one a column, a structure its "
        "fields as `structure.field`. Time: a vector named so (time, t ...), else a single number named interval, dt, "
        "fs or sample_rate. Level 5 and, as HDF5, level 7.3; not written."
    )

    def sniff(self, head: bytes) -> bool:
        return head.startswith(b"MATLAB ") and len(head) >= 128

    def read(self, data: FileBytes, place: str) -> Table:
        """The table; raises DataError. A process of its own reads it: the library can crash over a file that lies."""
        head = data[:1024]
        if b"\x89HDF\r\n\x1a\n" in head:
            return read_hdf5(data, place)
        about, series = read_apart("phasko.readers.mat", "MAT", data, place)
        return table_of_series(series, about["scalars"], {}, place)
