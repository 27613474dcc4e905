"""When the valves of one cylinder open and close, felt in its pressure."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.cylinder.closed_line import ClosedLine
from phasko.core.cylinder.gas_model import Chamber, Opening, followed_bar
from phasko.core.cylinder.least_squares import Fitted, Known, fitted
from phasko.core.cylinder.pressure_trace import AXIS_DEG, PressureTrace
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.filling import USUAL_TIMING
from phasko.core.uncertainty import NORMAL_95

__all__ = ["Corner", "exhaust_opens", "intake_closes"]

_SHIFT, _AREA, _THERE, _FURTHER, _ZERO = range(5)
_STARTS_DEG = (0.0, -28.0, 28.0)
_FITS_WELL = 0.7
"""What a fit leaves, in standard deviations, that needs no other start."""


@dataclass(frozen=True, slots=True)
class Corner:
    """When a valve passes its lift, after the cylinder's own true firing TDC (deg). ``own_sd_deg`` is the fit's; the
    half width also holds how lobes, valves and gas differ, which cylinders of one engine share. ``area``: how wide it
    opens over a usual valve (unitless), with the standard deviation of its ln."""

    angle_deg: float
    own_sd_deg: float
    misfit: float
    area: float = 1.0
    area_sd: float = 0.0

    @property
    def u95_deg(self) -> float:
        return NORMAL_95 * math.hypot(self.own_sd_deg, numbers.CORNER_SHARED_SD_DEG.value)


@dataclass(frozen=True, slots=True, eq=False)
class _Stretch:
    """A stretch of the trace with what the fit needs to follow it."""

    own_deg: Floats
    bar: Floats
    sd_bar: Floats
    chamber: Chamber
    volume_m3: Floats


def intake_closes(trace: PressureTrace, line: ClosedLine, engine: EngineProfile, walls_k: float) -> Corner | None:
    """From bottom dead centre to well into compression: the charge flows back through the closing valve until it is
    trapped. ``None`` where that does not fit, or is not known within ``CORNER_U95_MOST_DEG``."""
    timing = engine.valve_timing or USUAL_TIMING
    at = _stretch(trace, line, engine, walls_k, (-175.0, -75.0))
    full, ramp = _lobe(timing.intake_open_deg, timing.intake_close_deg, timing.lift_mm)
    seat = timing.intake_close_deg - 720.0 + ramp
    size_mm = numbers.INTAKE_VALVE_SHARE.value * at.chamber.shape.bore_mm
    usual_pa = 1e5 * float(np.mean(at.bar[:20]))

    def model(sets: Floats) -> Floats:
        before = (seat + sets[None, :, _SHIFT]) - at.own_deg[:, None]
        area = _area_m2(before, full, size_mm) * np.exp(sets[:, _AREA])
        there = sets[:, _THERE] + sets[:, _FURTHER] * (at.own_deg[:, None] - at.own_deg[0]) / 100.0
        valve = Opening(area, there, numbers.CHARGE_K.value)
        made = _followed(at, line, sets[:, _THERE], numbers.CHARGE_K.value, valve)
        return made + 1e-5 * sets[None, :, _ZERO]

    zero_pa = 1e5 * (numbers.ZERO_BY_REST_SD_BAR if trace.zero_bar is not None else numbers.ZERO_SD_BAR).value
    known = Known(
        mean=np.array([0.0, 0.0, usual_pa, 0.0, 0.0]),
        sd=np.array([60.0, numbers.VALVE_AREA_SD.value, 1000.0, 2000.0, zero_pa]),
        step=np.array([1.0, 0.1, 300.0, 300.0, 300.0]),
        reach=np.array([10.0, 0.5, 2000.0, 2000.0, 2000.0]),
        least=np.full(5, -np.inf),
    )
    return _corner(at, model, known, timing.intake_close_deg, _lobe_places(full, ramp, timing.lift_mm, -1.0))


def exhaust_opens(trace: PressureTrace, line: ClosedLine, engine: EngineProfile, walls_k: float) -> Corner | None:
    """From the expansion to well into the exhaust stroke: the pressure leaves the closed line for that in the exhaust.
    ``None`` where that does not fit, or is not known within ``CORNER_U95_MOST_DEG``."""
    timing = engine.valve_timing or USUAL_TIMING
    at = _stretch(trace, line, engine, walls_k, (55.0, 215.0))
    full, ramp = _lobe(timing.exhaust_open_deg, timing.exhaust_close_deg, timing.lift_mm)
    seat = timing.exhaust_open_deg - ramp
    size_mm = numbers.EXHAUST_VALVE_SHARE.value * at.chamber.shape.bore_mm
    plateau = line.read_bar(trace, np.arange(200.0, 300.0))
    running = trace.segment == "running"
    outside_k = (numbers.EXHAUST_RUNNING_K if running else numbers.EXHAUST_CRANKING_K).value

    def model(sets: Floats) -> Floats:
        after = at.own_deg[:, None] - (seat + sets[None, :, _SHIFT])
        area = _area_m2(after, full, size_mm) * np.exp(sets[:, _AREA])
        valve = Opening(area, np.broadcast_to(sets[:, _THERE], area.shape), outside_k)
        return _followed(at, line, sets[:, _FURTHER], numbers.CHARGE_EXPANDED_K.value, valve)

    known = Known(
        mean=np.array([0.0, 0.0, 1e5 * float(plateau.mean()), 1e5 * float(at.bar[0])]),
        sd=np.array([60.0, numbers.VALVE_AREA_SD.value, 1000.0, 600.0]),
        step=np.array([1.0, 0.1, 300.0, 300.0]),
        reach=np.array([10.0, 0.5, 2000.0, 2000.0]),
        least=np.full(4, -np.inf),
    )
    return _corner(at, model, known, timing.exhaust_open_deg, _lobe_places(full, ramp, timing.lift_mm, 1.0))


def _corner(
    at: _Stretch,
    model: Callable[[Floats], Floats],
    known: Known,
    usual_deg: float,
    place: Callable[[float], float],
) -> Corner | None:
    """The best of several starts; a fit may settle on the wrong side of a far shift. ``place``: by how much a valve
    that opens less, or more, passes its lift elsewhere."""
    found: list[Fitted] = []
    for start in _STARTS_DEG:
        first = known.mean.copy()
        first[_SHIFT] = start
        found.append(fitted(model, at.bar, at.sd_bar, known, first))
        if found[-1].misfit < _FITS_WELL:
            break
    best = min(found, key=lambda one: one.cost)
    own_sd = best.sd(_SHIFT) * max(1.0, best.misfit)
    if best.misfit > numbers.CORNER_MISFIT_MOST.value or abs(best.best[_SHIFT]) > numbers.CORNER_REACH_DEG.value:
        return None
    area = float(np.exp(best.best[_AREA]))
    moved = place(area)
    corner = Corner(
        angle_deg=usual_deg + float(best.best[_SHIFT]) + moved,
        own_sd_deg=math.hypot(own_sd, numbers.LOBE_PLACE_SHARE.value * moved),
        misfit=best.misfit,
        area=area,
        area_sd=best.sd(_AREA) * max(1.0, best.misfit),
    )
    return corner if corner.u95_deg <= numbers.CORNER_U95_MOST_DEG.value else None


def _stretch(
    trace: PressureTrace, line: ClosedLine, engine: EngineProfile, walls_k: float, span_deg: tuple[float, float]
) -> _Stretch:
    own = np.arange(span_deg[0], span_deg[1])
    bar = line.read_bar(trace, own)
    axis = own + line.tdc_axis_deg + line.lag_deg
    chamber = Chamber.of(engine, np.interp(axis, AXIS_DEG, trace.speed_rpm, period=720.0), walls_k)
    volume = chamber.volume_m3(own, np.full(own.shape, line.clearance))
    # What the model does not know is a share of the pressure; a converter's steps even out over the cycles.
    noise = 0.5 * trace.step_bar / math.sqrt(trace.absolute_bar.shape[0])
    return _Stretch(own, bar, 0.004 + 0.006 * bar + noise, chamber, volume)


def _followed(at: _Stretch, line: ClosedLine, start_pa: Floats, start_k: float, valve: Opening) -> Floats:
    columns = start_pa.size
    losses = np.full(columns, line.heat), np.full(columns, line.leak_mm2)
    volume = np.repeat(at.volume_m3[:, None], columns, axis=1)
    return followed_bar(at.chamber, volume, start_pa, start_k, losses, valve)


def _lobe(open_deg: float, close_deg: float, lift_mm: float) -> tuple[float, float]:
    """(duration from seat to seat of a sine-squared lift that is above ``lift_mm`` between two angles, the part of it
    below that lift on one side), in deg."""
    duration = (close_deg - open_deg) % 720.0
    below = math.asin(math.sqrt(min(0.5, lift_mm / numbers.PEAK_LIFT_MM.value))) / math.pi
    full = duration / (1.0 - 2.0 * below)
    return full, full * below


def _lobe_places(full_deg: float, ramp_deg: float, lift_mm: float, side: float) -> Callable[[float], float]:
    """By how much (deg) a valve passes its lift elsewhere than usual when it opens by another area. Valves of other
    sizes differ too, so that only what is far from any usual one is a worn lobe or clearance."""

    def place(area: float) -> float:
        if abs(math.log(area)) < numbers.AREA_UNUSUAL.value:
            return 0.0
        lift = min(1.0, lift_mm / (numbers.PEAK_LIFT_MM.value * area))
        return side * (full_deg * math.asin(math.sqrt(lift)) / math.pi - ramp_deg)

    return place


def _area_m2(inside_deg: Floats, full_deg: float, size_mm: float) -> Floats:
    """Effective area of a pair of valves, ``inside_deg`` within their open time: the curtain, at most the port
    (Heywood 1988, section 6.3.2)."""
    inside = np.clip(inside_deg, 0.0, full_deg)
    lift = numbers.PEAK_LIFT_MM.value * np.sin(np.pi * inside / full_deg) ** 2
    port = np.pi * size_mm * size_mm / 4.0 * 0.85
    return np.asarray(2.0 * numbers.FLOW_COEFFICIENT.value * np.minimum(np.pi * size_mm * lift, port) * 1e-6)
