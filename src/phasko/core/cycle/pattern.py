"""Where a cam's edges stand against its reference pattern: the best circular shift, and whether it is the only one."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.angles import wrap, wrap_cycle
from phasko.core.arrays import Bools, Floats, Ints
from phasko.core.documents.engine import CamEdge

__all__ = ["Assignment", "PatternFit", "assign_edges", "fit_pattern", "follow_edges"]


_MOST_EDGES = 400
_MOST_CANDIDATES = 240
_MOVED_SHARE = 0.4
"""A cycle is looked at on its own when more than this share of its edges fits nowhere in the usual pattern."""


@dataclass(frozen=True, slots=True)
class PatternFit:
    """Shift of the measured edges against the reference, in (-360, 360] before the turn is known.

    ``cost`` is 0 for a perfect fit and 1 for none; ``modulo_deg`` is the shift after which the pattern fits as well
    again (720: only once per cycle).
    """

    shift_deg: float
    cost: float
    modulo_deg: float


@dataclass(frozen=True, slots=True, eq=False)
class Assignment:
    """For each edge: index of its reference edge (-1: none), its cycle, and how late it is, in deg."""

    reference: Ints
    cycle: Ints
    delta_deg: Floats


def fit_pattern(angles_deg: Floats, rising: Bools, reference: list[CamEdge]) -> PatternFit | None:
    """Best circular shift of ``angles_deg`` (running crank angles) against the reference edges of one cycle.

    Every difference between a measured and a reference edge of one kind is tried; the one under which most edges lie at
    a reference edge of their kind, and most reference edges are visited, wins. ``angles_deg`` of shape (edges,) in deg,
    ``rising`` (edges,).
    """
    if angles_deg.size < len(reference) or not reference:
        return None
    # A shift is told by a few cycles; a long recording would only make every candidate dearer.
    step = max(1, angles_deg.size // _MOST_EDGES)
    angles, kinds = angles_deg[::step] % 720.0, rising[::step]
    candidates = _candidates(angles, kinds, reference)
    if not candidates.size:
        return None
    costs = np.array([_cost(angles, kinds, reference, shift) for shift in candidates])
    best = int(np.argmin(costs))
    shift = _refined(angles, kinds, reference, float(candidates[best]))
    cost = _cost(angles, kinds, reference, shift)
    distance = np.abs(wrap(candidates - shift, 720.0))
    rivals = distance[(costs < cost + numbers.PATTERN_AMBIGUITY.value) & (distance > 20.0)]
    modulo = float(rivals.min()) if rivals.size else 720.0
    return PatternFit(
        wrap_cycle(shift),
        cost,
        min((m for m in (720, 360, 240, 180, 144, 120, 90) if abs(m - modulo) < 15), default=modulo),
    )


def _candidates(angles: Floats, kinds: Bools, reference: list[CamEdge]) -> Floats:
    middle = slice(max(0, angles.size // 2 - 2 * len(reference)), angles.size // 2 + 2 * len(reference))
    found = [(angles[middle][kinds[middle] == (edge.kind == "rising")] - edge.deg) % 720.0 for edge in reference]
    everything = np.sort(np.concatenate(found))
    if not everything.size:
        return everything
    # Candidates that nearly agree are one: the shift is refined afterwards.
    apart = np.concatenate([[True], np.diff(everything) > 0.5])
    return np.asarray(everything[apart][:_MOST_CANDIDATES])


def _residuals(angles: Floats, kinds: Bools, reference: list[CamEdge], shift: float) -> tuple[Floats, Ints]:
    """Distance of each edge to the nearest reference edge of its kind under ``shift``, and which edge that is."""
    ref = np.array([edge.deg for edge in reference])
    is_rising = np.array([edge.kind == "rising" for edge in reference])
    off = wrap(angles[:, None] - ref[None, :] - shift, 720.0)
    off = np.where(kinds[:, None] == is_rising[None, :], off, np.inf)
    nearest = np.argmin(np.abs(off), axis=1)
    return off[np.arange(len(angles)), nearest], nearest


def _cost(angles: Floats, kinds: Bools, reference: list[CamEdge], shift: float) -> float:
    window = numbers.PATTERN_WINDOW_DEG.value
    off, nearest = _residuals(angles, kinds, reference, shift)
    near = np.abs(off) < window
    unmatched = float(np.mean(np.where(near, np.abs(off) / window, 1.0)))
    # Else a shift under which all edges crowd at one reference edge would seem a good one.
    unvisited = 1.0 - np.unique(nearest[near]).size / len(reference)
    return 0.5 * (unmatched + unvisited)


def _refined(angles: Floats, kinds: Bools, reference: list[CamEdge], shift: float) -> float:
    for _ in range(2):
        off, _nearest = _residuals(angles, kinds, reference, shift)
        near = off[np.abs(off) < numbers.PATTERN_WINDOW_DEG.value]
        if near.size:
            shift += float(np.median(near))
    return shift


def assign_edges(angles_deg: Floats, rising: Bools, reference: list[CamEdge], shift_deg: float) -> Assignment:
    """Gives every edge its reference edge and cycle; one edge per reference edge and cycle, the nearest.

    ``angles_deg`` are running angles with the turn resolved, ``shift_deg`` the cam's offset. ``angles_deg`` (edges,) in
    deg, ``rising`` (edges,).
    """
    off, nearest = _residuals(angles_deg, rising, reference, shift_deg)
    ref = np.array([edge.deg for edge in reference])
    delta = off + shift_deg
    cycle = np.rint((angles_deg - ref[nearest] - np.where(np.isfinite(delta), delta, 0.0)) / 720.0).astype(np.int64)
    accepted = np.abs(off) < numbers.PATTERN_WINDOW_DEG.value
    nearest_first = np.flatnonzero(accepted)[np.argsort(np.abs(off[accepted]), kind="stable")]
    _, firsts = np.unique((cycle * len(reference) + nearest)[nearest_first], return_index=True)
    reference_index = np.full(angles_deg.size, -1, dtype=np.int64)
    reference_index[nearest_first[firsts]] = nearest[nearest_first[firsts]]
    return Assignment(reference_index, cycle, np.where(reference_index >= 0, delta, np.nan))


def follow_edges(angles_deg: Floats, rising: Bools, reference: list[CamEdge], shift_deg: float) -> Assignment:
    """Like ``assign_edges``, for a cam that may move: a cycle whose edges fit nowhere is fitted on its own, and its
    edges are given their places under that cycle's own shift. ``angles_deg`` (deg), ``rising``: shape (edges,).
    """
    assigned = assign_edges(angles_deg, rising, reference, shift_deg)
    lost = assigned.reference < 0
    # Bounces and dropouts lose a few edges in any cam; a cam that moves loses whole cycles.
    if np.count_nonzero(lost) < 0.1 * lost.size:
        return assigned
    cycle = np.floor((angles_deg - angles_deg[0]) / 720.0).astype(np.int64)
    reference_index, cycles, delta = assigned.reference.copy(), assigned.cycle.copy(), assigned.delta_deg.copy()
    for number in np.unique(cycle[lost]).tolist():
        rows = np.flatnonzero(cycle == number)
        if np.mean(lost[rows]) < _MOVED_SHARE:
            continue
        fit = fit_pattern(angles_deg[rows], rising[rows], reference)
        if fit is None or fit.cost > numbers.PATTERN_MAX_COST.value:
            continue
        own = shift_deg + wrap_cycle(fit.shift_deg - shift_deg)
        moved = assign_edges(angles_deg[rows], rising[rows], reference, own)
        reference_index[rows], cycles[rows], delta[rows] = moved.reference, moved.cycle, moved.delta_deg
    return Assignment(reference_index, cycles, delta)
