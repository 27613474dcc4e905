"""How late each cam signal is against its reference: the measurement this product is about."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.angles import wrap
from phasko.core.arrays import Bools, Floats, Ints
from phasko.core.crank.clock import ClockPiece
from phasko.core.cycle.cycle_half import CamPlace
from phasko.core.cycle.moving_cam import track_edges
from phasko.core.cycle.pattern import follow_edges
from phasko.core.documents.cam_results import CamState
from phasko.core.documents.engine import Cam
from phasko.core.phase.offset_statistics import CycleStatistics, offset_of_cycles
from phasko.core.signals.switching import EdgeTrain
from phasko.core.uncertainty import NORMAL_95, Measurement, combine_u95, robust_sd

__all__ = ["CamEdges", "CamOffset", "OffsetStep", "cam_edges_in_piece", "cam_offset", "side_of"]


_MISSED_SHOWS = 0.05
"""The edges of a cam test the wheel's errors only where these differ between the edges. If less than this part of the
errors differs, the test says nothing."""
_BIRGE_EDGES = 3


@dataclass(frozen=True, slots=True, eq=False)
class CamEdges:
    """Edges of one cam on the crank clock, turn resolved, each with its place in the reference.

    ``angles_deg`` runs on over the cycles; ``reference`` is -1 for an edge that belongs to none; ``cycle`` counts
    from the start of the capture; ``teeth_sd_deg`` is the clock's repeating error there, ``missed_deg`` what a coarse
    wheel misses (edges x independent parts), ``common_sd_deg`` what all edges share: their own
    middle and that of the clock's teeth.
    """

    times_s: Floats
    angles_deg: Floats
    rising: Bools
    reference: Ints
    cycle: Ints
    delta_deg: Floats
    teeth_sd_deg: Floats
    missed_deg: Floats
    common_sd_deg: Floats
    step_deg: Floats

    @staticmethod
    def joined(parts: list[CamEdges]) -> CamEdges:
        """Edges of several pieces as one."""
        return CamEdges(*(np.concatenate([getattr(part, name) for part in parts]) for name in CamEdges.__slots__))

    def within(self, spans: list[tuple[float, float]]) -> CamEdges:
        """Only the edges inside any of the time spans."""
        keep = np.zeros(self.times_s.size, dtype=bool)
        for from_s, to_s in spans:
            keep |= (self.times_s >= from_s) & (self.times_s <= to_s)
        return CamEdges(*(getattr(self, name)[keep] for name in CamEdges.__slots__))


@dataclass(frozen=True, slots=True)
class OffsetStep:
    """A change of the offset inside one segment: means before and after it, in deg, and when it happened."""

    time_s: float
    before_deg: float
    after_deg: float


@dataclass(frozen=True, slots=True, eq=False)
class CamOffset:
    """Offset of one cam in one segment. ``misfit_deg`` is how far its edges disagree about the offset (rms)."""

    offset: Measurement
    total_u95_deg: float
    statistics: CycleStatistics
    cycle_times_s: Floats
    spread_deg: float
    trend_deg_per_s: float | None
    misfit_deg: float
    state: CamState
    outliers: int
    step: OffsetStep | None


def cam_edges_in_piece(train: EdgeTrain, piece: ClockPiece, cam: Cam, place: CamPlace, first_cycle: int) -> CamEdges:
    """Edges of a cam inside the usable part of one clock piece; ``place`` resolves the turn and says where it is."""
    inside = piece.usable(train.times_s)
    times, rising = train.times_s[inside], train.rising[inside]
    raw = piece.angle_deg(times)
    angles = raw + place.turn_deg
    if place.moves:
        assigned = track_edges(times, angles, rising, cam.edges, place.shift_deg)
    else:
        assigned = follow_edges(angles, rising, cam.edges, place.shift_deg)
    step = piece.speed_rpm(times) * 6.0 * train.interval_s
    return CamEdges(
        times_s=times,
        angles_deg=angles,
        rising=rising,
        reference=assigned.reference,
        cycle=assigned.cycle + first_cycle,
        delta_deg=assigned.delta_deg,
        teeth_sd_deg=piece.teeth_sd_deg(raw),
        missed_deg=piece.missed_deg(angles),
        common_sd_deg=np.hypot(piece.common_sd_deg, piece.speed_rpm(times) * 6.0 * train.alike_s),
        step_deg=step,
    )


def cam_offset(edges: CamEdges, cam: Cam, reference_u95_deg: float) -> CamOffset | None:
    """The offset of all accepted edges, with everything that makes it uncertain; ``None`` without edges.

    Random errors come from the scatter over cycles, the clock's repeating error from the teeth near each edge
    (edges at the same place of the turn share it), and a small part of a sample that all edges of a channel share.
    """
    known = edges.reference >= 0
    accepted = known & _unsuspicious(edges, known, len(cam.edges))
    if not accepted.any():
        return None
    reference = edges.reference[accepted]
    floor = numbers.EDGE_FLOOR_SAMPLES.value * float(np.median(edges.step_deg[accepted]))
    stats = offset_of_cycles(
        edges.delta_deg[accepted], reference, edges.cycle[accepted], edges.times_s[accepted], len(cam.edges), floor
    )
    clock_sd = _clock_sd(edges, accepted, cam, stats.edge_means)
    # Both signals' edges are shifted alike by their sampling, hence the root of two.
    alike_sd = math.sqrt(2.0) * numbers.EDGE_ALIKE_SAMPLES.value * float(np.median(edges.step_deg[accepted]))
    alike_sd = math.hypot(alike_sd, float(edges.common_sd_deg[accepted].mean()))
    u95 = combine_u95([(stats.random_sd, stats.random_dof), (clock_sd, math.inf), (alike_sd, math.inf)])
    place = np.searchsorted(stats.cycle_numbers, edges.cycle[accepted])
    times = np.bincount(place, edges.times_s[accepted]) / np.bincount(place)
    spread = float(np.std(stats.cycle_values, ddof=1)) if stats.cycle_values.size > 1 else 0.0
    trend = _trend(times, stats.cycle_values)
    total = math.hypot(u95, reference_u95_deg)
    means = stats.edge_means[np.isfinite(stats.edge_means)]
    return CamOffset(
        offset=Measurement(stats.mean, u95, "deg", "mean over edges and cycles", stats.cycle_numbers.size),
        total_u95_deg=total,
        statistics=stats,
        cycle_times_s=times,
        spread_deg=spread,
        trend_deg_per_s=trend,
        misfit_deg=float(np.sqrt(np.mean((means - means.mean()) ** 2))),
        state=_state(stats, times, spread, trend, cam.tolerance_deg),
        outliers=int(np.count_nonzero(known & ~accepted)),
        step=_step(stats.cycle_values, edges.times_s[accepted], edges.delta_deg[accepted]),
    )


def _unsuspicious(edges: CamEdges, known: Bools, edge_count: int) -> Bools:
    """Leaves out single edges far from what the same edge does in other cycles (five robust deviations and 1 deg)."""
    good = known.copy()
    for k in range(edge_count):
        rows = np.flatnonzero(known & (edges.reference == k))
        # With fewer cycles the median is itself pulled by the edge that is to be judged.
        if rows.size < 4:
            continue
        off = np.abs(edges.delta_deg[rows] - np.median(edges.delta_deg[rows]))
        limit = max(1.0, 5.0 * robust_sd(edges.delta_deg[rows]))
        good[rows[off > limit]] = False
    # Where more than a fifth would go the cam itself moves, and what looks odd is the measurement.
    return good if np.count_nonzero(good) > 0.8 * np.count_nonzero(known) else known


def _clock_sd(edges: CamEdges, accepted: Bools, cam: Cam, means_deg: Floats) -> float:
    """Standard error of the mean over edges from the clock; edges within 2 degrees of a turn's place share its
    teeth, and all edges the ripple that a coarse wheel misses."""
    places: list[tuple[float, float]] = []
    missed: list[Floats] = []
    for k in range(len(cam.edges)):
        rows = np.flatnonzero(accepted & (edges.reference == k))
        if rows.size:
            places.append((float(np.median(edges.angles_deg[rows] % 360.0)), float(edges.teeth_sd_deg[rows].mean())))
            missed.append(edges.missed_deg[rows].mean(axis=0))
    total = 0.0
    for at, sd in places:
        for other, other_sd in places:
            # Errors of the same teeth add up; those of other teeth average out.
            if abs(wrap(at - other, 360.0)) < 2.0:
                total += sd * other_sd
    if not places:
        return 0.0
    teeth_sd = math.sqrt(total) / len(places)
    edges_u95 = numbers.DEFAULT_REFERENCE_U95_DEG.value if cam.edges_u95_deg is None else cam.edges_u95_deg
    apart = np.array([sd for _, sd in places]) ** 2 + (edges_u95 / NORMAL_95) ** 2
    return math.hypot(teeth_sd, _missed_sd(np.array(missed), means_deg[np.isfinite(means_deg)], apart))


def _missed_sd(missed_deg: Floats, means_deg: Floats, apart_deg2: Floats) -> float:
    """Standard error of the mean over edges from what a coarse wheel misses (edges x independent parts).

    The edges try that out: where their means disagree by more than was said (and by more than ``apart_deg2``, each
    edge's own), the ripple is larger than the teeth could show, and all of it is taken as many times larger (Birge,
    Phys. Rev. 40, 1932, 207; from memory).
    """
    common = float(np.linalg.norm(missed_deg.mean(axis=0)))
    expected = float(np.sum((missed_deg - missed_deg.mean(axis=0)) ** 2))
    if expected <= _MISSED_SHOWS * float(np.sum(missed_deg**2)) or means_deg.size < _BIRGE_EDGES:
        return common
    left = float(np.sum((means_deg - means_deg.mean()) ** 2 - apart_deg2))
    return common * math.sqrt(max(1.0, left / expected))


def _trend(times_s: Floats, values: Floats) -> float | None:
    if values.size < 3:
        return None
    centred = times_s - times_s.mean()
    return float(centred @ values / (centred @ centred))


def _step(values: Floats, times_s: Floats, deltas_deg: Floats) -> OffsetStep | None:
    """The place that divides the cycles best into two levels (least squares), if these differ by more than
    ``UNSTEADY_CHANGE_DEG``; two cycles on either side at least. Single edges then date it, halfway between the levels,
    and their means on either side are the levels, since the cycle in which it happens belongs to neither.
    """
    if values.size < 4:
        return None
    before_mean, after_mean = _means_either_side(values)
    counts = np.arange(1, values.size)
    # The sum of squares between the two sides, but for a constant factor: its largest is the least squares division.
    between = counts * (values.size - counts) * (before_mean - after_mean) ** 2
    # One cycle alone is an outlier, no level: two on either side at least.
    i = 2 + int(np.argmax(between[1:-1]))
    before, after = float(before_mean[i - 1]), float(after_mean[i - 1])
    if abs(after - before) <= numbers.UNSTEADY_CHANGE_DEG.value:
        return None
    order = np.argsort(times_s)
    ordered = deltas_deg[order]
    beyond = (ordered - 0.5 * (before + after)) * (after - before) > 0
    wrong = np.cumsum(np.concatenate([[0], beyond])) + np.cumsum(np.concatenate([[0], ~beyond[::-1]]))[::-1]
    at = min(max(int(np.argmin(wrong)), 1), order.size - 1)
    when = float(0.5 * (times_s[order[at - 1]] + times_s[order[at]]))
    return OffsetStep(when, float(ordered[:at].mean()), float(ordered[at:].mean()))


def _means_either_side(values: Floats) -> tuple[Floats, Floats]:
    """Means of the first i values and of the rest, for i from 1 to one less than all."""
    counts = np.arange(1, values.size)
    sums = np.cumsum(values)
    return sums[:-1] / counts, (sums[-1] - sums[:-1]) / (values.size - counts)


def _state(stats: CycleStatistics, times_s: Floats, spread: float, trend: float | None, tolerance: float) -> CamState:
    moved = abs(trend) * float(np.ptp(times_s)) if trend is not None else 0.0
    values = stats.cycle_values
    if values.size >= 6:
        before, after = _means_either_side(values)
        # A slope that stays within the cycles' own scatter is no movement; a step may hide in it.
        moved = max(moved if moved > 2 * spread else 0.0, float(np.abs(before - after)[2:-2].max()))
    if spread > numbers.UNSTEADY_SPREAD_DEG.value or moved > numbers.UNSTEADY_CHANGE_DEG.value:
        return "unsteady"
    return side_of(stats.mean, tolerance)


def side_of(offset_deg: float, tolerance_deg: float) -> CamState:
    """``late`` or ``early`` beyond the tolerance, else ``in``."""
    if offset_deg > tolerance_deg:
        return "late"
    return "early" if offset_deg < -tolerance_deg else "in"
