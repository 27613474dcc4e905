"""The likeliest way to read a row of edges as teeth of a known wheel, some lost, some added.

A dynamic program (Viterbi, IEEE Trans. Inf. Theory 13, 1967, 260) over edges and teeth: every way to arrive at an edge
as a certain tooth costs what its lost and added edges cost and how badly the interval fits the speed that the same way
had before. So one doubtful pulse is decided by whether the gap comes right, up to a turn later.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from phasko.core.arrays import Bools, Floats, Ints

__all__ = ["Alignment", "align"]


_ADDED = 6.0
"""Cost of one added edge in nats. One edge in four hundred is expected to be an added one (-ln 1/400 = 6.0)."""
_LOST = 5.0
"""Cost of a first lost tooth in nats. Each further tooth of the same hole costs less: a dropout takes several."""
_LOST_MORE = 1.0
_LOST_MOST = 14.0
_WORST = 9.0
"""No interval costs more than this, in nats, so that one odd change of speed does not outweigh the rest."""
_JUMP = 2.0
"""What it costs to compare an interval with the usual one around it instead of the one before, in spreads."""
_SPREAD = 0.05
_SPREAD_PER_DEG = 0.005
"""How much neighbouring intervals differ (ln ratio), at rest and per degree of pitch: a cranking engine changes its
speed by up to a quarter within 30 degrees."""
_MOST_ADDED = 5
_USUAL_STEPS = 4
_STEPS = 4096
"""An origin is packed as turn times this plus tooth: more than the teeth of two turns of the finest wheel."""


@dataclass(frozen=True, slots=True, eq=False)
class Alignment:
    """For each edge how many teeth it is after edge ``first`` (-1: an added edge). ``tooth`` is the tooth of edge
    ``first``; edges before it are added ones."""

    first: int
    tooth: int
    steps: Ints


@dataclass(frozen=True, slots=True, eq=False)
class _Ways:
    """Ways to arrive at an edge, one row a way: how many edges back, over how many teeth, at what price; and, by the
    tooth arrived at (columns), from which tooth and over how many degrees (ln)."""

    back: Ints
    steps: Ints
    price: Floats
    before: Ints
    log_degrees: Floats

    def rows(self, chosen: Bools) -> _Ways:
        """Only the ways that ``chosen``, one per way, counts in: the same units, deg and s per deg."""
        return _Ways(*(getattr(self, name)[chosen] for name in _Ways.__slots__))

    def and_also(self, others: _Ways) -> _Ways:
        """These and the others."""
        return _Ways(*(np.concatenate([getattr(self, name), getattr(others, name)]) for name in _Ways.__slots__))


def align(times_s: Floats, gaps_deg: Floats, tooth: int | None = None, log_slowness: float | None = None) -> Alignment:
    """Reads ``times_s`` as teeth of the wheel with ``gaps_deg`` between them.

    ``tooth`` and ``log_slowness`` (ln of s per deg) are those of edge 0 where they are known; else every tooth is
    possible there. Interval misfits are measured as ln ratios, with a spread that grows with the pitch, since a
    cranking engine changes speed more from one tooth to the next on a coarse wheel. On a wheel of like teeth an
    interval may also fit the usual one around it, whatever came before: so the start from rest goes through.
    ``times_s`` (edges,) in s, ``gaps_deg`` (teeth,) in deg.
    """
    table = _Table(times_s, gaps_deg)
    table.start(tooth, log_slowness)
    for edge in range(1, times_s.size):
        table.arrive(edge)
    return table.best()


class _Table:
    """Costs, speeds and origins of all ways to read each edge as each tooth."""

    def __init__(self, times_s: Floats, gaps_deg: Floats) -> None:
        self.t = times_s
        self.teeth = gaps_deg.size
        self.angle = np.concatenate([[0.0], np.cumsum(np.tile(gaps_deg, 4))])
        self.pitch = float(np.median(gaps_deg))
        self.spread = _SPREAD + _SPREAD_PER_DEG * self.pitch
        n = times_s.size
        self.cost = np.full((n, self.teeth), np.inf)
        self.speed = np.zeros((n, self.teeth))
        self.origin = np.zeros((n, self.teeth), dtype=np.int64)
        most_added = min(_MOST_ADDED, max(1, n - 1))
        self.around = _usual_log_slowness(times_s, gaps_deg)
        self.usual = self._ways(np.arange(1, _USUAL_STEPS + 1), most_added)

    def _ways(self, steps: Ints, added: int) -> _Ways:
        """All ways over ``steps`` teeth with up to ``added`` - 1 edges between left out."""
        back, step = np.repeat(np.arange(1, added + 1), steps.size), np.tile(steps, added)
        end = np.arange(self.teeth)[None, :] + 2 * self.teeth
        degrees = self.angle[end] - self.angle[end - step[:, None]]
        lost = np.where(step > 1, np.minimum(_LOST + _LOST_MORE * (step - 2), _LOST_MOST), 0.0)
        before = (end - step[:, None]) % self.teeth
        return _Ways(back, step, lost + _ADDED * (back - 1), before, np.log(degrees))

    def start(self, tooth: int | None, log_slowness: float | None) -> None:
        """Edge 0 is ``tooth``; where that is not known any of the first edges may be the first tooth, whichever."""
        first = 1 if tooth is not None else min(_MOST_ADDED, self.t.size)
        self.speed[:first] = np.nan if log_slowness is None else log_slowness
        self.origin[:first] = -1
        if tooth is None:
            self.cost[:first] = _ADDED * np.arange(first)[:, None]
        else:
            self.cost[0, tooth] = 0.0

    def arrive(self, edge: int) -> None:
        """Fills the row of ``edge`` from the rows before it."""
        ways = self._reach(edge)
        if ways.back.max() > edge:
            ways = ways.rows(ways.back <= edge)
        from_edge = (edge - ways.back)[:, None]
        waited = np.log(np.maximum(self.t[edge] - self.t[from_edge], 1e-12))
        now = waited - ways.log_degrees
        earlier = self.speed[from_edge, ways.before]
        misfit = np.where(np.isnan(earlier), 0.0, now - earlier)
        local = now - self.around[edge]
        # After a jump of the speed (a start from rest) the interval before says nothing; the usual one around decides.
        jumped = np.hypot(local, _JUMP * self.spread) < np.abs(misfit)
        misfit = np.where(jumped, local, misfit)
        strange = 0.5 * (misfit / self.spread) ** 2 + np.where(jumped, 0.5 * _JUMP**2, 0.0)
        cost = self.cost[from_edge, ways.before] + ways.price[:, None] + np.minimum(strange, _WORST)
        best = np.argmin(cost, axis=0)
        here = np.arange(self.teeth)
        found = cost[best, here]
        better = found < self.cost[edge]
        self.cost[edge] = np.where(better, found, self.cost[edge])
        origin = ways.back[best] * _STEPS + ways.steps[best]
        self.origin[edge] = np.where(better, origin, self.origin[edge])
        kept = misfit[best, here]
        # After a lost or added edge the speed is half believed: it may have been the misread interval that set it.
        plain = (ways.back[best] == 1) & (ways.steps[best] == 1) & (np.abs(kept) < 0.5)
        speed = np.where(plain, now[best, here], now[best, here] - 0.5 * kept)
        self.speed[edge] = np.where(better, speed, self.speed[edge])

    def _reach(self, edge: int) -> _Ways:
        """The usual ways, and after a hole also those over as many teeth as the speed suggests."""
        slowness = max(self._slowness(before) for before in range(max(0, edge - 4), edge))
        if not np.isfinite(slowness):
            return self.usual
        passed = (self.t[edge] - self.t[edge - 1]) / np.exp(slowness) / (360.0 / self.teeth)
        if passed <= _USUAL_STEPS:
            return self.usual
        # The engine may have slowed by a third or sped up by a half inside the hole; nothing further is tried.
        low = max(_USUAL_STEPS + 1, int(0.65 * passed) - 1)
        high = min(2 * self.teeth - 1, int(1.5 * passed) + 1)
        if high < low:
            return self.usual
        return self._ways(np.arange(low, high + 1), 1).and_also(self.usual)

    def _slowness(self, edge: int) -> float:
        """ln of s per deg at an edge: the usual one around it where teeth are alike, else that of the best way there.

        The slowest of a few edges is asked for, since a pulse just behind a tooth seems fast."""
        if np.isfinite(self.around[edge]):
            return float(self.around[edge])
        speed = float(self.speed[edge, int(np.argmin(self.cost[edge]))])
        return speed if np.isfinite(speed) else -np.inf

    def best(self) -> Alignment:
        n = self.t.size
        # The last edges may be added ones, like the first.
        ends = range(n - 1, max(-1, n - 1 - _MOST_ADDED), -1)
        edge = min(ends, key=lambda e: float(self.cost[e].min()) + _ADDED * (n - 1 - e))
        tooth = int(np.argmin(self.cost[edge]))
        visited = []
        behind = 0
        while True:
            visited.append((edge, behind))
            origin = int(self.origin[edge, tooth])
            if origin < 0:
                break
            back, step = divmod(origin, _STEPS)
            edge -= back
            tooth = (tooth - step) % self.teeth
            behind -= step
        steps = np.full(n, -1, dtype=np.int64)
        for place, before in visited:
            steps[place] = before - behind
        return Alignment(edge, tooth, steps)


def _usual_log_slowness(times_s: Floats, gaps_deg: Floats) -> Floats:
    """ln of s per deg around each edge by the median of seven intervals; not a number where teeth are not alike."""
    regular = np.count_nonzero(np.abs(gaps_deg / np.median(gaps_deg) - 1.0) < 0.05) > 0.8 * gaps_deg.size
    if not regular or times_s.size < 8:
        return np.full(times_s.size, np.nan)
    intervals = np.diff(times_s, prepend=2 * times_s[0] - times_s[1])
    usual = scipy.ndimage.median_filter(intervals, size=7, mode="nearest")
    return np.asarray(np.log(np.maximum(usual, 1e-12) / np.median(gaps_deg)), dtype=np.float64)
