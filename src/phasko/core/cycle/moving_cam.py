"""Edges of a cam that its phaser moves: each is given its place by what the edges before and after it do."""

from __future__ import annotations

import numpy as np

from phasko.core.angles import wrap
from phasko.core.arrays import Bools, Floats, Ints
from phasko.core.cycle.pattern import Assignment
from phasko.core.documents.engine import CamEdge

__all__ = ["track_edges"]


_REACH_DEG = 110.0
"""No phaser turns a cam further than this from where it rests (crank degrees)."""
_FREE_DEG, _FREE_DEG_S = 2.0, 250.0
"""From one edge to the next a cam's lateness changes by an edge's own error, and by as much as a phaser does in that
time (deg, deg/s). Twice as much costs four times as much."""
_LOST, _ADDED, _SILENT = 6.0, 5.0, 30.0
"""What a lost edge, an added edge and a whole stretch without any cost."""
_PASSED_MOST = 5
_FAR_COST_DEG = 90.0


def track_edges(
    times_s: Floats, angles_deg: Floats, rising: Bools, reference: list[CamEdge], shift_deg: float
) -> Assignment:
    """Gives every edge its reference edge and cycle, for a cam that may move by a hundred degrees in a fraction of a
    second: of all ways to count the edges on, the one in which the lateness changes most smoothly and fewest edges are
    lost or added (dynamic programming over the edges, as Viterbi 1967).

    ``angles_deg`` are running angles with the turn resolved, ``shift_deg`` where the cam rests; ``times_s`` (s),
    ``angles_deg`` (deg) and ``rising`` of shape (edges,).
    """
    count = angles_deg.size
    late, place = _candidates(angles_deg, rising, reference, shift_deg)
    width = late.shape[1] if count else 0
    if not width:
        return Assignment(np.full(count, -1, np.int64), np.zeros(count, np.int64), np.full(count, np.nan))
    usable = np.isfinite(late)
    far = np.where(usable, (np.nan_to_num(late - shift_deg) / _FAR_COST_DEG) ** 2, np.inf)
    best: Floats = np.asarray(_ADDED * np.arange(count)[:, None] + far, dtype=np.float64)
    came_from = np.full((count, width), -1, dtype=np.int64)
    for i in range(1, count):
        for j in range(max(0, i - 1 - _PASSED_MOST), i):
            skipped = place[i][None, :] - place[j][:, None] - 1
            change = late[i][None, :] - late[j][:, None]
            free = _FREE_DEG + _FREE_DEG_S * float(times_s[i] - times_s[j])
            cost = best[j][:, None] + (change / free) ** 2 + np.minimum(_LOST * skipped, _SILENT)
            cost = np.where((skipped >= 0) & np.isfinite(cost), cost, np.inf) + _ADDED * (i - j - 1)
            nearest = np.argmin(cost, axis=0)
            cheapest = cost[nearest, np.arange(width)]
            better = cheapest < best[i]
            best[i] = np.where(better, cheapest, best[i])
            came_from[i] = np.where(better, j * width + nearest, came_from[i])
    return _traced(best, came_from, late, place, np.argsort([edge.deg for edge in reference]))


def _candidates(angles_deg: Floats, rising: Bools, reference: list[CamEdge], shift_deg: float) -> tuple[Floats, Ints]:
    """Lateness of each edge at every reference edge of its kind within reach (deg; ``nan``: none), and the running
    number of that edge; both of shape (edges, candidates)."""
    ref = np.array([edge.deg for edge in reference])
    kinds = np.array([edge.kind == "rising" for edge in reference])
    off = wrap(angles_deg[:, None] - ref[None, :] - shift_deg, 720.0)
    able = (np.abs(off) <= _REACH_DEG) & (rising[:, None] == kinds[None, :])
    width = int(able.sum(axis=1).max()) if able.size else 0
    order = np.argsort(np.where(able, np.abs(off), np.inf), axis=1, kind="stable")[:, :width]
    rows = np.arange(angles_deg.size)[:, None]
    late = np.where(able, off + shift_deg, np.nan)[rows, order]
    cycle = np.rint((angles_deg[:, None] - ref[order] - np.nan_to_num(late)) / 720.0).astype(np.int64)
    rank = np.argsort(np.argsort(ref))
    return late, cycle * len(reference) + rank[order]


def _traced(best: Floats, came_from: Ints, late: Floats, place: Ints, ranked: Ints) -> Assignment:
    """The cheapest way, followed back from its end; edges that it passes over belong to none."""
    count, width = late.shape
    size = ranked.size
    ends = best + _ADDED * np.arange(count)[::-1][:, None]
    at = int(np.argmin(ends))
    reference, cycle = np.full(count, -1, np.int64), np.zeros(count, np.int64)
    delta = np.full(count, np.nan)
    while at >= 0:
        i, c = divmod(at, width)
        reference[i], cycle[i], delta[i] = ranked[place[i, c] % size], place[i, c] // size, late[i, c]
        at = int(came_from[i, c])
    lost = np.flatnonzero(reference < 0)
    known = np.flatnonzero(reference >= 0)
    if lost.size and known.size:
        cycle[lost] = cycle[known[np.clip(np.searchsorted(known, lost), 0, known.size - 1)]]
    return Assignment(reference, cycle, delta)
