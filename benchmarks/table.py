"""What the accuracy tables share: jobs on both cores, and how errors and stated half widths go together."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from phasko.core.uncertainty import NORMAL_95

__all__ = ["Honesty", "all_rows"]

Job = TypeVar("Job")
Row = TypeVar("Row")


def all_rows(rows_of: Callable[[Job], Sequence[Row]], jobs: Iterable[Job]) -> list[Row]:
    """The rows of every job, two at a time."""
    with ProcessPoolExecutor(2) as pool:
        return [row for found in pool.map(rows_of, list(jobs), chunksize=2) for row in found]


@dataclass(frozen=True)
class Honesty:
    """Errors against their 95 % half widths; ``z_spread`` is 1 where these are just right for normal errors."""

    median: float
    rms: float
    worst_twentieth: float
    median_u95: float
    coverage: float
    z_spread: float

    @staticmethod
    def of(errors: Iterable[float], u95s: Iterable[float]) -> Honesty:
        error: NDArray[np.float64] = np.array(list(errors))
        u95: NDArray[np.float64] = np.array(list(u95s))
        size = np.abs(error)
        return Honesty(
            float(np.median(size)),
            float(np.sqrt(np.mean(size**2))),
            float(np.quantile(size, 0.95)),
            float(np.median(u95)),
            float(np.mean(size <= u95)),
            float(np.std(error / np.maximum(u95, 1e-12) * NORMAL_95)),
        )

    @property
    def words(self) -> str:
        """The last two columns of a table."""
        return f"{100 * self.coverage:.1f} % | {self.z_spread:.2f}"
