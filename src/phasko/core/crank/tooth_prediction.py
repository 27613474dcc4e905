"""Where a tooth should pass, told by its neighbours: the prediction behind the errors of teeth."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats, Ints
from phasko.core.engine.wheel import LONG_GAP

__all__ = ["Prediction", "by_neighbours", "half_width", "over_gaps"]


_STENCIL_FINE = 4
_STENCIL_COARSE = 2
_FINE_TEETH = 20
_WIDEST_DEG = 120.0
_TRIED_TURNS = 60


@dataclass(frozen=True, slots=True, eq=False)
class Prediction:
    """Of each tooth ``centre`` (row of the running angles) from the rows ``around`` it, by Lagrange's ``weights``;
    ``model_deg`` is what the formula itself may be off by."""

    centre: Ints
    around: Ints
    weights: Floats
    model_deg: Floats

    def residual_deg(self, running_deg: Floats) -> Floats:
        """Predicted less actual angle. ``running_deg`` (n,), the result one per predicted tooth, in deg."""
        return np.asarray(np.einsum("ij,ij->i", self.weights, running_deg[self.around]) - running_deg[self.centre])

    @property
    def gain(self) -> Floats:
        """Variance of a residual of independent errors of unit size. One per predicted tooth, a ratio."""
        return np.asarray(1.0 + np.einsum("ij,ij->i", self.weights, self.weights))

    def and_also(self, more: Prediction) -> Prediction:
        """Both predictions as one."""
        return Prediction(
            np.concatenate([self.centre, more.centre]),
            np.concatenate([self.around, more.around]),
            np.concatenate([self.weights, more.weights]),
            np.concatenate([self.model_deg, more.model_deg]),
        )


def half_width(teeth: int) -> int:
    """Neighbours on either side that are asked; fewer on coarse wheels."""
    return _STENCIL_FINE if teeth >= _FINE_TEETH else _STENCIL_COARSE


def by_neighbours(times_s: Floats, running_deg: Floats, teeth: int) -> Prediction:
    """Every tooth whose neighbours are evenly near; on coarse wheels every tooth. ``times_s`` (n,) in s,
    ``running_deg`` (n,) in deg."""
    half = half_width(teeth)
    offsets = _offsets(half, half, 1)
    span = 2 * half * _usual(running_deg)
    centre = _within(running_deg, offsets, span if half == _STENCIL_FINE else np.inf)
    return _prediction(times_s, centre, offsets, 0.0)


def over_gaps(times_s: Floats, running_deg: Floats, tooth: Ints, teeth: int, sd_deg: float) -> Prediction:
    """The teeth near each long gap of a fine wheel, predicted from both sides of it.

    What the wider stride costs is tried out where teeth exist, by leaving out as many as the gap has; ``sd_deg`` is
    what single teeth contribute to that and is taken off again. ``times_s`` (n,) in s, ``running_deg`` (n,) in deg,
    ``tooth`` (n,) the number of each.
    """
    half, usual = half_width(teeth), _usual(running_deg)
    near = _offsets(half, half, 1)
    found = _prediction(times_s, np.zeros(0, dtype=np.int64), near, 0.0)
    if half != _STENCIL_FINE or 360.0 / teeth > numbers.PITCH_THIN_DEG.value:
        return found
    intervals = np.diff(running_deg)
    strides = np.round(intervals / usual).astype(np.int64)
    for stride in np.unique(strides[(intervals > LONG_GAP * usual) & (intervals < _WIDEST_DEG)]).tolist():
        before = np.flatnonzero(strides == stride)
        span = (2 * half - 1 + stride) * usual
        whole = _within(running_deg, near, span)
        for away in range(half):
            for rows, side in ((before - away, 1), (before + 1 + away, -1)):
                trial = _offsets(half, away, stride) * side
                tried = _within(running_deg, trial, span)[: _TRIED_TURNS * teeth]
                off = _model_error(_prediction(times_s, tried, trial, 0.0), running_deg, tooth, sd_deg)
                if off is not None:
                    found = found.and_also(_prediction(times_s, rows[np.isin(rows, whole)], near, off))
    return found


def _model_error(trial: Prediction, running_deg: Floats, tooth: Ints, sd_deg: float) -> float | None:
    """What the formula is off by on its own (rms over the teeth, deg); ``None`` where it could not be tried."""
    if trial.centre.size < 1:
        return None
    residual, place = trial.residual_deg(running_deg), tooth[trial.centre]
    means = [float(residual[place == k].mean()) for k in np.unique(place)]
    return float(np.sqrt(max(0.0, float(np.mean(np.square(means))) - sd_deg**2 * float(trial.gain.mean()))))


def _usual(running_deg: Floats) -> float:
    return float(np.median(np.diff(running_deg)))


def _offsets(half: int, away: int, stride: int) -> Ints:
    """Rows on both sides; beyond ``away`` rows after the tooth comes a step of ``stride`` rows."""
    after = np.arange(1, half + 1)
    return np.concatenate([np.arange(-half, 0), np.where(after > away, after + stride - 1, after)])


def _within(running_deg: Floats, offsets: Ints, span_deg: float) -> Ints:
    """Rows whose neighbours exist and span no more than that."""
    low, high = int(-offsets.min()), int(offsets.max())
    centre = np.arange(low, running_deg.size - high)
    if centre.size < 1:
        return centre
    return centre[running_deg[centre + high] - running_deg[centre - low] < 1.05 * span_deg]


def _prediction(times_s: Floats, centre: Ints, offsets: Ints, model_deg: float) -> Prediction:
    """Lagrange's weights at 0 of the nodes t: product of all t over t_j, over the product of t_m - t_j."""
    around = centre[:, None] + offsets
    nodes = [times_s[centre + offset] - times_s[centre] for offset in offsets.tolist()]
    scale = np.maximum(np.abs(nodes[0]), np.abs(nodes[-1])) if centre.size else np.ones(0)
    nodes = [node / scale for node in nodes]
    below = [np.ones(centre.size) for _ in nodes]
    for j, node in enumerate(nodes):
        for m in range(j + 1, len(nodes)):
            apart = nodes[m] - node
            below[j] *= apart
            below[m] *= -apart
    whole = np.prod(nodes, axis=0)
    weights = np.stack([whole / (node * under) for node, under in zip(nodes, below, strict=True)], axis=1)
    return Prediction(centre, around, weights, np.full(centre.size, model_deg))
