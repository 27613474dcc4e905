"""Vectors and matrices of a container file as single series."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

__all__ = ["columns_of"]


def columns_of(name: str, values: NDArray[np.generic]) -> list[tuple[str, NDArray[np.generic]]]:
    """A vector as one series; of a matrix its columns along the longer side, numbered, at most 64."""
    flat = np.squeeze(values)
    if flat.ndim == 1:
        return [(name, flat)]
    if flat.ndim != 2 or min(flat.shape) > 64:
        return []
    tall = flat if flat.shape[0] >= flat.shape[1] else flat.T
    return [(f"{name} {k + 1}", tall[:, k]) for k in range(tall.shape[1])]
