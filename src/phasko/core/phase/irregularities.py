"""What is odd in the signals and when: lost and added pulses, dead stretches, each with time, cycle and crank angle."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.crank.clock import CrankClock
from phasko.core.cycle.cycle_half import PieceTurn
from phasko.core.cycle.cycles import Cycle
from phasko.core.documents.engine import CamEdge
from phasko.core.phase.offset import CamEdges
from phasko.core.signals.gaps import Span
from phasko.core.signals.switching import EdgeTrain

__all__ = ["SignalEvent", "cam_events", "crank_events", "locked_to_ignition", "placed", "sensed"]

EventKind = Literal["missing", "extra", "silent"]


@dataclass(frozen=True, slots=True)
class SignalEvent:
    """``count`` lost or added pulses at one moment, or a stretch without any (``silent``, from ``time_s`` to ``to_s``).

    ``signal`` is ``crank``, a cam's or a signal wheel's id. ``cycle`` is the numbered cycle it falls into,
    ``angle_deg`` the crank angle in [0, 720) in the wheel frame; both ``None`` where the clock does not reach.
    """

    signal: str
    channel: str
    kind: EventKind
    count: int
    time_s: float
    to_s: float
    cycle: int | None = None
    angle_deg: float | None = None


def crank_events(
    clock: CrankClock, span_s: tuple[float, float], channel: str, cams_s: Sequence[Floats]
) -> list[SignalEvent]:
    """Lost and added teeth in the usable part, and stretches in which the signal is gone though the engine turns.
    ``span_s``: from where to where it was recorded. ``cams_s``, each of shape (edges,) in s: edges of the cams, which
    tell whether the engine still turns where the crank signal has ended."""
    found = [
        SignalEvent("crank", channel, odd.kind, odd.count, odd.time_s, odd.time_s)
        for odd in clock.teeth.irregularities
        if clock.usable_at(odd.time_s)
    ]
    holes = [hole for piece in clock.pieces for hole in piece.holes_s]
    times = clock.teeth.times_s
    # A signal that dies or comes back makes an edge of its own there, which is no pulse added.
    near = _DYING_TEETH * float(np.median(np.diff(times))) if times.size > 1 else 0.0
    found = [
        e
        for e in found
        if not any(
            low - near * (e.kind == "extra") <= e.time_s <= high + near * (e.kind == "extra") for low, high in holes
        )
    ]
    standing = [hole for hole in holes if nearly_stands(times, *hole)]
    holes = [hole for hole in holes if hole not in standing]
    found = [e for e in found if not nearly_stands(times, e.time_s, e.time_s)]
    dead = _dead_stretches(times)
    if clock.teeth.teeth >= _TEETH_SHOW_STOPPING:
        ends = _dead_ends(times, *span_s)
        dead += [end for end in ends if not _cams_stand_too(cams_s, *end)]
    holes += [d for d in dead if not any(low < d[1] and d[0] < high for low, high in holes)]
    for low, high in holes:
        found.append(SignalEvent("crank", channel, "silent", _teeth_lost(times, low, high), low, high))
    return sorted(found, key=lambda event: event.time_s)


def nearly_stands(times_s: Floats, from_s: float, to_s: float) -> bool:
    """Whether the crank slows nearly to a stand at a place, as with a weak battery at a compression: the teeth around
    come far apart against those of the turn. What is odd there is the crank's rocking, not its sensor. ``times_s``
    of shape (edges,) in s."""
    low, high = int(np.searchsorted(times_s, from_s, "right")) - 1, int(np.searchsorted(times_s, to_s, "left"))
    around = np.diff(times_s[max(0, low - 60) : high + 61])
    if around.size < 24:
        return False
    usual = float(np.median(around))
    sides = (np.diff(times_s[max(0, low - 3) : low + 1]), np.diff(times_s[high : high + 4]))
    return any(side.size == 3 and float(np.median(side)) > _SLOWED * usual for side in sides)


_DYING_TEETH = 3.0
_TEETH_SHOW_STOPPING = 20
"""With fewer teeth than this an engine can come to a stop between two of them, and a long interval is no dropout."""

_SLOWED = 1.8
"""A compression slows cranking by a third at most. An interval longer than this many usual ones means that the crank
rocks."""


def _teeth_lost(times_s: Floats, from_s: float, to_s: float) -> int:
    """How many teeth would have come in a stretch without any, at the pace of those around it. ``times_s`` of shape
    (edges,) in s."""
    low, high = int(np.searchsorted(times_s, from_s, "right")), int(np.searchsorted(times_s, to_s, "left"))
    paces = [
        np.diff(side).mean() for side in (times_s[max(0, low - 60) : low], times_s[high : high + 60]) if side.size > 1
    ]
    return max(0, round((to_s - from_s) / float(np.mean(paces))) - 1) if paces else 0


def _dead_stretches(times_s: Floats) -> list[tuple[float, float]]:
    """Pauses at whose borders the teeth come at full speed: an engine neither stops nor starts within a tooth."""
    intervals = np.diff(times_s)
    if intervals.size < 16:
        return []
    usual = float(np.median(intervals))
    found = []
    for i in np.flatnonzero(intervals > max(0.02, 12.0 * usual)).tolist():
        if nearly_stands(times_s, float(times_s[i]), float(times_s[i + 1])):
            continue
        if _brisk(intervals[max(0, i - 6) : i], usual) and _brisk(intervals[i + 1 : i + 7], usual):
            found.append((float(times_s[i]), float(times_s[i + 1])))
    return found


def _dead_ends(times_s: Floats, start_s: float, end_s: float) -> list[tuple[float, float]]:
    """The same before the first and after the last tooth, which come at full speed."""
    intervals = np.diff(times_s)
    if intervals.size < 16:
        return []
    usual = float(np.median(intervals))
    found = []
    shortest = numbers.REST_GAP_S.value
    if end_s - times_s[-1] > shortest and _steady(intervals[-7:], usual):
        found.append((float(times_s[-1]), end_s))
    if times_s[0] - start_s > shortest and _steady(intervals[6::-1], usual):
        found.append((start_s, float(times_s[0])))
    return found


def _cams_stand_too(cams_s: Sequence[Floats], from_s: float, to_s: float) -> bool:
    """Whether cams that gave edges up to there, or from there on, give hardly any inside: the engine stands then. A
    heavy cold engine stops from full cranking speed within a tooth or two of a coarse wheel."""
    expected = seen = 0.0
    for times in cams_s:
        if times.size < 4:
            continue
        pace = (times[-1] - times[0]) / (times.size - 1)
        if np.any(np.abs(times - from_s) < 3.0 * pace) or np.any(np.abs(times - to_s) < 3.0 * pace):
            expected += (to_s - from_s) / pace
            seen += float(np.count_nonzero((times > from_s + 0.2 * pace) & (times < to_s - 0.2 * pace)))
    return expected >= _CAM_EDGES_TELL and seen < 0.3 * expected


_CAM_EDGES_TELL = 2.5


def _steady(intervals: Floats, usual: float) -> bool:
    """Whether the teeth go towards the silence at full speed, without slowing down."""
    return _brisk(intervals, usual) and float(np.median(intervals[-3:])) < 1.15 * float(np.median(intervals[:3]))


def _brisk(intervals: Floats, usual: float) -> bool:
    return intervals.size >= 4 and float(np.median(intervals)) < 1.8 * usual and float(intervals.min()) < 1.5 * usual


def cam_events(
    signal: str, train: EdgeTrain, turn: PieceTurn, edges: CamEdges, reference: Sequence[CamEdge], first_cycle: int
) -> list[SignalEvent]:
    """Lost and added pulses of a cam or further wheel within one clock piece.

    ``edges`` are that piece's, ``first_cycle`` what was added to their cycle numbers. An added pulse is two edges of
    either kind but one pulse; lost edges are counted one by one; three or more in a row with nothing between
    are one silent stretch.
    """
    piece = turn.piece
    known = edges.reference >= 0
    odd = ~known
    if not known.any():
        return [_extra(signal, train, t) for t in _pulses(edges, odd)]
    seen = edges.cycle[known] * len(reference) + edges.reference[known]
    extra_turn = float(np.median(edges.angles_deg - piece.angle_deg(edges.times_s)))
    low, high = (float(a) for a in piece.angle_deg(np.array(piece.usable_s)) + extra_turn)
    cycles = np.arange(int((low - 720.0) // 720.0), int((high + 720.0) // 720.0) + 1)[:, None]
    expected = np.array([edge.deg for edge in reference]) + 720.0 * cycles
    place = turn.places.get(signal)
    if place is not None and place.moves:
        # Where the cam moves each edge is expected where its neighbours in time stood.
        nominal = edges.angles_deg[known] - edges.delta_deg[known]
        order = np.argsort(nominal)
        expected = expected + np.interp(expected, nominal[order], edges.delta_deg[known][order])
    else:
        expected = expected + float(np.median(edges.delta_deg[known]))
    known_as = (cycles + first_cycle) * len(reference) + np.arange(len(reference))
    kinds = np.broadcast_to(np.array([edge.kind == "rising" for edge in reference]), expected.shape)
    absent = ~np.isin(known_as, seen)
    order = np.argsort(expected[absent])
    lost, rising = expected[absent][order], kinds[absent][order]
    margin = 2.0 * numbers.PATTERN_WINDOW_DEG.value
    inside = (lost > low + margin) & (lost < high - margin)
    times = piece.time_s(np.asarray(lost[inside] - extra_turn, dtype=np.float64))
    usable = piece.usable(times)
    gone = _Edges(times[usable], lost[inside][usable], rising[inside][usable])
    events = _lost(signal, train, gone.times_s)
    silent = [event for event in events if event.kind == "silent"]
    odd &= ~_at_silence(edges.times_s, silent)
    single = ~_at_silence(gone.times_s, silent)
    moved, moved_from, displaced = _moved(edges, odd, gone, single)
    kept = [event for event in events if event.kind == "silent"]
    kept += [_missing(signal, train, t) for t in gone.times_s[single & ~moved_from]]
    kept += [_extra(signal, train, t) for t in _pulses(edges, odd & ~moved & ~displaced)]
    return sorted(kept, key=lambda event: event.time_s)


@dataclass(frozen=True, slots=True, eq=False)
class _Edges:
    """Edges that should have come: when (s), where (running crank degrees), and of which kind; each of shape (n,)."""

    times_s: Floats
    angles_deg: Floats
    rising: NDArray[np.bool_]


def _extra(signal: str, train: EdgeTrain, time_s: float) -> SignalEvent:
    return SignalEvent(signal, train.channel, "extra", 1, float(time_s), float(time_s))


def _missing(signal: str, train: EdgeTrain, time_s: float) -> SignalEvent:
    return SignalEvent(signal, train.channel, "missing", 1, float(time_s), float(time_s))


def _at_silence(times_s: Floats, silent: Sequence[SignalEvent]) -> NDArray[np.bool_]:
    """Which of the times lie in a silent stretch or at its ends: the edge with which a signal dies is no pulse."""
    found = np.zeros(times_s.size, dtype=bool)
    for event in silent:
        found |= (times_s >= event.time_s - 1e-6) & (times_s <= event.to_s + 1e-6)
    return found


_MOVED_MOST_DEG = 100.0
_MOVED_ALIKE_DEG = 20.0
_MOVED_LEAST = 2
_MOVING = 4
_MOVING_S = 0.3


def _moved(
    edges: CamEdges, odd: NDArray[np.bool_], gone: _Edges, single: NDArray[np.bool_]
) -> tuple[NDArray[np.bool_], NDArray[np.bool_], NDArray[np.bool_]]:
    """(odd edges that are lost ones elsewhere, lost edges that were found there, odd edges that stand for one lost edge
    each). A cam that its phaser moves, or that jumps, loses and gains no pulse: its edges come one for one, of the same
    kind, and displaced alike. A single edge that came elsewhere is a lost one all the same, and no pulse was added."""
    moved, moved_from = np.zeros(odd.size, dtype=bool), np.zeros(gone.times_s.size, dtype=bool)
    displaced = np.zeros(odd.size, dtype=bool)
    pairs: list[tuple[int, int, float]] = []
    free = set(np.flatnonzero(single).tolist())
    for i in np.flatnonzero(odd).tolist():
        able = [j for j in free if gone.rising[j] == edges.rising[i]]
        nearest = min(able, key=lambda j: abs(gone.angles_deg[j] - edges.angles_deg[i]), default=None)
        if nearest is None:
            continue
        by = float(edges.angles_deg[i] - gone.angles_deg[nearest])
        if abs(by) <= _MOVED_MOST_DEG:
            pairs.append((i, nearest, by))
            free.discard(nearest)
    for at, (i, j, by) in enumerate(pairs):
        around = [p for p in pairs[max(0, at - 2) : at + 3] if p[0] != i]
        alike = [p for p in around if abs(p[2] - by) <= _MOVED_ALIKE_DEG]
        if len(alike) >= min(_MOVED_LEAST, len(around)) and alike:
            moved[i] = moved_from[j] = True
        else:
            displaced[i] = True
    return moved, moved_from | _passed_over(gone.times_s, moved_from, single), displaced


def _passed_over(times_s: Floats, moved_from: NDArray[np.bool_], single: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Lost edges amid those of a cam that moves, where they are few: between two cycles it may skip one place."""
    left = single & ~moved_from
    if moved_from.sum() < _MOVING or left.sum() > 1 + moved_from.sum() // 10:
        return np.zeros(times_s.size, dtype=bool)
    low, high = times_s[moved_from].min(), times_s[moved_from].max()
    return np.asarray(left & (times_s >= low - _MOVING_S) & (times_s <= high + _MOVING_S))


