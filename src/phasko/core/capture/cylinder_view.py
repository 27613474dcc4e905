"""The Cylinder station's picture: pressure and valves of the felt cylinders over one cycle, in crank degrees, ready to
be drawn."""

from __future__ import annotations

import math
from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.capture.cylinder_finding import CornerOff, corner_offs, cylinder_finding
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.cycle.cycles import cycle_origin_deg
from phasko.core.cylinder import FeltCylinder
from phasko.core.cylinder.closed_line import wall_k
from phasko.core.cylinder.felt_cylinder import sound_cycle_bar
from phasko.core.cylinder.gas_model import Chamber
from phasko.core.cylinder.pressure_trace import AXIS_DEG
from phasko.core.documents.analysis import Finding
from phasko.core.engine.filling import USUAL_TIMING, serving_cams
from phasko.core.words import angle_words, cam_name

__all__ = ["CylinderPicture", "cylinder_picture"]


class ViewPart(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class CornerMark(ViewPart):
    """One corner: ``strip_deg`` on the strip, ``angle_deg`` after the cylinder's own true TDC; what the profile and the
    signal of its cam say, where they are known. ``follows``: whether valve and signal agree."""

    valve: Literal["intake", "exhaust"]
    what: Literal["opens", "closes"]
    cam: str | None
    cam_name: str | None
    angle_deg: float
    u95_deg: float
    strip_deg: float
    bar: float
    profile_deg: float | None
    profile_strip_deg: float | None
    offset_deg: float | None
    signal_deg: float | None
    follows: bool | None
    words: str


class ValveBar(ViewPart):
    """When a valve is open on the strip, by the profile and as measured; an end that is not certain is ``None``."""

    valve: Literal["intake", "exhaust"]
    cam: str | None
    profile_from_deg: float
    profile_to_deg: float
    from_deg: float | None
    to_deg: float | None


class Stroke(ViewPart):
    name: Literal["intake", "compression", "expansion", "exhaust"]
    from_deg: float
    to_deg: float


class Curve(ViewPart):
    """Gauge pressure (bar) over strip degrees."""

    deg: list[float]
    bar: list[float]


class VolumeCurve(ViewPart):
    """Absolute pressure (bar) over cylinder volume (cm3)."""

    cm3: list[float]
    bar: list[float]


class FeltView(ViewPart):
    """One cylinder in one state."""

    cylinder: int
    segment: str
    state: str
    channel: str
    cycles: int
    rpm: float
    peak_bar: float
    peak_u95_bar: float
    expected_bar: float | None
    peak_deg: float | None
    tdc_strip_deg: float
    tdc_u95_deg: float | None
    symmetry: float | None
    exhaust_bar: float | None
    intake_bar: float | None
    zero_mbar: float | None
    mean: Curve
    every: list[list[float]]
    expected: Curve | None
    corners: list[CornerMark]
    valves: list[ValveBar]
    strokes: list[Stroke]
    volume: VolumeCurve | None
    finding: Finding


class PeakBar(ViewPart):
    """A cylinder beside the others: its peak measured, or reckoned from its compression; what a sound one reaches."""

    cylinder: int
    peak_bar: float | None
    u95_bar: float | None
    measured: bool
    expected_bar: float | None


class CylinderPicture(ViewPart):
    """All felt cylinders of a capture. ``index_words``: what TDC rests on, empty where nothing confirmed it;
    ``index_deg`` with its half width: by how much the crank wheel stands late."""

    felt: list[FeltView]
    firing_order: list[int]
    peaks: list[PeakBar]
    index_words: str
    index_deg: float | None
    index_u95_deg: float | None
    origin_deg: float


_BY = {"speed": "speed", "cylinder_pressure": "pressure", "current": "current", "joined": "pressure and speed"}


def cylinder_picture(capture: CaptureMeasurement) -> CylinderPicture | None:
    """``None`` where no pressure could be read in this capture."""
    if not capture.felt:
        return None
    origin = cycle_origin_deg(capture.engine.cylinders)
    index = capture.index
    return CylinderPicture(
        felt=[_felt(one, capture, origin) for one in capture.felt],
        firing_order=list(capture.engine.firing_order),
        peaks=_peaks(capture),
        index_words="" if index is None else _BY[index.source],
        index_deg=None if index is None else index.offset_deg,
        index_u95_deg=None if index is None else index.u95_deg,
        origin_deg=origin,
    )


def _felt(one: FeltCylinder, capture: CaptureMeasurement, origin: float) -> FeltView:
    tdc = capture.engine.firing_tdc_deg[one.cylinder]
    line = one.line
    turned = tdc if line is None else tdc + line.tdc_axis_deg
    shown = AXIS_DEG + tdc - (0.0 if line is None else line.lag_deg)
    order = np.argsort(_unrolled(shown, origin))
    mean = one.trace.mean_bar - one.trace.ambient_bar
    offs = corner_offs(one, capture)
    return FeltView(
        cylinder=one.cylinder,
        segment=one.segment,
        state=one.state,
        channel=one.trace.channel,
        cycles=int(one.trace.absolute_bar.shape[0]),
        rpm=one.trace.mean_rpm,
        peak_bar=one.peak_bar,
        peak_u95_bar=one.peak_u95_bar,
        expected_bar=one.expected_bar,
        peak_deg=one.peak_deg,
        tdc_strip_deg=float(_unrolled(np.array([turned]), origin)[0]),
        tdc_u95_deg=one.tdc_u95_deg,
        symmetry=one.symmetry,
        exhaust_bar=one.exhaust_bar,
        intake_bar=one.intake_bar,
        zero_mbar=None if one.trace.zero_bar is None else 1000.0 * one.trace.zero_bar,
        mean=_curve(_unrolled(shown, origin)[order], mean[order]),
        every=[_rounded(row[order] - one.trace.ambient_bar) for row in one.trace.absolute_bar],
        expected=_expected(one, capture, turned, origin),
        corners=[_mark(off, one, turned, origin, capture) for off in offs],
        valves=_valves(one, offs, turned, origin, capture),
        strokes=_strokes(turned, origin),
        volume=_volume(one, capture),
        finding=cylinder_finding(one, capture),
    )


def _unrolled(angle_deg: Floats, origin_deg: float) -> Floats:
    return np.asarray(origin_deg + (angle_deg - origin_deg) % 720.0)


def _rounded(values: Floats) -> list[float]:
    return [float(v) for v in np.round(values, 4)]


def _curve(deg: Floats, bar: Floats) -> Curve:
    return Curve(deg=[float(v) for v in np.round(deg, 2)], bar=_rounded(bar))


def _mark(off: CornerOff, one: FeltCylinder, turned: float, origin: float, capture: CaptureMeasurement) -> CornerMark:
    line = one.line
    assert line is not None
    cam = capture.engine.cam(off.cam) if off.cam is not None else None
    at = line.read_bar(one.trace, np.array([off.corner.angle_deg]))[0]
    size = "" if off.offset_deg is None else f" {angle_words(off.offset_deg, off.corner.u95_deg)}"
    half = max(1, round(off.corner.u95_deg))
    return CornerMark(
        valve=off.valve,
        what=off.what,
        cam=off.cam,
        cam_name=None if cam is None else cam_name(cam, capture.engine),
        angle_deg=off.corner.angle_deg,
        u95_deg=off.corner.u95_deg,
        strip_deg=_place(off.corner.angle_deg, turned, origin),
        bar=float(at) - one.trace.ambient_bar,
        profile_deg=off.profile_deg,
        profile_strip_deg=None if off.profile_deg is None else _place(off.profile_deg, turned, origin),
        offset_deg=off.offset_deg,
        signal_deg=off.signal_deg,
        follows=off.follows,
        words=f"{off.what}{size} ± {half}°",
    )


def _place(own_deg: float, turned: float, origin: float) -> float:
    return float(_unrolled(np.array([own_deg + turned]), origin)[0])


def _valves(
    one: FeltCylinder, offs: list[CornerOff], turned: float, origin: float, capture: CaptureMeasurement
) -> list[ValveBar]:
    timing = capture.engine.valve_timing
    if timing is None or one.line is None:
        return []
    intake, exhaust = serving_cams(capture.engine, capture.engine.bank_of[one.cylinder])
    found: list[ValveBar] = []
    for valve, cam, opens, closes in (
        ("intake", intake, timing.intake_open_deg, timing.intake_close_deg),
        ("exhaust", exhaust, timing.exhaust_open_deg, timing.exhaust_close_deg),
    ):
        own = next((off for off in offs if off.valve == valve), None)
        begins = own is not None and own.what == "opens"
        at = None if own is None else _place(own.corner.angle_deg, turned, origin)
        found.append(
            ValveBar(
                valve="intake" if valve == "intake" else "exhaust",
                cam=cam,
                profile_from_deg=_place(opens, turned, origin),
                profile_to_deg=_place(closes, turned, origin),
                from_deg=at if begins else None,
                to_deg=None if begins else at,
            )
        )
    return found


def _strokes(turned: float, origin: float) -> list[Stroke]:
    names: tuple[Literal["expansion", "exhaust", "intake", "compression"], ...] = (
        "expansion",
        "exhaust",
        "intake",
        "compression",
    )
    found = []
    for i, name in enumerate(names):
        begins = _place(180.0 * i, turned, origin)
        end = origin + 720.0
        found.append(Stroke(name=name, from_deg=begins, to_deg=min(begins + 180.0, end)))
        if begins + 180.0 > end + 1.0:
            found.append(Stroke(name=name, from_deg=origin, to_deg=begins + 180.0 - 720.0))
    return found


def _expected(one: FeltCylinder, capture: CaptureMeasurement, turned: float, origin: float) -> Curve | None:
    """What a sound cylinder would show here with its cams in time."""
    if one.line is None or one.intake_bar is None:
        return None
    timing = capture.engine.valve_timing or USUAL_TIMING
    walls = wall_k(capture.recording.description.temperature)
    own, bar = sound_cycle_bar(one.trace, capture.engine, timing, one.intake_bar, walls)
    place = _unrolled(own + turned, origin)
    order = np.argsort(place)
    return _curve(place[order], bar[order])


def _volume(one: FeltCylinder, capture: CaptureMeasurement) -> VolumeCurve | None:
    line = one.line
    if line is None:
        return None
    own = np.arange(-360.0, 361.0, 2.0)
    chamber = Chamber.of(capture.engine, np.full(own.shape, one.trace.mean_rpm), numbers.WALL_HOT_K.value)
    volume = chamber.volume_m3(own, np.full(own.shape, line.clearance))
    bar = line.read_bar(one.trace, own)
    return VolumeCurve(cm3=[float(v) for v in np.round(1e6 * volume, 2)], bar=_rounded(np.maximum(bar, 0.01)))


def _peaks(capture: CaptureMeasurement) -> list[PeakBar]:
    """Every cylinder in firing order: felt, or reckoned by how much it compresses against one that was felt."""
    felt = {one.cylinder: one for one in capture.felt if one.segment == "cranking"}
    compression = capture.compression
    named = compression is not None and compression.identified_by is not None
    shares = compression.cylinders if compression is not None and named else ()
    relative = {c.cylinder: (c.relative, c.u95 or 0.0) for c in shares if c.relative is not None}
    # One that hardly presses says little about what the others reach.
    known = [one.peak_bar / relative[c][0] for c, one in felt.items() if c in relative and relative[c][0] > 0.3]
    scale = float(np.median(known)) if known else math.nan
    expected = [one.expected_bar for one in felt.values() if one.expected_bar is not None]
    made = []
    for cylinder in capture.engine.firing_order:
        own, hump = felt.get(cylinder), relative.get(cylinder)
        peak = u95 = None
        if own is not None:
            peak, u95 = own.peak_bar, own.peak_u95_bar
        elif hump is not None and np.isfinite(scale):
            peak, u95 = scale * hump[0], scale * hump[1]
        made.append(
            PeakBar(
                cylinder=cylinder,
                peak_bar=peak,
                u95_bar=u95,
                measured=own is not None,
                expected_bar=float(np.median(expected)) if expected else None,
            )
        )
    return made
