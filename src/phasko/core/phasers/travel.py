"""One travel of a phaser from one place to another: when it begins, how fast it is, where it ends."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import scipy

from phasko.core.arrays import Floats
from phasko.core.uncertainty import robust_sd, t_factor

__all__ = ["Level", "Travel", "fitted_travel", "level_of"]


_LEAST_EDGES = 3
_EDGE_SD_DEG = 0.15
"""An edge of a moving cam is not read better than this, whatever the scatter of a few says (deg)."""
_SETTLED = 3.0
"""A lagging travel counts as ended after so many of its time constants (95 % of the way)."""


@dataclass(frozen=True, slots=True)
class Level:
    """Where the cam stood still: its mean place (deg) and half width, the stretch it is from (s), and its edges."""

    place_deg: float
    u95_deg: float
    from_s: float
    to_s: float
    edges: int


@dataclass(frozen=True, slots=True)
class Travel:
    """A movement between two places (deg) after the command at ``commanded_s``. ``begins_s`` with its half width;
    ``ends_s`` where 95 % of the way is done; ``rate_deg_s`` signed, over the time between. ``arrived``: the cam stood
    still afterwards, so that ``to_deg`` is a stop and not just as far as it came."""

    commanded_s: float
    begins_s: float
    begins_u95_s: float
    ends_s: float
    from_deg: float
    to_deg: float
    to_u95_deg: float
    rate_deg_s: float
    arrived: bool


def level_of(times_s: Floats, places_deg: Floats, common_u95_deg: float) -> Level | None:
    """The level of edges of a cam that stands still; neighbouring edges sway together, so that each second counts as
    five of them. ``times_s`` (s) and ``places_deg`` of shape (edges,); ``None`` without an edge."""
    if not times_s.size:
        return None
    place = float(np.median(places_deg)) if times_s.size < _LEAST_EDGES else _robust_mean(places_deg)
    independent = max(2.0, min(float(times_s.size), 1.0 + _SWAYS_PER_S * float(np.ptp(times_s))))
    sd = max(robust_sd(places_deg), _EDGE_SD_DEG)
    u95 = math.hypot(t_factor(max(1.0, independent - 1.0)) * sd / math.sqrt(independent), common_u95_deg)
    return Level(place, u95, float(times_s[0]), float(times_s[-1]), int(times_s.size))


_SWAYS_PER_S = 5.0


def _robust_mean(values: Floats) -> float:
    middle = float(np.median(values))
    near = np.abs(values - middle) <= max(3.0 * robust_sd(values), 2.0 * _EDGE_SD_DEG)
    return float(values[near].mean())


def fitted_travel(
    commanded_s: float, times_s: Floats, places_deg: Floats, start: Level, common_u95_deg: float
) -> Travel | None:
    """The travel that the edges after the command at ``commanded_s`` show, from the level ``start``; ``None`` where
    they are too few.

    A steady rate between two stops through a lag that dies away (an oil flow against a spring) is fitted by least
    squares with a soft loss. ``times_s`` (s) and ``places_deg`` (deg) are of shape (edges,).
    """
    if times_s.size < _LEAST_EDGES + 1:
        return None
    fit = _fit(times_s, places_deg, start.place_deg)
    ends = fit.begins_s + 0.95 * fit.lasts_s + _SETTLED * fit.lag_s
    still = times_s > fit.begins_s + fit.lasts_s + 1.5 * _SETTLED * fit.lag_s
    done = fit.has_arrived(float(times_s[-1]))
    level = level_of(times_s[still], places_deg[still], common_u95_deg) if np.count_nonzero(still) >= 2 else None
    by_curve = math.hypot(2.0 * fit.end_sd_deg, common_u95_deg)
    arrived = level is not None or done
    if level is not None and (level.u95_deg <= by_curve or not done):
        to, to_u95 = level.place_deg, level.u95_deg
    elif arrived:
        to, to_u95 = fit.end_deg, by_curve
    else:
        # Still on its way: what it reached is what was seen last, not where a curve would end.
        to, ends = float(np.median(places_deg[-2:])), float(times_s[-1])
        to_u95 = math.hypot(4.0 * max(math.sqrt(fit.cost_deg2 / times_s.size), _EDGE_SD_DEG), common_u95_deg)
    moved = (0.95 if arrived else 1.0) * (to - start.place_deg)
    return Travel(
        commanded_s=commanded_s,
        begins_s=fit.begins_s,
        begins_u95_s=math.hypot(_BEGIN_FACTOR * fit.begins_sd_s, _BEGIN_FLOOR_S),
        ends_s=ends,
        from_deg=start.place_deg,
        to_deg=to,
        to_u95_deg=to_u95,
        rate_deg_s=moved / max(ends - fit.begins_s, 1e-3),
        arrived=arrived,
    )


_BEGIN_FLOOR_S, _BEGIN_FACTOR = 0.005, 3.4
"""No phaser starts as abruptly as a curve does (s), and its springs shake the edges that tell it."""
_ARRIVED, _HARDLY_MOVES = 0.97, 0.2


@dataclass(frozen=True, slots=True)
class _Fit:
    """The curve of a travel: when it begins and how long its steady part lasts (s), its lag (s), its end (deg)."""

    cost_deg2: float
    begins_s: float
    lasts_s: float
    lag_s: float
    end_deg: float
    begins_sd_s: float
    end_sd_deg: float

    def has_arrived(self, at_s: float) -> bool:
        """Whether the curve has come to rest by then: nearly all the way is done, and it hardly moves any more. One
        that was cut off at full rate has an end that nobody saw."""
        lasts = self.lasts_s + self.lag_s
        done, before = _shape(np.array([at_s, at_s - 0.02 * lasts]), self.begins_s, self.lasts_s, self.lag_s).tolist()
        return bool(done >= _ARRIVED and (done - before) / 0.02 < _HARDLY_MOVES)


def _shape(times_s: Floats, begins_s: float, lasts_s: float, lag_s: float) -> Floats:
    """Share of the way done: a steady rate for ``lasts_s``, through a lag of the first order. Either may be next to
    nothing."""

    def filled(since_s: Floats) -> Floats:
        on = np.maximum(since_s, 0.0)
        return np.asarray(on - lag_s * (1.0 - np.exp(-on / lag_s)))

    since = times_s - begins_s
    return np.asarray((filled(since) - filled(since - lasts_s)) / lasts_s)


def _fit(times_s: Floats, places_deg: Floats, start_deg: float) -> _Fit:
    end = float(np.median(places_deg[-max(2, places_deg.size // 4) :]))
    off = np.abs(places_deg - start_deg)
    span = abs(end - start_deg)
    out = np.flatnonzero(off > 0.25 * span)
    first = float(times_s[out[0]]) if out.size else float(times_s[0])
    near = np.flatnonzero(np.abs(places_deg - end) < 0.2 * span)
    arrives = float(times_s[near[0]]) if near.size else float(times_s[-1])
    lasts = max(arrives - first, 0.02)
    low = float(times_s[0]) - float(np.diff(times_s).max())

    def off_by(guess: Floats) -> Floats:
        begins, duration, lag, to = guess
        return (
            np.asarray(start_deg + (to - start_deg) * _shape(times_s, begins, duration, lag) - places_deg)
            / _EDGE_SD_DEG
        )

    tried = []
    for duration, lag in ((lasts, 0.01 * lasts), (0.1 * lasts, 0.6 * lasts), (2.5 * lasts, 0.01 * lasts)):
        for begins in (first, first - 0.4 * lasts):
            guess = np.array([max(begins, low + 1e-6), duration, max(lag, 2e-4), end])
            tried.append(
                scipy.optimize.least_squares(
                    off_by,
                    guess,
                    loss="soft_l1",
                    f_scale=2.0,
                    x_scale=[0.05, 0.2, 0.05, 5.0],
                    bounds=([low, 1e-3, 1e-4, -np.inf], [float(times_s[-1]), 60.0, 20.0, np.inf]),
                )
            )
    best = min(tried, key=lambda found: float(found.cost))
    begins, duration, lag, to = (float(x) for x in best.x)
    # A lag shorter than the edges are apart is not told from none, and takes nothing from what is known of the begin.
    told = [0, 1, 2, 3] if lag > 0.5 * float(np.median(np.diff(times_s))) else [0, 1, 3]
    sds = _standard_errors(best.jac[:, told], float(best.cost), times_s.size)
    return _Fit(
        cost_deg2=2.0 * float(best.cost) * _EDGE_SD_DEG**2,
        begins_s=begins,
        lasts_s=duration,
        lag_s=lag,
        end_deg=to,
        begins_sd_s=float(sds[0]),
        end_sd_deg=float(sds[-1]),
    )


def _standard_errors(jacobian: Floats, cost: float, edges: int) -> Floats:
    """Of each parameter, from the curvature at the best fit. Of a travel that was cut off only the rate is known, not
    its end: what is not known is left out."""
    inverse = np.linalg.pinv(jacobian.T @ jacobian, rcond=1e-9, hermitian=True)
    scale = max(1.0, 2.0 * cost / max(1, edges - jacobian.shape[1]))
    return np.asarray(np.sqrt(np.maximum(np.diag(inverse), 0.0) * scale))
