"""Names for the arrays that travel between the steps. What shape and unit they have stands with each function."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

__all__ = ["Bools", "Floats", "Ints", "Samples"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
Samples = NDArray[np.float32]
"""The samples of one channel as they are stored and measured; NaN where one is missing."""
