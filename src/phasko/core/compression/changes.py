"""What does not repeat: a cylinder that changes midway, one that fails now and then, a single odd hump."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.compression.relative import Compression, SourceCompression
from phasko.core.uncertainty import robust_sd

__all__ = ["CompressionChange", "compression_changes", "spreads"]


@dataclass(frozen=True, slots=True)
class CompressionChange:
    """One cylinder over the cycles. ``times_s``: where it happens; ``before`` and ``after`` the change, or usually and
    in the odd cycles; ``cycles`` of ``of`` are odd."""

    kind: Literal["changed", "intermittent", "single"]
    cylinder: int
    times_s: tuple[float, ...]
    before: float
    after: float
    cycles: int
    of: int


def compression_changes(compression: Compression) -> tuple[CompressionChange, ...]:
    """What the surest source shows cycle by cycle; nothing with fewer than four cycles or without names.

    A change is the division of the cycles into two levels by least squares, two on either side, more than
    ``COMPRESSION_CHANGE_LEAST`` apart and six times what the cycles scatter within them. Else cycles that fall below
    the cylinder's own median by as much: one is noise and only listed, more are an intermittent seal.
    """
    if compression.identified_by is None:
        return ()
    source = _surest(compression)
    values = _relative(source)
    if len(values) < 4:
        return ()
    times = [0.5 * (c.from_s + c.to_s) for c in source.cycles][: len(values)]
    order = [c.cylinder for c in compression.cylinders]
    found = [_of_cylinder(order[i], values[:, i], times) for i in range(len(order))]
    return tuple(change for change in found if change is not None)


def spreads(compression: Compression) -> dict[int, tuple[float, bool]]:
    """(standard deviation over cycles, whether every cycle is alike) of each cylinder, by the surest source; empty with
    fewer than four cycles or without names. A single odd compression is noise: the cylinder still repeats."""
    if compression.identified_by is None:
        return {}
    values = _relative(_surest(compression))
    if len(values) < 4:
        return {}
    odd = {change.cylinder for change in compression_changes(compression) if change.kind != "single"}
    order = [c.cylinder for c in compression.cylinders]
    return {c: (float(values[:, i].std(ddof=1)), c not in odd) for i, c in enumerate(order)}


def _surest(compression: Compression) -> SourceCompression:
    return min(compression.sources, key=lambda s: float(np.median(s.u95)))


def _relative(source: SourceCompression) -> Floats:
    """Pressures of each cycle over that cycle's median of all cylinders but the lowest half's outliers."""
    per_cycle = source.separation.per_cycle
    top = np.sort(per_cycle, axis=1)[:, per_cycle.shape[1] // 2 :]
    return np.asarray(per_cycle / np.maximum(np.median(top, axis=1), 1e-12)[:, None])


def _of_cylinder(cylinder: int, values: Floats, times_s: list[float]) -> CompressionChange | None:
    least = numbers.COMPRESSION_CHANGE_LEAST.value
    splits = range(2, values.size - 1)
    cost = {k: float(np.var(values[:k]) * k + np.var(values[k:]) * (values.size - k)) for k in splits}
    if cost:
        k = min(cost, key=lambda i: cost[i])
        before, after = float(values[:k].mean()), float(values[k:].mean())
        within = np.sqrt(cost[k] / values.size)
        if abs(after - before) > max(least, 6.0 * float(within)):
            return CompressionChange(
                kind="changed",
                cylinder=cylinder,
                times_s=(times_s[k],),
                before=before,
                after=after,
                cycles=values.size - k,
                of=values.size,
            )
    usual = float(np.median(values))
    scatter = robust_sd(values)
    odd = np.flatnonzero(values < usual - max(least, 6.0 * scatter))
    if not odd.size:
        return None
    kind: Literal["single", "intermittent"] = "single" if odd.size == 1 else "intermittent"
    where = tuple(times_s[i] for i in odd.tolist())
    return CompressionChange(
        kind=kind,
        cylinder=cylinder,
        times_s=where,
        before=usual,
        after=float(values[odd].mean()),
        cycles=int(odd.size),
        of=values.size,
    )
