"""The settled cranking cycles of a capture in the angle domain: speed and signals per step of crank angle."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from phasko.core import numbers
from phasko.core.cycles import Cycle, cycle_origin_deg
from phasko.core.recording import Samples
from phasko.core.segments import Segment
from phasko.core.turn import PieceTurn

__all__ = ["STEPS", "CrankingCycles", "cranking_cycles", "grid_deg"]

Floats = NDArray[np.float64]

STEPS = 360
"""Steps of two degrees per cycle."""


def grid_deg(cylinders: int) -> Floats:
    """Middle of each step, in degrees after cylinder 1's firing TDC; the first lies half a firing interval before."""
    return np.asarray(cycle_origin_deg(cylinders) + 720.0 / STEPS * (np.arange(STEPS) + 0.5), dtype=np.float64)


@dataclass(frozen=True, slots=True, eq=False)
class CrankingCycles:
    """Cycles from which sealing is judged: ``edges_s`` (cycles, STEPS + 1) are the moments between the steps,
    ``speed_rad_s`` (cycles, STEPS) the crank's speed in them. ``left_out`` cranking cycles were not settled."""

    cycles: tuple[Cycle, ...]
    edges_s: Floats
    speed_rad_s: Floats
    left_out: int

    def a_turn_on(self) -> CrankingCycles:
        """The same with the other one of the two turns first: from the middle of one cycle to that of the next."""
        half = STEPS // 2
        edges = np.concatenate([self.edges_s[:-1, half:], self.edges_s[1:, 1 : half + 1]], axis=1)
        speed = np.concatenate([self.speed_rad_s[:-1, half:], self.speed_rad_s[1:, :half]], axis=1)
        joined = np.abs(self.edges_s[:-1, -1] - self.edges_s[1:, 0]) < 1e-6
        return CrankingCycles(self.cycles, edges[joined], speed[joined], self.left_out)

    def signal(self, samples: Samples, start_s: float, interval_s: float) -> Floats:
        """Mean of a channel over each step (cycles, STEPS); NaN where samples are missing."""
        sums = np.concatenate([[0.0], np.cumsum(samples, dtype=np.float64)])
        at = np.clip((self.edges_s - start_s) / interval_s, 0.0, samples.size - 1.0)
        whole = at.astype(np.int64)
        reached = sums[whole] + (at - whole) * samples[whole]
        return np.asarray(np.diff(reached, axis=1) / np.maximum(np.diff(at, axis=1), 1e-9))


def cranking_cycles(
    pieces: Sequence[PieceTurn], cycles: Sequence[Cycle], segments: Sequence[Segment]
) -> CrankingCycles | None:
    """The whole cycles of cranking whose speed has settled: within ``SEAL_SETTLED_SHARE`` of their median, so that the
    starter's inrush lies before them. ``None`` with fewer than ``SEAL_CYCLES_LEAST``."""
    cranked = [c for c in cycles if any(s.kind == "cranking" and _inside(c, s) for s in segments)]
    if not cranked:
        return None
    usual = float(np.median([c.mean_rpm for c in cranked]))
    settled = [c for c in cranked if abs(c.mean_rpm / usual - 1.0) <= numbers.SEAL_SETTLED_SHARE.value]
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
    if len(kept) < numbers.SEAL_CYCLES_LEAST.value:
        return None
    return CrankingCycles(tuple(kept), np.array(edges), np.array(speeds), len(cranked) - len(kept))


def _inside(cycle: Cycle, segment: Segment) -> bool:
    return cycle.from_s >= segment.from_s - 1e-6 and cycle.to_s <= segment.to_s + 1e-6
