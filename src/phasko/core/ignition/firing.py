"""Where each spark stands against the crank: its angle, how often it comes per cycle, whose TDC it belongs to."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from phasko.core import numbers
from phasko.core.angles import wrap_cycle
from phasko.core.arrays import Floats
from phasko.core.crank.clock import ClockPiece
from phasko.core.crank.segments import Segment, SegmentKind, measured_kinds
from phasko.core.cycle.cycle_half import PieceTurn
from phasko.core.documents.engine import EngineProfile
from phasko.core.ignition.sparks import spark_times_s
from phasko.core.signals.recording import Channel, Recording
from phasko.core.uncertainty import combine_u95

__all__ = ["CoilFiring", "FiringState", "measure_firing", "turn_by_coil"]

FiringState = Literal["in", "early", "late", "unknown", "none"]

_TOLD_BY = 2
"""So many sparks at least tell how often a coil fires."""


@dataclass(frozen=True, slots=True, eq=False)
class CoilFiring:
    """One coil, while cranking or, where it was not cranked, while running (``segment``). ``every_deg``: 720 once per
    cycle, 360 every turn, ``None`` without two sparks in a row.

    ``spark_deg`` after the firing TDC of ``cylinder``, the one it is said to be, in the wheel frame; ``nearest`` is the
    cylinder whose TDC it really fires at. ``cycles_without``: how many of the firings that belong into that time are
    not there. Only the spark of cranking has a window: the advance of a running engine is the control unit's affair.
    """

    channel: str
    segment: SegmentKind
    cylinder: int | None
    nearest: int | None
    every_deg: float | None
    spark_deg: float | None
    spark_u95_deg: float | None
    spread_deg: float | None
    sparks: int
    cycles_without: int
    state: FiringState


def measure_firing(
    recording: Recording,
    engine: EngineProfile,
    pieces: Sequence[PieceTurn],
    segments: Sequence[Segment],
    index_known: bool,
    named: bool,
) -> tuple[CoilFiring, ...]:
    """Every coil of the capture. ``named``: the two turns of a cycle are told apart."""
    found = []
    for channel in recording.with_role("coil"):
        times = spark_times_s(channel, recording)
        steady = _steady(times, segments)
        found.append(
            _firing(
                channel=channel,
                running=_running_angles(steady.inside(times), pieces),
                engine=engine,
                pieces=pieces,
                steady=steady,
                index_known=index_known,
                named=named,
            )
        )
    return tuple(found)


def turn_by_coil(
    recording: Recording, engine: EngineProfile, pieces: Sequence[PieceTurn], segments: Sequence[Segment]
) -> float | None:
    """Which turn to add (0 or 360) so that a coil with a declared cylinder fires before that cylinder's TDC; ``None``
    where no coil is proved to fire once per cycle, or two contradict each other."""
    votes = set()
    for channel in recording.with_role("coil"):
        cylinder = channel.description.cylinder
        times = spark_times_s(channel, recording)
        running = _running_angles(_steady(times, segments).inside(times), pieces)
        if cylinder not in engine.firing_tdc_deg or _every(running) != 720.0:
            continue
        after = wrap_cycle(float(_mean_angle(running)) - engine.firing_tdc_deg[cylinder])
        votes.add(0.0 if abs(after) < numbers.SPARK_OWN_DEG.value else 360.0)
    return votes.pop() if len(votes) == 1 else None


@dataclass(frozen=True, slots=True)
class _Steady:
    """The state in which a coil is judged, and its stretches (s)."""

    segment: SegmentKind
    spans_s: tuple[tuple[float, float], ...]

    def inside(self, times_s: Floats) -> Floats:
        """Only the moments in that state: (n,) of (times,), in s."""
        kept = np.zeros(times_s.size, dtype=bool)
        for from_s, to_s in self.spans_s:
            kept |= (times_s >= from_s) & (times_s <= to_s)
        return times_s[kept]

    def turned_deg(self, piece: ClockPiece) -> list[float]:
        """How far the crank turned in each stretch inside the usable part of a piece, in deg."""
        overlaps = [(max(a, piece.usable_s[0]), min(b, piece.usable_s[1])) for a, b in self.spans_s]
        return [float(np.ptp(piece.angle_deg(np.array(overlap)))) for overlap in overlaps if overlap[1] > overlap[0]]


def _steady(times_s: Floats, segments: Sequence[Segment]) -> _Steady:
    """Cranking, for which the profile has a window; running where the engine was not cranked, or started before its
    control unit had fired twice. A run-up belongs to neither: there the advance changes from spark to spark."""
    found = {
        kind: _Steady(kind, tuple((s.from_s, s.to_s) for s in segments if s.kind == kind)) for kind in measured_kinds
    }
    cranked, run = found["cranking"], found["running"]
    if run.spans_s and (not cranked.spans_s or cranked.inside(times_s).size < _TOLD_BY):
        return run
    return cranked


def _running_angles(times_s: Floats, pieces: Sequence[PieceTurn]) -> Floats:
    """Running angles of the sparks inside usable pieces, the turn added; pieces whole cycles apart."""
    found, base = [], 0.0
    for turn in pieces:
        inside = times_s[turn.piece.usable(times_s)]
        if inside.size:
            found.append(turn.piece.angle_deg(inside) + turn.turn_deg + base)
        base += 7200.0 * math.ceil((float(np.ptp(turn.piece.angles_deg)) + 1.0) / 7200.0)
    return np.concatenate(found) if found else np.zeros(0)


def _every(running: Floats) -> float | None:
    """Angle from spark to spark: 720, 360, or ``None`` where neither is the rule."""
    steps = np.diff(running)
    steps = steps[steps < 1500.0]
    if not steps.size:
        return None
    usual = float(np.median(steps))
    near, single, most = (entry.value for entry in numbers.FIRING_RULE)
    for rule in (720.0, 360.0):
        if abs(usual - rule) < near and np.mean(np.abs(steps - rule) < single) > most:
            return rule
    return None


def _mean_angle(running: Floats, turn_deg: float = 720.0) -> float:
    return float(np.median(np.unwrap(running % turn_deg, period=turn_deg))) % turn_deg


def _firing(
    channel: Channel,
    running: Floats,
    engine: EngineProfile,
    pieces: Sequence[PieceTurn],
    steady: _Steady,
    index_known: bool,
    named: bool,
) -> CoilFiring:
    cylinder = channel.description.cylinder
    every = _every(running)
    counted = CoilFiring(
        channel=channel.name,
        segment=steady.segment,
        cylinder=cylinder,
        nearest=None,
        every_deg=every,
        spark_deg=None,
        spark_u95_deg=None,
        spread_deg=None,
        sparks=running.size,
        cycles_without=_missed(running, every, pieces, steady),
        state="unknown" if running.size else "none",
    )
    if not running.size or not index_known:
        return counted
    period = 720.0 if named and every != 360.0 else 360.0
    own = cylinder if cylinder in engine.firing_tdc_deg else None
    nearest = _nearest(_mean_angle(running, period), engine, period)
    tdc = engine.firing_tdc_deg[own if own is not None else nearest]
    after = (running - tdc + period / 2) % period - period / 2
    after = np.unwrap(after, period=period)
    # The firing in the middle, not the middle between two: an even number of them may stand in two places.
    mean = float(np.quantile(after, 0.5, method="lower"))
    kept = after[np.abs(after - mean) < numbers.SPARK_STRAY_DEG.value]
    mean = float(kept.mean())
    spread = float(np.std(kept, ddof=1)) if kept.size > 1 else None
    place = max((float(t.piece.place_sd_deg(t.piece.angles_deg[2:-2]).mean()) for t in pieces), default=0.1)
    scatter = [] if spread is None else [(spread / math.sqrt(kept.size), kept.size - 1.0)]
    u95 = combine_u95([*scatter, (place, math.inf), (numbers.SPARK_FLOOR_DEG.value, math.inf)])
    window = engine.ignition.cranking_spark_deg if engine.ignition is not None else None
    state: FiringState = "unknown"
    if window is not None and spread is not None and steady.segment == "cranking":
        state = "early" if mean + u95 < window[0] else "late" if mean - u95 > window[1] else "in"
    return replace(
        counted,
        cylinder=own,
        nearest=nearest,
        spark_deg=mean,
        spark_u95_deg=u95,
        spread_deg=spread,
        state=state,
    )


def _nearest(angle_deg: float, engine: EngineProfile, period: float) -> int:
    """The cylinder whose TDC lies nearest to the angle, a little after it rather than before (sparks come early)."""
    lead = numbers.SPARK_USUAL_DEG.value
    tdcs = engine.firing_tdc_deg
    return min(tdcs, key=lambda c: abs((angle_deg - lead - tdcs[c] + period / 2) % period - period / 2))


def _missed(running: Floats, every: float | None, pieces: Sequence[PieceTurn], steady: _Steady) -> int:
    """Firings that belong into the judged state and are not there, the ends of its stretches left out."""
    turned = [deg for turn in pieces for deg in steady.turned_deg(turn.piece)]
    expected = sum(max(0, int(deg / (every or 720.0)) - 1) for deg in turned)
    return max(0, expected - running.size)
