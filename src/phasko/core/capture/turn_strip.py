"""The turn strip: everything the picture of one unrolled cycle needs, in crank degrees, ready to be drawn."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict

from phasko.core.capture.cylinder_finding import corner_offs
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.crank.clock import ClockPiece
from phasko.core.cycle.cycles import cycle_origin_deg
from phasko.core.documents.cam_results import CamState
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.wheel import teeth_from_gap
from phasko.core.phase.reading import CamReading
from phasko.core.words import cam_name

__all__ = ["TurnStrip", "turn_strip"]

_SPEED_POINTS = 1600
_SPEED_STEP_DEG = 6.0
_SPEED_WINDOW_DEG = 30.0


class StripPart(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class TdcLine(StripPart):
    cylinder: int
    deg: float


class Tick(StripPart):
    tooth: int
    deg: float


class GapWindow(StripPart):
    from_deg: float
    to_deg: float


class Ruler(StripPart):
    """Teeth of the crank wheel over the cycle; tick n is tooth n, the index tooth is 1, which stands at ``index_deg``:
    0 where the profile does not know it."""

    wheel: str
    sensor: str
    index_deg: float
    pitch_deg: float | None
    ticks: list[Tick]
    gaps: list[GapWindow]


class StripEdge(StripPart):
    edge: int
    kind: Literal["rising", "falling"]
    measured_deg: float
    reference_deg: float | None
    delta_deg: float
    teeth_from_gap: float | None


class CycleEdge(StripPart):
    """Where one edge stood in one numbered cycle, as lateness against its reference, and when it passed."""

    cycle: int
    edge: int
    delta_deg: float
    time_s: float


class StripCorner(StripPart):
    """When a valve of this cam really moved in one cylinder, where the profile has it, and by how much it is late."""

    cylinder: int
    what: Literal["opens", "closes"]
    deg: float
    profile_deg: float | None
    offset_deg: float | None
    u95_deg: float


class CamLane(StripPart):
    """One cam; the offset and what belongs to it are absent where nothing is known about where it should be."""

    cam: str
    name: str
    shaft: Literal["intake", "exhaust", "single"]
    bank: int
    sensor: str
    segment: str
    state: CamState | None
    reference: str
    offset_deg: float | None
    offset_u95_deg: float | None
    total_u95_deg: float | None
    cycle_spread_deg: float
    tolerance_deg: float
    pitches: float | None
    wheel_teeth: float | None
    starts_high: bool
    edges: list[StripEdge]
    cycle_edges: list[CycleEdge]
    corners: list[StripCorner]


class StripCycle(StripPart):
    number: int
    from_s: float
    to_s: float
    mean_rpm: float


class LeftOut(StripPart):
    from_s: float
    to_s: float
    reason: str


class SpeedTrace(StripPart):
    times_s: list[float]
    rpm: list[float]


class SpeedLane(StripPart):
    """Crank speed over the cycle, and when each angle passed: one row per numbered cycle, at the angles of ``deg``."""

    deg: list[float]
    rpm: list[list[float]]
    times_s: list[list[float]]


class StripMark(StripPart):
    """A mark that a person set while recording, when the symptom came."""

    time_s: float
    text: str


class TurnStrip(StripPart):
    """One capture unrolled: from ``origin_deg`` over 720 degrees in the wheel frame."""

    origin_deg: float
    tdc: list[TdcLine]
    tdc_confirmed: bool
    turn_source: Literal["cam"] | None
    start_s: float
    duration_s: float
    ruler: Ruler | None
    lanes: list[CamLane]
    cycles: list[StripCycle]
    left_out: list[LeftOut]
    speed: SpeedTrace
    speed_lane: SpeedLane | None
    marks: list[StripMark]


def turn_strip(capture: CaptureMeasurement, pitches: dict[str, float | None]) -> TurnStrip:
    """Draws nothing, decides nothing: rearranges what was measured. ``pitches`` holds each cam's offset in pitches.

    Without an index the angles count from tooth 1, and there are no TDC lines.
    """
    profile = capture.engine
    origin = cycle_origin_deg(profile.cylinders)
    known = profile.firing_tdc_deg if profile.crank.index_deg is not None else {}
    # Where the wheel stands off its place the pistons are drawn where they are.
    off = 0.0 if capture.index is None or capture.index.confirms else capture.index.offset_deg
    tdc = [TdcLine(cylinder=c, deg=_unrolled(deg - off, origin)) for c, deg in known.items()]
    sources = {turn.source for turn in capture.pieces}
    return TurnStrip(
        origin_deg=origin,
        tdc=sorted(tdc, key=lambda line: line.deg),
        tdc_confirmed=capture.index is not None,
        turn_source="cam" if sources == {"cam"} else None,
        start_s=capture.recording.start_s,
        duration_s=capture.recording.duration_s,
        ruler=_ruler(capture, profile, origin),
        lanes=[_lane(r, capture, origin, pitches.get(r.cam.id)) for r in capture.cams if r.relative is not None],
        cycles=[StripCycle(number=c.number, from_s=c.from_s, to_s=c.to_s, mean_rpm=c.mean_rpm) for c in capture.cycles],
        left_out=[LeftOut(from_s=x.from_s, to_s=x.to_s, reason=x.reason) for x in capture.left_out],
        speed=_speed(capture),
        speed_lane=_speed_lane(capture, origin),
        marks=[StripMark(time_s=mark.t_s, text=mark.text) for mark in capture.recording.description.marks],
    )


def _unrolled(angle_deg: float, origin_deg: float) -> float:
    return origin_deg + (angle_deg - origin_deg) % 720.0


def _ruler(capture: CaptureMeasurement, profile: EngineProfile, origin: float) -> Ruler | None:
    crank = profile.crank
    if capture.wheel is None or capture.matches_profile is False or crank.wheel is None:
        return None
    index = crank.index_deg or 0.0
    teeth = crank.known_wheel.angles_deg
    spacing = np.diff([*teeth, teeth[0] + 360.0])
    usual = float(np.median(spacing))
    numbers_ = [
        round(a / crank.known_wheel.pitch_deg) + 1 if crank.known_wheel.pitch_deg else i + 1
        for i, a in enumerate(teeth)
    ]
    ticks = [
        Tick(tooth=number, deg=_unrolled(index + turn + angle, origin))
        for turn in (0.0, 360.0)
        for number, angle in zip(numbers_, teeth, strict=True)
    ]
    gaps = []
    for turn in (-360.0, 0.0, 360.0, 720.0):
        for angle, width in zip(teeth, spacing.tolist(), strict=True):
            start = index + turn + angle + usual / 2
            end = start + width - usual
            if width > 1.5 * usual and end > origin and start < origin + 720.0:
                gaps.append(GapWindow(from_deg=max(start, origin), to_deg=min(end, origin + 720.0)))
    ticks.sort(key=lambda tick: tick.deg)
    return Ruler(
        wheel=capture.wheel,
        sensor=crank.sensor,
        index_deg=index,
        pitch_deg=crank.known_wheel.pitch_deg,
        ticks=ticks,
        gaps=gaps,
    )


def _lane(reading: CamReading, capture: CaptureMeasurement, origin: float, pitches: float | None) -> CamLane:
    relative, offset = reading.relative, reading.offset
    assert relative is not None
    profile = capture.engine
    cam = reading.cam
    pitch = profile.crank.known_wheel.pitch_deg
    edges = _edges(reading, capture, origin)
    value = None if offset is None else offset.offset.value
    return CamLane(
        cam=cam.id,
        name=cam_name(cam, profile),
        shaft=cam.shaft,
        bank=cam.bank,
        sensor=cam.sensor,
        segment=reading.segment,
        state=None if offset is None else offset.state,
        reference="none" if offset is None else reading.reference.source,
        offset_deg=value,
        offset_u95_deg=None if offset is None else offset.offset.u95,
        total_u95_deg=None if offset is None else offset.total_u95_deg,
        cycle_spread_deg=relative.spread_deg,
        tolerance_deg=cam.tolerance_deg,
        pitches=pitches,
        wheel_teeth=None if pitch is None or value is None else value / pitch,
        starts_high=bool(edges) and edges[0].kind == "falling",
        edges=edges,
        cycle_edges=_cycle_edges(reading, capture),
        corners=_corners(reading, capture, origin),
    )


def _corners(reading: CamReading, capture: CaptureMeasurement, origin: float) -> list[StripCorner]:
    """The corners of this cam's valves in the felt cylinders, in the state of the lane."""
    found = []
    for felt in capture.felt:
        if felt.line is None or felt.segment != reading.segment:
            continue
        turned = capture.engine.firing_tdc_deg[felt.cylinder] + felt.line.tdc_axis_deg
        for off in corner_offs(felt, capture):
            if off.cam == reading.cam.id:
                place = off.profile_deg
                found.append(
                    StripCorner(
                        cylinder=felt.cylinder,
                        what=off.what,
                        deg=_unrolled(off.corner.angle_deg + turned, origin),
                        profile_deg=None if place is None else _unrolled(place + turned, origin),
                        offset_deg=off.offset_deg,
                        u95_deg=off.corner.u95_deg,
                    )
                )
    return found


