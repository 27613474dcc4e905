"""Reads one HDF5 file into plain arrays, as a process of its own: ``python -m phasko.readers.hdf5 IN OUT``."""

from __future__ import annotations

import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from phasko.readers.limits import check_size
from phasko.readers.matrices import columns_of
from phasko.readers.process import Outgoing, write_apart

__all__ = ["DESCRIPTION", "read_datasets"]

DESCRIPTION = "phasko.capture"
"""The root attribute that holds the capture's description."""

_MOST_SERIES = 200


def read_datasets(path: Path, out: Outgoing) -> dict[str, Any]:
    """The single numbers, units and description of a file; its series go to ``out``.

    Raises ValueError for a file that refers to other files, DataError for one that unpacks to more than is read.
    """
    import h5py

    units: dict[str, str] = {}
    # The library itself opens no file without a name.
    with path.open("rb") as opened, h5py.File(opened, "r") as file:
        found = _datasets(file)
        scalars = {key: float(np.asarray(value)) for key, value in file.attrs.items() if _number(value)}
        described = file.attrs.get(DESCRIPTION)
        check_size(sum(int(item.size or 0) for _, item in found[:_MOST_SERIES]), path.stat().st_size, "")
        for name_inside, item in sorted(found[:_MOST_SERIES], key=_number_of):
            if item.dtype.kind not in "fiub" or not item.size:
                continue
            name = _text(item.attrs.get("name")) or name_inside.removeprefix("channels/")
            unit = _text(item.attrs.get("unit", item.attrs.get("units")))
            if item.size == 1:
                scalars[name] = float(np.ravel(item[()])[0])
            for own, blocks in _series(name, item):
                out.add(own, blocks)
                if unit:
                    units[own] = unit
    scalars = {key: value for key, value in scalars.items() if np.isfinite(value)}
    return {"scalars": scalars, "units": units, "description": _text(described) or None}


def _series(name: str, item: Any) -> Iterator[tuple[str, Iterator[NDArray[Any]]]]:
    """The series of a dataset, each in blocks of rows; a small or a strange one at once. Raises ValueError for a
    dataset whose packed pieces are larger than memory should hold."""
    piece = int(np.prod(item.chunks)) * item.dtype.itemsize if item.chunks else 0
    if piece > _LARGEST_PIECE:
        raise ValueError(f"{_shown(item.name)} is packed in pieces of {piece >> 20} MiB")
    shape = tuple(length for length in item.shape if length > 1)
    rows = item.shape[0] if item.shape else 1
    if item.size <= _BLOCK or len(shape) != len(item.shape) or len(shape) > 2:
        for own, column in columns_of(name, np.asarray(item[()])):
            yield own, iter([column])
    elif len(shape) == 1:
        yield name, (item[at : at + _BLOCK] for at in range(0, rows, _BLOCK))
    elif min(shape) <= _MOST_COLUMNS:
        tall = shape[0] >= shape[1]
        for k in range(min(shape)):
            lengths = range(0, max(shape), _BLOCK)
            yield f"{name} {k + 1}", (item[_place(at, k, tall)] for at in lengths)


def _place(at: int, column: int, tall: bool) -> tuple[slice | int, slice | int]:
    rows = slice(at, at + _BLOCK)
    return (rows, column) if tall else (column, rows)


_BLOCK = 1 << 18
_LARGEST_PIECE = 64 << 20
_MOST_COLUMNS = 64


def _datasets(file: Any) -> list[tuple[str, Any]]:
    """Every dataset with its path. Raises ValueError where the file has the library read any other one, for who sends a
    capture must not see the server's own files, and for one that is nested deeper, or holds more, than a recording.
    Nothing is read before every link and every dataset's layout was looked at."""
    import h5py

    found: list[tuple[str, Any]] = []
    waiting, seen, looked = [("", file)], {_place_of(file)}, 0
    while waiting:
        path, group = waiting.pop()
        if path.count("/") > _DEEPEST:
            raise ValueError(f"it is nested more than {_DEEPEST} groups deep")
        for name in group:
            looked += 1
            if looked > _MOST_OBJECTS:
                raise ValueError(f"it holds more than {_MOST_OBJECTS} objects")
            inside = f"{path}{name}"
            link = group.get(name, getlink=True)
            if isinstance(link, h5py.ExternalLink):
                raise ValueError(f"{_shown(inside)} links to another file; export the samples themselves")
            if not isinstance(link, h5py.HardLink):
                continue
            item = group[name]
            if _place_of(item) in seen:
                continue
            seen.add(_place_of(item))
            if isinstance(item, h5py.Group):
                waiting.append((f"{inside}/", item))
            elif isinstance(item, h5py.Dataset):
                if item.is_virtual or item.external:
                    raise ValueError(
                        f"{_shown(inside)} keeps its samples in another file; export the samples themselves"
                    )
                found.append((inside, item))
    return sorted(found)


def _place_of(item: Any) -> int:
    import h5py

    return int(h5py.h5o.get_info(item.id).addr)


_DEEPEST = 20
_MOST_OBJECTS = 20_000


def _shown(name: str) -> str:
    return f"'{name[:60]}'"


def _number_of(found: tuple[str, object]) -> int:
    """The place that an earlier export gave the series; the others keep their order behind."""
    told = getattr(found[1], "attrs", {}).get("number")
    return int(told) if isinstance(told, (int, np.integer)) else 1 << 30


def _number(value: object) -> bool:
    return isinstance(value, (int, float, np.integer, np.floating))


def _text(value: object) -> str:
    if isinstance(value, bytes):
        return value.decode("utf-8", errors="replace")
    return value if isinstance(value, str) else ""


if __name__ == "__main__":
    sys.exit(write_apart(read_datasets, sys.argv[1:]))
