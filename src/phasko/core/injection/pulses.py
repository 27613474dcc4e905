"""The pulses of an injector's switched wire: pulled to ground while it injects, at the battery's voltage else."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.cycle.cycle_half import PieceTurn
from phasko.core.documents.engine import EngineProfile
from phasko.core.signals.recording import Channel, Recording
from phasko.core.uncertainty import combine_u95

__all__ = ["Injection", "measure_injection"]


@dataclass(frozen=True, slots=True)
class Injection:
    """One injector. ``width_ms`` of its pulses, mean with half width; ``start_deg`` after its cylinder's firing TDC
    (negative: before it; ``None`` where the turn or the cylinder is not known); ``per_cycle``: pulses in a cycle, and
    ``cycles`` how many the engine turned. ``withheld``: it turned and none came."""

    channel: str
    cylinder: int | None
    width_ms: float | None
    width_u95_ms: float | None
    start_deg: float | None
    start_u95_deg: float | None
    per_cycle: float | None
    pulses: int
    cycles: float
    withheld: bool


def measure_injection(
    recording: Recording, engine: EngineProfile, pieces: Sequence[PieceTurn], index_known: bool, named: bool
) -> tuple[Injection, ...]:
    """Every injector of the capture. ``named``: the two turns of a cycle are told apart."""
    return tuple(
        _injection(channel, recording, engine, pieces, index_known and named)
        for channel in recording.with_role("injector")
    )


def _injection(
    channel: Channel, recording: Recording, engine: EngineProfile, pieces: Sequence[PieceTurn], placed: bool
) -> Injection:
    starts, widths = _pulses(channel, recording)
    cycles = math.fsum(float(np.ptp(turn.piece.angles_deg)) for turn in pieces) / 720.0
    inside = np.zeros(starts.size, dtype=bool)
    for turn in pieces:
        inside |= (starts >= turn.piece.times_s[0]) & (starts <= turn.piece.times_s[-1])
    width = widths[inside] if pieces else widths
    cylinder = channel.description.cylinder
    own = cylinder if cylinder in engine.firing_tdc_deg else None
    angles = _angles(starts, pieces, engine.firing_tdc_deg[own]) if placed and own is not None else np.zeros(0)
    sampling_ms = 1000.0 * recording.interval_s / math.sqrt(6.0)
    return Injection(
        channel=channel.name,
        cylinder=cylinder,
        width_ms=1000.0 * float(np.mean(width)) if width.size else None,
        width_u95_ms=_u95(1000.0 * width, sampling_ms) if width.size else None,
        start_deg=float(np.mean(angles)) if angles.size else None,
        start_u95_deg=_u95(angles, 0.05) if angles.size else None,
        per_cycle=float(np.count_nonzero(inside)) / cycles if cycles >= 1.0 else None,
        pulses=int(width.size),
        cycles=cycles,
        withheld=cycles >= numbers.INJECTION_WITHHELD_CYCLES.value and not width.size,
    )


def _pulses(channel: Channel, recording: Recording) -> tuple[Floats, Floats]:
    """(starts, widths) in s, each (pulses,). The kick at the end is far above the battery and ends a pulse as well."""
    samples = np.nan_to_num(channel.samples, nan=0.0)
    battery = float(np.percentile(samples, 75.0))
    if battery < numbers.INJECTION_BATTERY_V.value:
        return np.zeros(0), np.zeros(0)
    low = samples < 0.5 * battery
    falls = np.flatnonzero(low[1:] & ~low[:-1]) + 1
    rises = np.flatnonzero(~low[1:] & low[:-1]) + 1
    if not falls.size or not rises.size:
        return np.zeros(0), np.zeros(0)
    ends = np.searchsorted(rises, falls, side="right")
    whole = ends < rises.size
    starts, stops = falls[whole], rises[ends[whole]]
    widths = (stops - starts) * recording.interval_s
    shortest, longest = (entry.value for entry in numbers.INJECTION_WIDTH_S)
    kept = (widths >= shortest) & (widths <= longest)
    return np.asarray(recording.start_s + starts[kept] * recording.interval_s), np.asarray(widths[kept])


def _angles(starts_s: Floats, pieces: Sequence[PieceTurn], tdc_deg: float) -> Floats:
    """Where each pulse begins after the firing TDC, deg in (-720, 0]: it belongs to the firing that follows."""
    found = []
    for turn in pieces:
        inside = starts_s[turn.piece.usable(starts_s)]
        if inside.size:
            running = turn.piece.angle_deg(inside) + turn.turn_deg
            found.append(-((tdc_deg - running) % 720.0))
    angles = np.concatenate(found) if found else np.zeros(0)
    return np.asarray(np.unwrap(angles, period=720.0)) if angles.size else angles


def _u95(values: Floats, floor_sd: float) -> float:
    scatter = [] if values.size < 2 else [(float(np.std(values, ddof=1)) / math.sqrt(values.size), values.size - 1.0)]
    return combine_u95([*scatter, (floor_sd, math.inf)])