def _pulses(edges: CamEdges, chosen: NDArray[np.bool_]) -> Floats:
    """Times of the chosen edges, of two that follow each other within a cycle's hundredth only the first."""
    times = edges.times_s[chosen]
    if times.size < 2:
        return times
    kept, last = [float(times[0])], float(times[0])
    rising = edges.rising[chosen]
    pending = True
    for t, before, now in zip(times[1:].tolist(), rising[:-1].tolist(), rising[1:].tolist(), strict=True):
        if pending and before != now and t - last < 0.02:
            pending = False
        else:
            kept.append(t)
            pending = True
        last = t
    return np.array(kept)


def _lost(signal: str, train: EdgeTrain, times: Floats) -> list[SignalEvent]:
    """Lost edges as events; those between which the train has no edge at all are one silent stretch."""
    found: list[SignalEvent] = []
    place = np.searchsorted(train.times_s, times)
    for gap in np.unique(place).tolist():
        group = times[place == gap]
        if group.size >= 3:
            low = float(train.times_s[gap - 1]) if gap else float(group[0])
            high = float(train.times_s[gap]) if gap < train.times_s.size else float(group[-1])
            found.append(SignalEvent(signal, train.channel, "silent", int(group.size), low, high))
        else:
            found += [SignalEvent(signal, train.channel, "missing", 1, float(t), float(t)) for t in group]
    return found


