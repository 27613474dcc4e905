"""A distributor or sync drive that is turned while the offset is watched: where it stands, which way to turn."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from phasko.core.live.reading import LiveReading
from phasko.core.words import angle_words, plus_minus

__all__ = ["Adjusting", "adjusting"]

Where = Literal["in", "late", "early", "moving", "unread"]


@dataclass(frozen=True, slots=True)
class Adjusting:
    """The last readings of one signal against its window. ``mean_deg`` with ``u95_deg`` and ``jitter_deg`` (standard
    deviation from reading to reading), in crank degrees, late positive; ``body_deg``: how far the body has to be turned
    (its own degrees, half as many); ``spark_moves``: whether the spark went with it (``None``: no spark is read)."""

    where: Where
    mean_deg: float | None
    u95_deg: float | None
    jitter_deg: float | None
    window_deg: float
    body_deg: float | None
    spark_moves: bool | None
    words: str


_STEADY_READINGS = 4
_MOVED_DEG = 2.0
"""A change that is a turn of the body, not a swing of the reading (crank degrees)."""


def adjusting(readings: Sequence[LiveReading], cam: str, window_deg: float) -> Adjusting:
    """Where the signal of ``cam`` stands against a window of ``window_deg`` either way, from the readings so far, the
    oldest first. One degree of the body is two of the crank, since it turns once a cycle."""
    series = [(found, one) for one in readings if (found := _offset(one, cam)) is not None]
    if not series:
        return Adjusting(
            where="unread",
            mean_deg=None,
            u95_deg=None,
            jitter_deg=None,
            window_deg=window_deg,
            body_deg=None,
            spark_moves=None,
            words="The signal is not read yet.",
        )
    values = np.array([value for (value, _), _ in series])
    last = values[-_STEADY_READINGS:]
    mean, jitter = float(last.mean()), float(last.std(ddof=1)) if last.size > 1 else None
    u95 = series[-1][0][1]
    moves = _spark_moves(readings, cam)
    if last.size >= 2 and abs(float(last[-1] - last[0])) > _MOVED_DEG:
        words = f"{angle_words(float(last[-1]), u95)} and moving: hold it, and look again."
        return Adjusting(
            where="moving",
            mean_deg=float(last[-1]),
            u95_deg=u95,
            jitter_deg=jitter,
            window_deg=window_deg,
            body_deg=None,
            spark_moves=moves,
            words=words,
        )
    if abs(mean) <= window_deg:
        inside = f"inside the window of ± {window_deg:g}°"
        words = f"{angle_words(mean, u95)} {plus_minus(u95)}: {inside}. Tighten, rev, look again."
        return Adjusting(
            where="in",
            mean_deg=mean,
            u95_deg=u95,
            jitter_deg=jitter,
            window_deg=window_deg,
            body_deg=0.0,
            spark_moves=moves,
            words=words,
        )
    body = abs(mean) / 2.0
    # A late signal has to come earlier: the body is turned against the rotor's own direction.
    way = "against the way its rotor turns" if mean > 0 else "the way its rotor turns"
    words = f"{angle_words(mean, u95)}: turn the body {body:.1f}° {way} ({abs(mean):.1f}° of the crank)."
    return Adjusting(
        where="late" if mean > 0 else "early",
        mean_deg=mean,
        u95_deg=u95,
        jitter_deg=jitter,
        window_deg=window_deg,
        body_deg=body,
        spark_moves=moves,
        words=words,
    )


def _offset(reading: LiveReading, cam: str) -> tuple[float, float] | None:
    for one in reading.cams:
        if one.cam == cam and one.offset_deg is not None and one.u95_deg is not None:
            return one.offset_deg, one.u95_deg
    return None


def _spark_moves(readings: Sequence[LiveReading], cam: str) -> bool | None:
    """Whether the spark moved with the signal: between the reading farthest one way and the one farthest the other."""
    both = [(found[0], one.sparks[0].spark_deg) for one in readings if (found := _offset(one, cam)) and one.sparks]
    if len(both) < 2:
        return None
    low, high = min(both), max(both)
    turned = high[0] - low[0]
    if turned < _MOVED_DEG:
        return None
    return bool(abs(high[1] - low[1]) > 0.5 * turned)
