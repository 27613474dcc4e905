"""Relative compression of one capture: every source alone, then together, with names where 720 degrees are known."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.compression.separation import Coupling, Separation, healthy_pressure, separate
from phasko.core.crank.clock import CrankClock
from phasko.core.crank.segments import Segment
from phasko.core.cycle.angle_grid import STEPS, CrankingCycles, chosen_span, cranking_cycles
from phasko.core.cycle.cycle_half import PieceTurn
from phasko.core.cycle.cycles import Cycle
from phasko.core.documents.engine import EngineProfile
from phasko.core.signals.recording import Channel, Recording
from phasko.core.uncertainty import combine_u95

__all__ = [
    "Compression",
    "CompressionSource",
    "CompressionState",
    "CylinderCompression",
    "OverallCompression",
    "SourceCompression",
    "best_explained",
    "joined",
    "measure_compression",
    "starter_sources",
]

CompressionSource = Literal["starter_current", "battery_voltage", "crank_speed"]
CompressionState = Literal["good", "weak", "dead", "unknown"]


@dataclass(frozen=True, slots=True)
class CylinderCompression:
    """Peak pressure of a cylinder over the median of the healthy ones, its 95 % half width, and what that means."""

    cylinder: int
    relative: float | None
    u95: float | None
    state: CompressionState


@dataclass(frozen=True, slots=True, eq=False)
class SourceCompression:
    """What one source alone says, from these ``cycles``; ``signal`` is its mean settled cycle, ``events`` the cylinders
    seen to press, ``usual`` the swing of its healthy ones in the signal's own measure."""

    source: CompressionSource
    channel: str
    separation: Separation
    relative: Floats
    u95: Floats
    events: int
    signal: Floats
    unit: str
    cycles: tuple[Cycle, ...]
    usual: float


@dataclass(frozen=True, slots=True)
class OverallCompression:
    """All cylinders together over ``references`` known good captures, with its 95 % half width, by one source."""

    relative: float
    u95: float
    references: int
    source: str


@dataclass(frozen=True, slots=True, eq=False)
class Compression:
    """All sources and their joint answer. ``identified_by``: ``cam``, ``coil``, ``cylinder_pressure``, or ``firing``
    where the humps themselves fit in one turn only (an odd number of cylinders, uneven firing); ``None`` where nothing
    tells the two turns of a cycle apart: cylinders then have no names, and the pressures are only counted.
    ``events_per_cycle`` is ``None`` where not even the length of a cycle is known; so is ``sound``, how many cylinders
    are neither weak nor dead. ``disagree``: sources that differ by more than they may."""

    source: CompressionSource
    events_per_cycle: int | None
    expected_events: int
    identified_by: str | None
    cylinders: tuple[CylinderCompression, ...]
    sources: tuple[SourceCompression, ...]
    cycles: CrankingCycles
    disagree: bool
    sound: int | None = None
    overall: OverallCompression | None = None

    @property
    def dead(self) -> tuple[int, ...]:
        return tuple(c.cylinder for c in self.cylinders if c.state == "dead")

    @property
    def weak(self) -> tuple[int, ...]:
        return tuple(c.cylinder for c in self.cylinders if c.state == "weak")


