"""MATLAB files, which are read and not written."""

from __future__ import annotations

import io
import zlib
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from phasko.core.errors import DataError
from phasko.formats.hdf5 import read_hdf5
from phasko.formats.series import columns_of, table_of_series
from phasko.formats.table import FileBytes, Table

__all__ = ["MatFormat"]

_OPENED = (OSError, ValueError, TypeError, KeyError, IndexError, EOFError, MemoryError, OverflowError, zlib.error)


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
        """The table; raises DataError."""
        head = data[:1024]
        if b"\x89HDF\r\n\x1a\n" in head:
            return read_hdf5(data, place)
        from scipy.io import loadmat
        from scipy.io.matlab import MatReadError

        try:
            found = loadmat(io.BytesIO(data[:]), squeeze_me=True, struct_as_record=False)
        except (*_OPENED, MatReadError, NotImplementedError) as error:
            text = f"cannot be read as MAT: {str(error)[:160]}"
            raise DataError(text, place=place, remedy="Was the file cut off?") from error
        series: dict[str, NDArray[np.generic]] = {}
        scalars: dict[str, float] = {}
        for name, values in _leaves({key: value for key, value in found.items() if not key.startswith("__")}):
            if values.dtype.kind not in "fiub":
                continue
            if values.size == 1:
                scalars[name.rsplit(".", 1)[-1]] = float(np.ravel(values)[0])
            for own, column in columns_of(name, values):
                series[own] = column
        return table_of_series(series, scalars, {}, place)


def _leaves(
    variables: dict[str, object], before: str = "", depth: int = 0
) -> Iterator[tuple[str, NDArray[np.generic]]]:
    for key, value in variables.items():
        if hasattr(value, "_fieldnames") and depth < 3:
            fields = {name: getattr(value, name) for name in value._fieldnames}
            yield from _leaves(fields, f"{before}{key}.", depth + 1)
        elif isinstance(value, (np.ndarray, np.generic, int, float)):
            yield f"{before}{key}", np.asarray(value)
