"""Names for the arrays that travel between the parts of the bench."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

__all__ = ["Bools", "Floats", "Ints", "Samples"]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
Samples = NDArray[np.float32]
"""The samples of one channel as the scope gives them."""