def _edges(reading: CamReading, capture: CaptureMeasurement, origin: float) -> list[StripEdge]:
    assert reading.relative is not None
    means, crank = reading.relative.statistics.edge_means, capture.engine.crank
    index = crank.index_deg or 0.0
    found = []
    for i, edge in enumerate(reading.cam.edges):
        if np.isfinite(means[i]):
            measured = edge.deg + float(means[i])
            found.append(
                StripEdge(
                    edge=i,
                    kind=edge.kind,
                    measured_deg=_unrolled(measured, origin),
                    reference_deg=None if reading.offset is None else _unrolled(edge.deg, origin),
                    delta_deg=float(means[i]),
                    teeth_from_gap=teeth_from_gap(measured - index, crank.known_wheel),
                )
            )
    return sorted(found, key=lambda e: e.measured_deg)


def _cycle_edges(reading: CamReading, capture: CaptureMeasurement) -> list[CycleEdge]:
    edges = reading.edges
    starts = np.array([c.from_s for c in capture.cycles])
    found = []
    if not starts.size:
        return []
    place = np.searchsorted(starts, edges.times_s, side="right") - 1
    for i in np.flatnonzero((edges.reference >= 0) & (place >= 0)).tolist():
        cycle = capture.cycles[int(place[i])]
        if edges.times_s[i] < cycle.to_s:
            found.append(
                CycleEdge(
                    cycle=cycle.number,
                    edge=int(edges.reference[i]),
                    delta_deg=float(edges.delta_deg[i]),
                    time_s=float(edges.times_s[i]),
                )
            )
    return found


