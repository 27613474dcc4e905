"""Which tooth is which on a wheel of unlike teeth: told by a whole turn, since one interval alone tells too little."""

from __future__ import annotations

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Bools, Floats, Ints

__all__ = ["clearest_turn", "turns_read_wrongly"]


_EDGES = 20_000
_ALIKE = 0.8
_WORST = 9.0


def clearest_turn(times_s: Floats, gaps_deg: Floats) -> tuple[int, int] | None:
    """(edge, its tooth) at the beginning of the turn that fits the wheel in one way much better than in any other.

    The changes of ln interval are held against those of the wheel in every rotation. ``None`` for wheels whose teeth
    are alike but for gaps, which show themselves, and where no turn is clear by ``CLEAR_TURN_NATS``. ``times_s``
    of shape (edges,) in s, ``gaps_deg`` (teeth,) in deg.
    """
    teeth = gaps_deg.size
    if not _unlike(gaps_deg) or times_s.size < teeth + 3:
        return None
    part = times_s[:_EDGES]
    misfit = _misfits(part, np.arange(part.size - 2), gaps_deg)
    window = _over_a_turn(misfit, teeth)
    if not window.size:
        return None
    ordered = np.sort(window, axis=1)
    margin = ordered[:, 1] - ordered[:, 0] - ordered[:, 0]
    edge = int(np.argmax(margin))
    if margin[edge] < numbers.CLEAR_TURN_NATS.value:
        return None
    rotation = int(np.argmin(window[edge]))
    return edge, (edge + rotation) % teeth


def turns_read_wrongly(times_s: Floats, number: Ints, gaps_deg: Floats) -> Bools:
    """Edges in turns that fit the wheel much better rotated than as they were counted (wheels of unlike teeth only).
    ``times_s`` of shape (edges,) in s, ``number`` (edges,) the running count, ``gaps_deg`` (teeth,) in deg; the result
    (edges,)."""
    wrong = np.zeros(number.size, dtype=np.bool_)
    teeth = gaps_deg.size
    counted = np.flatnonzero(number >= 0)
    if not _unlike(gaps_deg) or counted.size < teeth + 3:
        return wrong
    misfit = _misfits(times_s[counted], number[counted[:-2]], gaps_deg)
    skipped = np.diff(number[counted]) != 1
    misfit[skipped[1:] | skipped[:-1]] = 0.0
    window = _over_a_turn(misfit, teeth)
    if not window.size:
        return wrong
    better = window[:, 0] - window.min(axis=1) > numbers.CLEAR_TURN_NATS.value
    for start in np.flatnonzero(better).tolist():
        wrong[counted[start : start + teeth + 2]] = True
    return wrong & (number >= 0)


def _unlike(gaps_deg: Floats) -> bool:
    """Whether many teeth stand unevenly, rather than a few gaps in an even row."""
    return bool(np.count_nonzero(np.abs(gaps_deg / np.median(gaps_deg) - 1.0) < 0.05) <= _ALIKE * gaps_deg.size)


def _misfits(times_s: Floats, number: Ints, gaps_deg: Floats) -> Floats:
    """(edges - 2, teeth) nats by which each change of interval misfits, if edge i were tooth ``number`` + rotation."""
    intervals = np.log(np.maximum(np.diff(times_s), 1e-12))
    own = np.log(gaps_deg)
    change = np.roll(own, -1) - own
    tooth = (number[:, None] + np.arange(gaps_deg.size)) % gaps_deg.size
    spread = numbers.UNLIKE_SPREAD.value
    off = (np.diff(intervals)[:, None] - change[tooth]) / spread
    return np.asarray(np.minimum(0.5 * off**2, _WORST), dtype=np.float64)


def _over_a_turn(misfit: Floats, teeth: int) -> Floats:
    """Sums over the changes of one whole turn, by its first edge."""
    if misfit.shape[0] < teeth:
        return np.zeros((0, teeth))
    total = np.concatenate([np.zeros((1, misfit.shape[1])), np.cumsum(misfit, axis=0)])
    return np.asarray(total[teeth:] - total[:-teeth])
