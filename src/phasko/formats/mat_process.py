"""Reads one level 5 MAT file into plain arrays, as a process of its own: ``python -m phasko.formats.mat_process``."""

from __future__ import annotations

import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from phasko.formats.apart import Arrays, write_apart
from phasko.formats.series import columns_of

__all__ = ["read_mat"]


def read_mat(path: Path) -> tuple[dict[str, Any], Arrays]:
    """(the single numbers, the series) of a level 5 file."""
    from scipy.io import loadmat

    found = loadmat(path, squeeze_me=True, struct_as_record=False)
    series: Arrays = {}
    scalars: dict[str, float] = {}
    for name, values in _leaves({key: value for key, value in found.items() if not key.startswith("__")}):
        if values.dtype.kind not in "fiub":
            continue
        if values.size == 1:
            scalars[name.rsplit(".", 1)[-1]] = float(np.ravel(values)[0])
        series |= dict(columns_of(name, values))
    return {"scalars": {key: value for key, value in scalars.items() if np.isfinite(value)}}, series


def _leaves(variables: dict[str, object], before: str = "", depth: int = 0) -> Iterator[tuple[str, NDArray[Any]]]:
    for key, value in variables.items():
        if hasattr(value, "_fieldnames") and depth < 3:
            fields = {name: getattr(value, name) for name in value._fieldnames}
            yield from _leaves(fields, f"{before}{key}.", depth + 1)
        elif isinstance(value, (np.ndarray, np.generic, int, float)):
            yield f"{before}{key}", np.asarray(value)


if __name__ == "__main__":
    sys.exit(write_apart(read_mat, sys.argv[1:]))