def _speed_lane(capture: CaptureMeasurement, origin: float) -> SpeedLane | None:
    if not capture.cycles:
        return None
    grid = origin + np.arange(0.0, 720.0 + _SPEED_STEP_DEG, _SPEED_STEP_DEG)
    rows, times = [], []
    for cycle in capture.cycles:
        piece = next(
            t.piece for t in capture.pieces if t.piece.times_s[0] <= cycle.from_s and cycle.to_s <= t.piece.times_s[-1]
        )
        first = float(piece.angle_deg(np.array([cycle.from_s]))[0])
        rows.append(np.round(_mean_rpm(piece, first + grid - origin), 1).tolist())
        times.append(np.round(piece.time_s(first + grid - origin), 7).tolist())
    return SpeedLane(deg=grid.tolist(), rpm=rows, times_s=times)


def _speed(capture: CaptureMeasurement) -> SpeedTrace:
    """Crank speed over the whole capture, thinned to what a screen shows."""
    times: list[float] = []
    rpm: list[float] = []
    for turn in capture.pieces:
        piece = turn.piece
        span = float(piece.angles_deg[-1] - piece.angles_deg[0])
        step = max(_SPEED_STEP_DEG, span / _SPEED_POINTS)
        angles = np.arange(piece.angles_deg[0], piece.angles_deg[-1], step)
        times += np.round(np.interp(angles, piece.angles_deg, piece.times_s), 5).tolist()
        rpm += np.round(_mean_rpm(piece, angles), 1).tolist()
    return SpeedTrace(times_s=times, rpm=rpm)


def _mean_rpm(piece: ClockPiece, angles_deg: NDArray[np.float64]) -> NDArray[np.float64]:
    """Means over 30 degrees about each angle, so that compressions show and tooth errors do not; fewer at the ends."""
    low = np.maximum(angles_deg - _SPEED_WINDOW_DEG / 2, piece.angles_deg[0])
    high = np.minimum(angles_deg + _SPEED_WINDOW_DEG / 2, piece.angles_deg[-1])
    took = np.interp(high, piece.angles_deg, piece.times_s) - np.interp(low, piece.angles_deg, piece.times_s)
    return np.asarray((high - low) / took / 6.0)
