"""The last seconds of a recording that still runs, measured as a capture is, without what needs all of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from phasko.core.capture.cam_readings import cam_readings
from phasko.core.capture.crank_angle import OnTheClock, put_on_the_clock, read_signals
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.channels.sensor_kind import known_sensors
from phasko.core.crank.segments import Segment, segments_by_speed
from phasko.core.documents.engine import EngineProfile, ValveClearance
from phasko.core.ignition import measure_firing
from phasko.core.phase.offset import CamOffset
from phasko.core.phase.reading import CamReading, cam_run
from phasko.core.signals.recording import Recording
from phasko.core.signals.switching import EdgeTrain
from phasko.core.words import cam_name, lower_first

__all__ = ["LiveCam", "LiveReading", "LiveSpark", "live_reading"]


@dataclass(frozen=True, slots=True)
class LiveCam:
    """One cam over the last cycles: offset with its half widths (deg, late positive; ``None`` where it was not read),
    how it spread from cycle to cycle, and how many of its edges each cycle had."""

    cam: str
    name: str
    shaft: str
    offset_deg: float | None
    u95_deg: float | None
    total_u95_deg: float | None
    spread_deg: float | None
    cycles: int
    edges_per_cycle: float | None
    expected_edges: int


@dataclass(frozen=True, slots=True)
class LiveSpark:
    """When a coil fires, deg after its cylinder's TDC, over the last cycles."""

    cylinder: int
    spark_deg: float
    u95_deg: float | None


@dataclass(frozen=True, slots=True)
class LiveReading:
    """What the last seconds read. ``rpm`` of the last turn with its lowest and highest; ``teeth`` counted in the last
    turn, of ``expected_teeth``; ``why`` says why nothing is read; ``stop``: the valves may be meeting the pistons."""

    at_s: float
    cams: tuple[LiveCam, ...] = ()
    sparks: tuple[LiveSpark, ...] = ()
    rpm: float | None = None
    rpm_low: float | None = None
    rpm_high: float | None = None
    teeth: int | None = None
    expected_teeth: int | None = None
    cycles: int = 0
    why: str | None = None
    stop: str | None = None


def live_reading(recording: Recording, profile: EngineProfile) -> LiveReading:
    """Measures the last seconds, which ``recording`` holds. Nothing here raises for a bad signal."""
    end_s = recording.start_s + recording.duration_s
    if not recording.with_role("crank"):
        return LiveReading(end_s, why="No crank signal is hooked up.")
    profile = known_sensors(recording, profile).value
    signals = read_signals(recording, profile)
    if signals.value.crank is None:
        return LiveReading(end_s, why="The crank does not turn yet.", expected_teeth=_expected(profile))
    teeth = _expected(profile)
    if teeth is not None and signals.value.crank.of_kind(profile.crank.timing_edge).size < 2 * teeth:
        # Before that even the right wheel may look like another one, since it starts from rest.
        return LiveReading(end_s, why="Less than two turns so far.", expected_teeth=teeth)
    clocked = put_on_the_clock(signals.value, signals.value.crank)
    if isinstance(clocked.value, CaptureMeasurement):
        why = clocked.problems[-1].text if clocked.problems else "The crank signal cannot be followed yet."
        return LiveReading(end_s, why=why, expected_teeth=teeth)
    return _measured(clocked.value, signals.value.crank, end_s)


def _expected(profile: EngineProfile) -> int | None:
    return None if profile.crank.wheel is None else len(profile.crank.wheel.angles_deg)


def _measured(read: OnTheClock, crank: EdgeTrain, end_s: float) -> LiveReading:
    engine = read.engine
    segments = segments_by_speed(read.clock, read.recording.start_s, end_s)
    runs = {cam.id: cam_run(cam, read.cams[cam.id], read.pieces) for cam in engine.cams if cam.id in read.cams}
    readings = cam_readings(read, runs, segments, {}).value
    last = read.pieces[-1].piece
    stands = end_s - float(last.times_s[-1]) > _STANDS_S
    newest = _newest(readings, segments)
    cams = tuple(_cam(one, engine) for one in newest)
    turn = _last_turn(read, crank, engine)
    return LiveReading(
        at_s=end_s,
        cams=cams,
        sparks=_sparks(read, segments),
        rpm=0.0 if stands else turn.rpm,
        rpm_low=turn.low,
        rpm_high=turn.high,
        teeth=turn.teeth,
        expected_teeth=_expected(engine),
        cycles=max((cam.cycles for cam in cams), default=0),
        why=None if cams else "No cam signal could be placed yet.",
        stop=_stop(newest, engine),
    )


