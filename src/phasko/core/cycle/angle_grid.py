"""The settled cranking cycles of a capture in the angle domain: speed and signals per step of crank angle."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.crank.segments import Segment
from phasko.core.cycle.cycle_half import PieceTurn
from phasko.core.cycle.cycles import Cycle, cycle_origin_deg
from phasko.core.signals.recording import Recording, Samples

__all__ = [
    "STEPS",
    "CrankingCycles",
    "chosen_span",
    "cranking_cycles",
    "grid_deg",
    "interval_means",
    "settled_cycles",
    "without_span",
]


STEPS = 360
"""Steps of two degrees per cycle."""


def grid_deg(cylinders: int) -> Floats:
    """Middle of each step, in degrees after cylinder 1's firing TDC; the first lies half a firing interval before.
    Of shape (STEPS,)."""
    return np.asarray(cycle_origin_deg(cylinders) + 720.0 / STEPS * (np.arange(STEPS) + 0.5), dtype=np.float64)


@dataclass(frozen=True, slots=True, eq=False)
class CrankingCycles:
    """Cycles from which sealing is judged: ``edges_s`` (cycles, STEPS + 1) are the moments between the steps,
    ``speed_rad_s`` (cycles, STEPS) the crank's speed in them. ``left_out`` cranking cycles were not settled.
    ``pace_u95``: what not knowing the angle inside a cycle adds to the half width of a relative pressure."""

    cycles: tuple[Cycle, ...]
    edges_s: Floats
    speed_rad_s: Floats
    left_out: int
    pace_u95: float = 0.0

    def turned(self, steps: int) -> CrankingCycles:
        """The same beginning so many steps later: from there in one cycle to there in the next."""
        if steps == 0:
            return self
        edges = np.concatenate([self.edges_s[:-1, steps:], self.edges_s[1:, 1 : steps + 1]], axis=1)
        speed = np.concatenate([self.speed_rad_s[:-1, steps:], self.speed_rad_s[1:, :steps]], axis=1)
        joined = np.abs(self.edges_s[:-1, -1] - self.edges_s[1:, 0]) < 1e-6
        return replace(self, edges_s=edges[joined], speed_rad_s=speed[joined])

    def only(self, kept: NDArray[np.bool_]) -> CrankingCycles:
        """Those of the cycles that are ``kept``. ``kept`` is (cycles,), one per cycle; the unit of nothing changes:
        seconds and rad/s stay."""
        if kept.all():
            return self
        cycles = tuple(c for c, keep in zip(self.cycles, kept.tolist(), strict=False) if keep)
        lost = int(np.count_nonzero(~kept))
        return replace(
            self,
            cycles=cycles,
            edges_s=self.edges_s[kept],
            speed_rad_s=self.speed_rad_s[kept],
            left_out=self.left_out + lost,
        )

    def signal(self, samples: Samples, start_s: float, interval_s: float) -> Floats:
        """Mean of a channel over each step of shape (cycles, STEPS); NaN where samples are missing."""
        return interval_means(samples, self.edges_s, start_s, interval_s)


def interval_means(samples: Samples, edges_s: Floats, start_s: float, interval_s: float) -> Floats:
    """Mean of a channel between neighbouring moments, of shape (cycles, steps) in the channel's unit for ``edges_s``
    (cycles, steps + 1) in s; NaN where samples are missing."""
    at = np.clip((edges_s - start_s) / interval_s, 0.0, samples.size - 1.0)
    whole = at.astype(np.int64)
    missing = np.isnan(samples)
    known = np.where(missing, 0.0, samples) if missing.any() else samples
    sums = np.concatenate([[0.0], np.cumsum(known, dtype=np.float64)])
    reached = sums[whole] + (at - whole) * known[whole]
    means = np.diff(reached, axis=1) / np.maximum(np.diff(at, axis=1), 1e-9)
    if missing.any():
        count = np.concatenate([[0], np.cumsum(missing)])
        means[count[whole[:, 1:] + 1] > count[whole[:, :-1]]] = np.nan
    return np.asarray(means)


def chosen_span(recording: Recording) -> tuple[float, float] | None:
    """The stretch (from, to in s) that a person chose to judge sealing from; ``None`` where nobody did."""
    described = recording.description
    if described.seal_from_s is None and described.seal_to_s is None:
        return None
    low = -np.inf if described.seal_from_s is None else described.seal_from_s
    return low, np.inf if described.seal_to_s is None else described.seal_to_s


def without_span(recording: Recording) -> Recording:
    """The recording as if nobody had chosen a stretch."""
    description = recording.description.model_copy(update={"seal_from_s": None, "seal_to_s": None})
    return replace(recording, description=description)


def settled_cycles(cranked: Sequence[Cycle], span: tuple[float, float] | None) -> list[Cycle]:
    """Those from which sealing is judged: inside the chosen ``span``, or else of settled speed, within
    ``COMPRESSION_SETTLED_SHARE`` of their median, so that the starter's inrush lies before them."""
    if span is not None:
        return [c for c in cranked if c.from_s >= span[0] - 1e-6 and c.to_s <= span[1] + 1e-6]
    if not cranked:
        return []
    usual = float(np.median([c.mean_rpm for c in cranked]))
    return [c for c in cranked if abs(c.mean_rpm / usual - 1.0) <= numbers.COMPRESSION_SETTLED_SHARE.value]


def cranking_cycles(
    pieces: Sequence[PieceTurn],
    cycles: Sequence[Cycle],
    segments: Sequence[Segment],
    span: tuple[float, float] | None = None,
) -> CrankingCycles | None:
    """The ``settled_cycles`` of cranking on the clock. ``None`` with fewer than ``COMPRESSION_CYCLES_LEAST``."""
    cranked = [c for c in cycles if any(s.kind == "cranking" and _inside(c, s) for s in segments)]
    settled = settled_cycles(cranked, span)
    edges, speeds, kept = [], [], []
    for cycle in settled:
        turn = next((t for t in pieces if t.piece.times_s[0] <= cycle.from_s <= t.piece.times_s[-1]), None)
        if turn is None:
            continue
        begins = float(turn.piece.angle_deg(np.array([cycle.from_s]))[0])
        moments = turn.piece.time_s(np.asarray(begins + 720.0 / STEPS * np.arange(STEPS + 1), dtype=np.float64))
        edges.append(moments)
        speeds.append(turn.piece.speed_rpm(0.5 * (moments[1:] + moments[:-1])) * np.pi / 30.0)
        kept.append(cycle)
    if len(kept) < numbers.COMPRESSION_CYCLES_LEAST.value:
        return None
    return CrankingCycles(tuple(kept), np.array(edges), np.array(speeds), len(cranked) - len(kept))


def _inside(cycle: Cycle, segment: Segment) -> bool:
    return cycle.from_s >= segment.from_s - 1e-6 and cycle.to_s <= segment.to_s + 1e-6
