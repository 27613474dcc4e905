"""Reads one level 5 MAT file into plain arrays, as a process of its own: ``python -m phasko.readers.mat``."""

from __future__ import annotations

import sys
import zlib
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from phasko.readers.limits import check_size
from phasko.readers.matrices import columns_of
from phasko.readers.process import Outgoing, write_apart

__all__ = ["read_mat"]

_HEADER = 128
_COMPRESSED = 15
"""Kind of an element that is packed (MAT-File Format, level 5, data types, from memory)."""
_LARGEST = 320 << 20
"""Bytes that one variable may unpack to: it is in memory whole."""
_PIECE = 1 << 20


def read_mat(path: Path, out: Outgoing) -> dict[str, Any]:
    """The single numbers of a level 5 file; its series go to ``out``, variable by variable. Raises ValueError and
    DataError for one that unpacks to more than is read, before anything of it is kept."""
    from scipy.io import loadmat, whosmat

    _check_unpacked(path)
    scalars: dict[str, float] = {}
    for variable, _, _ in whosmat(path):
        found = loadmat(path, squeeze_me=True, struct_as_record=False, variable_names=[variable])
        for name, values in _leaves({key: value for key, value in found.items() if key == variable}):
            if values.dtype.kind not in "fiub":
                continue
            if values.size == 1:
                scalars[name.rsplit(".", 1)[-1]] = float(np.ravel(values)[0])
            for own, column in columns_of(name, values):
                out.add(own, [column])
    return {"scalars": {key: value for key, value in scalars.items() if np.isfinite(value)}}


def _check_unpacked(path: Path) -> None:
    """Raises ValueError for a variable, DataError for a file, that unpacks to more than is read."""
    size, total = path.stat().st_size, 0
    with path.open("rb") as file:
        order = "little" if file.read(_HEADER)[126:128] == b"IM" else "big"
        while len(tag := file.read(8)) == 8:
            kind = int.from_bytes(tag[:4], order)  # type: ignore[arg-type]
            length = int.from_bytes(tag[4:], order)  # type: ignore[arg-type]
            begins = file.tell()
            held = _unpacked(file.read, length) if kind == _COMPRESSED else length
            if held > _LARGEST:
                raise ValueError("a variable unpacks to more than memory should hold; export it in pieces")
            total += held
            file.seek(begins + length)
    check_size(total // 8, size, "")


def _unpacked(read: Any, length: int) -> int:
    """How many bytes a packed element unpacks to, as far as it matters; none of them is kept."""
    unpacker, total, left = zlib.decompressobj(), 0, length
    while left > 0 and total <= _LARGEST:
        packed = read(min(left, _PIECE))
        if not packed:
            break
        left -= len(packed)
        while packed and total <= _LARGEST:
            total += len(unpacker.decompress(packed, _PIECE))
            packed = unpacker.unconsumed_tail
    return total


def _leaves(variables: dict[str, object], before: str = "", depth: int = 0) -> Iterator[tuple[str, NDArray[Any]]]:
    for key, value in variables.items():
        if hasattr(value, "_fieldnames") and depth < 3:
            fields = {name: getattr(value, name) for name in value._fieldnames}
            yield from _leaves(fields, f"{before}{key}.", depth + 1)
        elif isinstance(value, (np.ndarray, np.generic, int, float)):
            yield f"{before}{key}", np.asarray(value)


if __name__ == "__main__":
    sys.exit(write_apart(read_mat, sys.argv[1:]))