def placed(
    events: Sequence[SignalEvent], pieces: Sequence[PieceTurn], cycles: Sequence[Cycle]
) -> tuple[SignalEvent, ...]:
    """The same events with their cycle and crank angle, in order of time."""
    found = []
    for event in events:
        cycle = next((c.number for c in cycles if c.from_s <= event.time_s < c.to_s), None)
        angle = None
        for turn in pieces:
            if turn.piece.times_s[0] <= event.time_s <= turn.piece.times_s[-1]:
                at = turn.piece.angle_deg(np.array([event.time_s]))[0] + turn.turn_deg
                angle = float(at % 720.0)
        found.append(replace(event, cycle=cycle, angle_deg=angle))
    return tuple(sorted(found, key=lambda event: event.time_s))


def sensed(
    events: Sequence[SignalEvent], unrecorded: Mapping[str, Sequence[Span]], around_s: float
) -> list[SignalEvent]:
    """Only what the sensors did: without what lies where the file has no samples of that channel, or within
    ``around_s`` of it, where edges are cut. A silent stretch is kept unless most of it was not recorded."""

    def lost(event: SignalEvent) -> bool:
        spans = unrecorded.get(event.channel, ())
        if event.kind != "silent":
            return any(low - around_s <= event.time_s <= high + around_s for low, high in spans)
        covered = sum(max(0.0, min(event.to_s, high) - max(event.time_s, low)) for low, high in spans)
        return covered > 0.5 * (event.to_s - event.time_s)

    return [event for event in events if not lost(event)]


def locked_to_ignition(events: Sequence[SignalEvent], firing_deg: float) -> float | None:
    """The crank angle after TDC (deg) at which added pulses keep coming, or ``None`` where they come anywhere.

    Rayleigh test of the angles modulo the firing interval: z = n R^2 over 6.9 is exceeded once in a thousand by pulses
    at random (Mardia and Jupp, Directional Statistics, 2000, section 6.3.1).
    """
    angles = np.array([e.angle_deg for e in events if e.kind == "extra" and e.angle_deg is not None])
    if angles.size < 5:
        return None
    mean = np.exp(1j * angles * 2.0 * np.pi / firing_deg).mean()
    if angles.size * abs(mean) ** 2 < numbers.IGNITION_LOCKED[0].value or abs(mean) < numbers.IGNITION_LOCKED[1].value:
        return None
    place = float(np.angle(mean)) * firing_deg / (2.0 * np.pi)
    return place - firing_deg if place > firing_deg / 2 else place