def measure_compression(
    recording: Recording,
    engine: EngineProfile,
    clock: CrankClock,
    pieces: Sequence[PieceTurn],
    cycles: Sequence[Cycle],
    segments: Sequence[Segment],
) -> Compression | None:
    """Relative compression while cranking; ``None`` without settled cranking cycles, without the wheel's index, or
    where no source carries it."""
    settled = cranking_cycles(pieces, cycles, segments, chosen_span(recording)) if clock.index_known else None
    if settled is None:
        return None
    identified_by: str | None = pieces[0].source if all(turn.source is not None for turn in pieces) else None
    sources = _sources(recording, settled, engine)
    if identified_by is None:
        # With even firing of an even number both turns fit alike; an odd number or uneven firing fits in one only.
        other = _sources(recording, settled.turned(STEPS // 2), engine)
        first, second = best_explained(sources), best_explained(other)
        if (
            max(first, second) > numbers.COMPRESSION_TURN_LEAST.value
            and abs(first - second) > numbers.COMPRESSION_TURN_TOLD.value
        ):
            identified_by = "firing"
            if second > first:
                sources, settled = other, settled.turned(STEPS // 2)
    return joined(sources, settled, engine, identified_by)


def joined(
    sources: Sequence[SourceCompression], settled: CrankingCycles, engine: EngineProfile, identified_by: str | None
) -> Compression | None:
    """The joint answer of sources that were read from the same cycles; ``None`` without any."""
    if not sources:
        return None
    relative, u95, disagree = _together(sources, engine)
    cylinders = tuple(
        CylinderCompression(c, None, None, "unknown")
        if identified_by is None
        else CylinderCompression(c, float(r), float(u), _state(float(r), float(u)))
        for c, r, u in zip(sorted(engine.firing_tdc_deg), relative, u95, strict=True)
    )
    return Compression(
        source=sources[0].source,
        events_per_cycle=int(np.count_nonzero(relative >= numbers.COMPRESSION_DEAD_BELOW.value)),
        expected_events=engine.cylinders,
        identified_by=identified_by,
        cylinders=cylinders,
        sources=tuple(sources),
        cycles=settled,
        disagree=disagree,
        sound=int(np.count_nonzero(relative >= numbers.COMPRESSION_WEAK_BELOW.value)),
    )


def _sources(recording: Recording, settled: CrankingCycles, engine: EngineProfile) -> list[SourceCompression]:
    """Every source that carries humps, the starter's first."""
    found = starter_sources(recording, settled, engine)
    if _fine_enough(engine):
        speed = _read(
            name="crank_speed",
            channel="",
            signal=settled.speed_rad_s,
            coupling="speed",
            settled=settled,
            engine=engine,
            unit="rad/s",
        )
        found += [] if speed is None else [speed]
    return found


def starter_sources(recording: Recording, settled: CrankingCycles, engine: EngineProfile) -> list[SourceCompression]:
    """What the starter's current and the battery's voltage show of the cylinders in these cycles."""
    found = [_source(name, channel, recording, settled, engine) for name, channel in _channels(recording)]
    return [s for s in found if s is not None]


def best_explained(sources: Sequence[SourceCompression]) -> float:
    """How well the best source is explained; an uneven or odd firing order fits in one of the two turns only."""
    return max((s.separation.explained for s in sources), default=0.0)


def _channels(recording: Recording) -> list[tuple[CompressionSource, Channel]]:
    found: list[tuple[CompressionSource, Channel]] = []
    found += [("starter_current", channel) for channel in recording.with_role("starter_current")]
    found += [("battery_voltage", channel) for channel in recording.with_role("battery_voltage")]
    return found


def _fine_enough(engine: EngineProfile) -> bool:
    """Whether the wheel has the teeth to see every hump from all sides."""
    return len(engine.crank.known_wheel.angles_deg) * 2 >= numbers.COMPRESSION_TEETH_PER_HUMP.value * engine.cylinders


def _source(
    name: CompressionSource, channel: Channel, recording: Recording, settled: CrankingCycles, engine: EngineProfile
) -> SourceCompression | None:
    signal = settled.signal(channel.samples, recording.start_s, recording.interval_s)
    whole = np.asarray(np.isfinite(signal).all(axis=1), dtype=np.bool_)
    if np.count_nonzero(whole) < numbers.COMPRESSION_CYCLES_LEAST.value:
        return None
    coupling: Coupling = "ac" if channel.description.coupling == "ac" else "dc"
    return _read(
        name=name,
        channel=channel.name,
        signal=signal[whole],
        coupling=coupling,
        settled=settled.only(whole),
        engine=engine,
        unit=channel.unit,
    )


def _read(
    name: CompressionSource,
    channel: str,
    signal: Floats,
    coupling: Coupling,
    settled: CrankingCycles,
    engine: EngineProfile,
    unit: str,
) -> SourceCompression | None:
    parted = separate(signal, settled.speed_rad_s, coupling, engine)
    if parted is None or parted.explained < numbers.COMPRESSION_EXPLAINED_LEAST.value:
        return None
    # In parts of the healthy cylinders: the unit of a current or a speed says nothing about a pressure.
    usual = healthy_pressure(parted.pressures)
    if usual <= 0:
        return None
    relative = parted.pressures / usual
    u95 = np.hypot(_u95(relative, parted.errors / usual, parted.dof, name, engine), settled.pace_u95)
    events = int(np.count_nonzero(relative >= numbers.COMPRESSION_DEAD_BELOW.value))
    return SourceCompression(
        source=name,
        channel=channel,
        separation=parted,
        relative=relative,
        u95=u95,
        events=events,
        signal=signal.mean(axis=0),
        unit=unit,
        cycles=settled.cycles,
        usual=usual,
    )


def _u95(relative: Floats, errors: Floats, dof: int, name: CompressionSource, engine: EngineProfile) -> Floats:
    """Scatter over cycles, and what the model of a hump may be off by: more with more neighbours, more for a cylinder
    that differs (leak and low compression bend the hump differently) and for the one that fires after it."""
    table = numbers.COMPRESSION_SPEED_U95 if name == "crank_speed" else numbers.COMPRESSION_STARTER_U95
    size = (engine.cylinders > 4) + (engine.cylinders > 6)
    base = table[size].value
    if name != "crank_speed" and not engine.fires_evenly:
        base = float(np.hypot(base, numbers.COMPRESSION_UNEVEN_U95.value))
    lack = np.clip(1.0 - relative, 0.0, 1.0)
    order = sorted(engine.firing_tdc_deg)
    before = {c: engine.firing_order[i - 1] for i, c in enumerate(engine.firing_order)}
    lack_before = np.array([lack[order.index(before[c])] for c in order])
    # Zero for a sound and for a dead cylinder, whose humps are known; largest halfway, where leak and loss differ most.
    bent = numbers.COMPRESSION_BENT_U95.value * 4.0 * lack * (1.0 - lack)
    beside = numbers.COMPRESSION_BESIDE_U95[size].value * lack_before * (0.0 if name == "crank_speed" else 1.0)
    # No cylinder compresses much more than the healthy ones, or less than nothing: what is seen beyond that is error.
    beyond = np.maximum(relative - numbers.COMPRESSION_MOST.value, 0.0) + np.maximum(-relative, 0.0)
    model = np.sqrt(base**2 + bent**2 + beside**2 + beyond**2)
    scatter = np.array([combine_u95([(float(e), float(dof))]) for e in errors])
    return np.asarray(np.hypot(model, scatter))


def _together(sources: Sequence[SourceCompression], engine: EngineProfile) -> tuple[Floats, Floats, bool]:
    """(relative, u95, whether sources disagree): the best of the starter's sources and the crank's speed, weighed by
    their half widths. The joint half width is not below the better one's: both rest on the same shape of a hump. Where
    sources disagree the one counts that claims less of what cannot be (less than nothing, much more than the healthy),
    else the starter's, as the trade has it."""
    starter = [s for s in sources if s.source != "crank_speed"]
    best = [min(group, key=lambda s: float(np.median(s.u95))) for group in (starter, _speed_of(sources)) if group]
    values, widths = np.array([s.relative for s in best]), np.array([s.u95 for s in best])
    weights = 1.0 / widths**2
    mean = np.sum(weights * values, axis=0) / np.sum(weights, axis=0)
    mean = mean / healthy_pressure(mean)
    apart = np.ptp([s.relative for s in sources], axis=0) if len(sources) > 1 else np.zeros(engine.cylinders)
    # Two values of equal half width differ by root two of it at 95 %.
    disagree = bool(np.any(apart > math.sqrt(2.0) * np.max([s.u95 for s in sources], axis=0)))
    if disagree:
        believed = min(best, key=_beyond_possible)
        return believed.relative, believed.u95, True
    return mean, np.maximum(widths.min(axis=0), 0.5 * apart), disagree


def _beyond_possible(source: SourceCompression) -> float:
    """How far a source's figures leave what cylinders can do; tenths do not count."""
    beyond = np.maximum(source.relative - numbers.COMPRESSION_MOST.value, 0.0) + np.maximum(-source.relative, 0.0)
    return round(float(beyond.sum()), 1)


def _speed_of(sources: Sequence[SourceCompression]) -> list[SourceCompression]:
    return [s for s in sources if s.source == "crank_speed"]


def _state(relative: float, u95: float) -> CompressionState:
    if u95 > numbers.COMPRESSION_UNKNOWN_U95.value:
        return "unknown"
    if relative < numbers.COMPRESSION_DEAD_BELOW.value:
        return "dead"
    return "weak" if relative < numbers.COMPRESSION_WEAK_BELOW.value else "good"
