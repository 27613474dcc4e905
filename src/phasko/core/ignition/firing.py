"""Where each spark stands against the crank: its angle, how often it comes per cycle, whose TDC it belongs to."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from phasko.core import numbers
from phasko.core.angles import wrap_cycle
from phasko.core.arrays import Floats
from phasko.core.crank.segments import Segment
from phasko.core.cycle.cycle_half import PieceTurn
from phasko.core.documents.engine import EngineProfile
from phasko.core.ignition.sparks import spark_times_s
from phasko.core.signals.recording import Recording
from phasko.core.uncertainty import combine_u95

__all__ = ["CoilFiring", "FiringState", "measure_firing", "turn_by_coil"]

FiringState = Literal["in", "early", "late", "unknown", "none"]


@dataclass(frozen=True, slots=True, eq=False)
class CoilFiring:
    """One coil while cranking. ``every_deg``: 720 once per cycle, 360 every turn, ``None`` without two sparks in a row.

    ``spark_deg`` after the firing TDC of ``cylinder``, the one it is said to be, in the wheel frame; ``nearest`` is the
    cylinder whose TDC it really fires at. ``cycles_without``: cycles of steady cranking in which it did not fire.
    """

    channel: str
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
    """Every coil of the capture, while cranking. ``named``: the two turns of a cycle are told apart."""
    found = []
    for channel in recording.with_role("coil"):
        times = spark_times_s(channel, recording)
        cranked = _while_cranking(times, segments)
        running = _running_angles(cranked, pieces)
        found.append(
            _firing(
                channel=channel.name,
                cylinder=channel.description.cylinder,
                running=running,
                engine=engine,
                pieces=pieces,
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
        running = _running_angles(_while_cranking(spark_times_s(channel, recording), segments), pieces)
        if cylinder not in engine.firing_tdc_deg or _every(running) != 720.0:
            continue
        after = wrap_cycle(float(_mean_angle(running)) - engine.firing_tdc_deg[cylinder])
        votes.add(0.0 if abs(after) < numbers.SPARK_OWN_DEG.value else 360.0)
    return votes.pop() if len(votes) == 1 else None


def _while_cranking(times_s: Floats, segments: Sequence[Segment]) -> Floats:
    inside = np.zeros(times_s.size, dtype=bool)
    for segment in segments:
        if segment.kind == "cranking":
            inside |= (times_s >= segment.from_s) & (times_s <= segment.to_s)
    return times_s[inside]


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
    channel: str,
    cylinder: int | None,
    running: Floats,
    engine: EngineProfile,
    pieces: Sequence[PieceTurn],
    index_known: bool,
    named: bool,
) -> CoilFiring:
    every = _every(running)
    without = _missed(running, every, pieces)
    if not running.size:
        return CoilFiring(
            channel=channel,
            cylinder=cylinder,
            nearest=None,
            every_deg=None,
            spark_deg=None,
            spark_u95_deg=None,
            spread_deg=None,
            sparks=0,
            cycles_without=without,
            state="none",
        )
    if not index_known:
        return CoilFiring(
            channel=channel,
            cylinder=cylinder,
            nearest=None,
            every_deg=every,
            spark_deg=None,
            spark_u95_deg=None,
            spread_deg=None,
            sparks=running.size,
            cycles_without=without,
            state="unknown",
        )
    period = 720.0 if named and every != 360.0 else 360.0
    own = cylinder if cylinder in engine.firing_tdc_deg else None
    nearest = _nearest(_mean_angle(running, period), engine, period)
    tdc = engine.firing_tdc_deg[own if own is not None else nearest]
    after = (running - tdc + period / 2) % period - period / 2
    after = np.unwrap(after, period=period)
    mean = float(np.median(after))
    kept = after[np.abs(after - mean) < numbers.SPARK_STRAY_DEG.value]
    mean = float(kept.mean())
    spread = float(np.std(kept, ddof=1)) if kept.size > 1 else None
    place = max((float(t.piece.place_sd_deg(t.piece.angles_deg[2:-2]).mean()) for t in pieces), default=0.1)
    scatter = [] if spread is None else [(spread / math.sqrt(kept.size), kept.size - 1.0)]
    u95 = combine_u95([*scatter, (place, math.inf), (numbers.SPARK_FLOOR_DEG.value, math.inf)])
    window = engine.ignition.cranking_spark_deg if engine.ignition is not None else None
    state: FiringState = "unknown"
    if window is not None and spread is not None:
        state = "early" if mean + u95 < window[0] else "late" if mean - u95 > window[1] else "in"
    return CoilFiring(
        channel=channel,
        cylinder=own,
        nearest=nearest,
        every_deg=every,
        spark_deg=mean,
        spark_u95_deg=u95,
        spread_deg=spread,
        sparks=running.size,
        cycles_without=without,
        state=state,
    )


def _nearest(angle_deg: float, engine: EngineProfile, period: float) -> int:
    """The cylinder whose TDC lies nearest to the angle, a little after it rather than before (sparks come early)."""
    lead = numbers.SPARK_USUAL_DEG.value
    tdcs = engine.firing_tdc_deg
    return min(tdcs, key=lambda c: abs((angle_deg - lead - tdcs[c] + period / 2) % period - period / 2))


def _missed(running: Floats, every: float | None, pieces: Sequence[PieceTurn]) -> int:
    """Cycles in which the coil should have fired and did not, the ends of the pieces left out."""
    turned = sum(float(np.ptp(t.piece.angle_deg(np.array(t.piece.usable_s)))) for t in pieces)
    expected = int(turned / (every or 720.0)) - 1
    return max(0, expected - running.size)