_STANDS_S = 0.4
"""An engine without a tooth for so long stands: even a crank at 30 rpm passes several (s)."""


def _newest(readings: Sequence[CamReading], segments: Sequence[Segment]) -> list[CamReading]:
    """Of every cam the reading of the state that the engine is in now."""
    kinds = [segment.kind for segment in segments if segment.kind in ("cranking", "running")]
    now = kinds[-1] if kinds else "cranking"
    return [one for one in readings if one.segment == now and not one.swapped]


def _cam(reading: CamReading, engine: EngineProfile) -> LiveCam:
    offset = reading.offset or reading.relative
    edges = reading.edges
    cycles = np.unique(edges.cycle).size if edges.cycle.size else 0
    whole = max(cycles - 1, 0)
    inside = edges.cycle[(edges.cycle > edges.cycle.min()) & (edges.cycle < edges.cycle.max())] if cycles > 2 else None
    return LiveCam(
        cam=reading.cam.id,
        name=cam_name(reading.cam, engine),
        shaft=reading.cam.shaft,
        offset_deg=offset.offset.value if offset is not None and reading.offset is not None else None,
        u95_deg=offset.offset.u95 if offset is not None else None,
        total_u95_deg=offset.total_u95_deg if offset is not None else None,
        spread_deg=_spread(offset),
        cycles=whole,
        edges_per_cycle=None if inside is None or not inside.size else inside.size / np.unique(inside).size,
        expected_edges=len(reading.cam.edges),
    )


def _spread(offset: CamOffset | None) -> float | None:
    """Standard deviation from cycle to cycle (deg)."""
    if offset is None or offset.statistics.cycle_values.size < 2:
        return None
    return float(offset.statistics.cycle_values.std(ddof=1))


@dataclass(frozen=True, slots=True)
class _Turn:
    rpm: float
    low: float
    high: float
    teeth: int | None


def _last_turn(read: OnTheClock, crank: EdgeTrain, engine: EngineProfile) -> _Turn:
    """Speed over the last whole turn, and how many teeth it had. Counted from edge to edge: one turn after a tooth the
    same tooth passes again."""
    piece = read.pieces[-1].piece
    last = float(piece.angles_deg[-1])
    from_s, to_s = piece.time_s(np.array([max(last - 360.0, float(piece.angles_deg[0])), last])).tolist()
    speeds = piece.speed_rpm(np.linspace(from_s, to_s, 60))
    edges = crank.of_kind(engine.crank.timing_edge)
    whole = last - float(piece.angles_deg[0]) >= 360.0
    slack = 0.25 * (to_s - from_s) / max(len(engine.crank.known_wheel.angles_deg), 1)
    teeth = int(np.count_nonzero((edges > from_s + slack) & (edges <= to_s + slack))) if whole else None
    turned = min(360.0, last - float(piece.angles_deg[0]))
    return _Turn(turned / 6.0 / max(to_s - from_s, 1e-6), float(speeds.min()), float(speeds.max()), teeth)


def _sparks(read: OnTheClock, segments: Sequence[Segment]) -> tuple[LiveSpark, ...]:
    if read.modulo_deg is not None:
        return ()
    named = all(turn.source is not None for turn in read.pieces)
    firings = measure_firing(read.recording, read.engine, read.pieces, segments, read.clock.index_known, named)
    found = []
    for one in firings:
        if one.cylinder is not None and one.spark_deg is not None:
            found.append(LiveSpark(one.cylinder, one.spark_deg, one.spark_u95_deg))
    return tuple(found)


def _stop(readings: Sequence[CamReading], engine: EngineProfile) -> str | None:
    """Whether a cam stands, beyond its half width and its phaser's reach, where its valves meet the pistons, on an
    engine not known to be free-running: an exhaust cam late, an intake cam early, a single cam either way."""
    if engine.interference is False:
        return None
    limits = engine.valve_clearance_deg or ValveClearance()
    for one in readings:
        if one.offset is None:
            continue
        cam, off = one.cam, one.offset.offset.value
        towards = off if cam.shaft == "exhaust" else -off if cam.shaft == "intake" else abs(off)
        least = limits.exhaust_late if cam.shaft == "exhaust" else limits.intake_early
        if cam.shaft == "single":
            least = min(limits.exhaust_late, limits.intake_early)
        reach = cam.phaser.authority_deg if cam.phaser is not None else (0.0, 0.0)
        own = max(abs(reach[0]), abs(reach[1])) if cam.phaser is not None else 0.0
        if towards - own - one.offset.total_u95_deg > least:
            way = "late" if off > 0 else "early"
            return f"The {lower_first(cam_name(cam, engine))} is this {way}: its valves may meet the pistons."
    return None
