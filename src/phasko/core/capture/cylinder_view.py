"""The Cylinder station's picture: pressure and valves of the felt cylinders over one cycle, in crank degrees, ready to
be drawn."""

from __future__ import annotations

import math
from typing import Literal

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.capture.cylinder_finding import CornerOff, corner_offs, cylinder_finding
from phasko.core.capture.cylinder_parts import (
    CornerMark,
    Curve,
    CylinderPicture,
    FeltView,
    PeakBar,
    ProfileCorner,
    Stroke,
    SweepLine,
    TorqueView,
    ValveBar,
    VolumeCurve,
)
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.cycle.cycles import cycle_origin_deg
from phasko.core.cylinder import FeltCylinder
from phasko.core.cylinder.closed_line import wall_k
from phasko.core.cylinder.felt_cylinder import sound_cycle_bar
from phasko.core.cylinder.gas_model import Chamber
from phasko.core.cylinder.pressure_trace import AXIS_DEG
from phasko.core.documents.capture import Valve, ValveEnd
from phasko.core.engine.filling import USUAL_TIMING, serving_cams, timing_deg
from phasko.core.uncertainty import NORMAL_95
from phasko.core.words import angle_words, cam_name, plus_minus

__all__ = ["CylinderPicture", "cylinder_picture"]


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
        torque=_torque(capture),
        hand_u95_deg=NORMAL_95 * numbers.HAND_CORNER_SD_DEG.value,
        index_words="" if index is None else _BY[index.source],
        index_deg=None if index is None else index.offset_deg,
        index_u95_deg=None if index is None else index.u95_deg,
        origin_deg=origin,
    )


def _torque(capture: CaptureMeasurement) -> TorqueView | None:
    """``None`` where the crank's speed does not show where the pistons are."""
    found = capture.speed_tdc
    if found is None or found.u95_deg > numbers.INDEX_U95_MOST_DEG.value:
        return None
    torque = found.torque
    words = f"The crank wheel stands {angle_words(found.index_offset_deg, found.u95_deg)} {plus_minus(found.u95_deg)}"
    if torque.changes_deg is not None:
        lost = -found.index_offset_deg - torque.changes_deg
        early = "early" if torque.changes_deg < 0.0 else "late"
        words = f"Changes its sign {abs(torque.changes_deg):.1f}° {early}; losses account for {lost:.1f}°. {words}"
    return TorqueView(
        about_deg=[float(v) for v in torque.about_deg],
        measured_nm=[float(v) for v in np.round(torque.measured_nm, 2)],
        model_nm=[float(v) for v in np.round(torque.model_nm, 2)],
        found_deg=-found.index_offset_deg,
        u95_deg=found.u95_deg,
        firings=found.cycles * capture.engine.cylinders,
        words=words,
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
        exhaust_top_bar=one.exhaust_top_bar,
        intake_bar=one.intake_bar,
        squeezed_bar=_shown(one.squeezed_bar),
        drawn_bar=_shown(one.drawn_bar),
        leak_mm2=None if one.line is None else one.line.leak_mm2,
        profile_corners=_profile_corners(one, capture, turned, origin),
        zero_mbar=None if one.trace.zero_bar is None else 1000.0 * one.trace.zero_bar,
        mean=_curve(_unrolled(shown, origin)[order], mean[order]),
        every=[_rounded(row[order] - one.trace.ambient_bar) for row in one.trace.absolute_bar],
        expected=_expected(one, capture, turned, origin),
        corners=[_mark(off, one, turned, origin, capture) for off in offs],
        valves=_valves(one, offs, turned, origin, capture),
        strokes=_strokes(turned, origin),
        volume=_volume(one, capture),
        sweep=_sweep(one, capture),
        finding=cylinder_finding(one, capture),
    )


def _shown(bar: float | None) -> float | None:
    """What lies between the valves, where it is more than pipes do."""
    return bar if bar is not None and bar > numbers.OVERLAP_SHOWS_BAR.value else None


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
        by_hand=off.corner.by_hand,
        words=f"{off.what}{size} ± {half}°{', by hand' if off.corner.by_hand else ''}",
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
        own = {off.what: _place(off.corner.angle_deg, turned, origin) for off in offs if off.valve == valve}
        found.append(
            ValveBar(
                valve="intake" if valve == "intake" else "exhaust",
                cam=cam,
                profile_from_deg=_place(opens, turned, origin),
                profile_to_deg=_place(closes, turned, origin),
                from_deg=own.get("opens"),
                to_deg=own.get("closes"),
            )
        )
    return found


def _profile_corners(
    one: FeltCylinder, capture: CaptureMeasurement, turned: float, origin: float
) -> list[ProfileCorner]:
    if one.line is None:
        return []
    timing = capture.engine.valve_timing or USUAL_TIMING
    places: tuple[tuple[Valve, ValveEnd], ...] = (
        ("intake", "closes"),
        ("exhaust", "opens"),
        ("exhaust", "closes"),
        ("intake", "opens"),
    )
    found = []
    for valve, what in places:
        at = timing_deg(timing, valve, what)
        found.append(ProfileCorner(valve=valve, what=what, angle_deg=at, strip_deg=_place(at, turned, origin)))
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


def _sweep(one: FeltCylinder, capture: CaptureMeasurement) -> list[SweepLine]:
    """Corners of every cycle beside the signals of their cams, where a phaser was swept."""
    timing = capture.engine.valve_timing
    if not one.swept or timing is None:
        return []
    index = 0.0 if capture.index is None else capture.index.offset_deg
    intake, exhaust = serving_cams(capture.engine, capture.engine.bank_of[one.cylinder])
    places: tuple[tuple[Valve, str | None, float], ...] = (
        ("intake", intake, timing.intake_close_deg),
        ("exhaust", exhaust, timing.exhaust_open_deg),
    )
    found = []
    for valve, cam, usual in places:
        corners = [(c.at_s, c.intake_close if valve == "intake" else c.exhaust_open) for c in one.swept]
        known = [(at, corner.angle_deg - usual) for at, corner in corners if corner is not None]
        found.append(
            SweepLine(valve=valve, measured="corner", at_s=[k[0] for k in known], offset_deg=[k[1] for k in known])
        )
        for reading in capture.cams:
            if reading.cam.id == cam and reading.segment == one.segment and reading.offset is not None:
                off = reading.offset
                values = [float(v) + index for v in off.statistics.cycle_values]
                times = [float(t) for t in off.cycle_times_s]
                found.append(SweepLine(valve=valve, measured="signal", at_s=times, offset_deg=values))
    return found


def _peaks(capture: CaptureMeasurement) -> list[PeakBar]:
    """Every cylinder in firing order: felt, or reckoned by how much it compresses against one that was felt."""
    felt = {one.cylinder: one for one in capture.felt if one.segment == "cranking"}
    compression = capture.compression
    named = compression is not None and compression.identified_by is not None
    shares = compression.cylinders if compression is not None and named else ()
    relative = {c.cylinder: (c.relative, c.u95 or 0.0) for c in shares if c.relative is not None}
    # One that hardly compresses says little about what the others reach.
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
