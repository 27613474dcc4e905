"""When the valves of one cylinder open and close, felt in its pressure."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.cylinder.closed_line import ClosedLine
from phasko.core.cylinder.gas_model import Opening
from phasko.core.cylinder.least_squares import Fitted, Known, fitted
from phasko.core.cylinder.pressure_trace import PressureTrace
from phasko.core.cylinder.stretch import Stretch
from phasko.core.cylinder.valve_lobe import ValveLobe, valve_area_m2
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.filling import USUAL_TIMING
from phasko.core.uncertainty import NORMAL_95

__all__ = ["Corner", "exhaust_opens", "intake_closes"]

_SHIFT, _AREA, _THERE, _FURTHER, _ZERO, _BENDS = range(6)
_USUAL_INTAKE_DEG = (-175.0, -75.0)
_LATE_INTAKE_DEG = (-250.0, -60.0)
_EARLY_INTAKE_DEG = (-250.0, -75.0)
_DRAW_ALONE = 3
"""With so many cylinders or fewer no two draw at once: an intake lasts about 240 degrees."""
_SWINGS_STILL_DEG = 16.0
"""A throttled manifold hides so much more of what a piston near bottom dead centre does."""
_STARTS_DEG = (0.0, -28.0, 28.0)
_FITS_WELL = 0.7
"""What a fit leaves, in standard deviations, that needs no other start."""


@dataclass(frozen=True, slots=True)
class Corner:
    """When a valve passes its lift, after the cylinder's own true firing TDC (deg). ``own_sd_deg`` is the fit's; the
    half width also holds how lobes, valves and gas differ, which cylinders of one engine share. ``area``: how wide it
    opens over a usual valve (unitless), with the standard deviation of its ln. ``by_hand``: a person set it."""

    angle_deg: float
    own_sd_deg: float
    misfit: float
    area: float = 1.0
    area_sd: float = 0.0
    by_hand: bool = False

    @property
    def u95_deg(self) -> float:
        return NORMAL_95 * math.hypot(self.own_sd_deg, numbers.CORNER_SHARED_SD_DEG.value)


def intake_closes(trace: PressureTrace, line: ClosedLine, engine: EngineProfile, walls_k: float) -> Corner | None:
    """From bottom dead centre to well into compression: the charge flows back through the closing valve until it is
    trapped. ``None`` where that does not fit, or is not known within ``CORNER_U95_MOST_DEG``.

    A cam that is far late closes it only where compression is well under way, so that a longer stretch is followed
    then. One that is far early closes it about bottom dead centre, where the piston hardly moves and the trapped charge
    hardly changes: the mean of a stretch from there and one from before it, and no better known than
    ``CORNER_STILL_SD_DEG``."""
    usual = (engine.valve_timing or USUAL_TIMING).intake_close_deg
    found = _intake_within(trace, line, engine, walls_k, _USUAL_INTAKE_DEG)
    if found is not None and found.angle_deg < numbers.CORNER_STILL_DEG.value:
        before = _intake_within(trace, line, engine, walls_k, _EARLY_INTAKE_DEG)
        found = found if before is None else _between(found, before)
    elif found is None or found.angle_deg - usual > numbers.CORNER_FAR_DEG.value:
        found = _intake_within(trace, line, engine, walls_k, _LATE_INTAKE_DEG)
    return _known(found, usual)


def _between(one: Corner, other: Corner) -> Corner:
    """Two looks at a corner near bottom dead centre."""
    middle = 0.5 * (one.angle_deg + other.angle_deg)
    return replace(one, angle_deg=middle, own_sd_deg=numbers.CORNER_STILL_SD_DEG.value)


def _known(corner: Corner | None, usual_deg: float) -> Corner | None:
    """The corner, if it is known well enough; one that is far out may be known less well and is still out."""
    if corner is None:
        return None
    by = abs(corner.angle_deg - usual_deg)
    most = max(numbers.CORNER_U95_MOST_DEG.value, numbers.CORNER_U95_SHARE.value * by)
    return corner if corner.u95_deg <= most else None


def _intake_within(
    trace: PressureTrace, line: ClosedLine, engine: EngineProfile, walls_k: float, span_deg: tuple[float, float]
) -> Corner | None:
    timing = engine.valve_timing or USUAL_TIMING
    at = Stretch.of(trace, line, engine, walls_k, span_deg)
    lobe = ValveLobe.between(timing.intake_open_deg, timing.intake_close_deg, timing.lift_mm)
    seat = timing.intake_close_deg - 720.0 + lobe.ramp_deg
    size_mm = numbers.INTAKE_VALVE_SHARE.value * at.chamber.shape.bore_mm
    usual_pa = 1e5 * float(np.mean(at.bar[:20]))

    def model(sets: Floats) -> Floats:
        before = (seat + sets[None, :, _SHIFT]) - at.own_deg[:, None]
        area = valve_area_m2(before, lobe, size_mm) * np.exp(sets[:, _AREA])
        further = (at.own_deg[:, None] - at.own_deg[0]) / 100.0
        there = sets[:, _THERE] + sets[:, _FURTHER] * further + sets[:, _BENDS] * further**2
        valve = Opening(area, there, numbers.CHARGE_K.value)
        made = at.followed(line, sets[:, _THERE], numbers.CHARGE_K.value, (valve,))
        return made + 1e-5 * sets[None, :, _ZERO]

    zero_pa = 1e5 * (numbers.ZERO_BY_REST_SD_BAR if trace.zero_bar is not None else numbers.ZERO_SD_BAR).value
    # Behind a shut throttle every stroke of a cylinder swings the manifold.
    throttled_pa = max(0.0, 1e5 * trace.ambient_bar - usual_pa)
    bends_pa = numbers.MANIFOLD_BENDS_PA.value + numbers.MANIFOLD_BENDS_SHARE.value * throttled_pa
    known = Known(
        mean=np.array([0.0, 0.0, usual_pa, 0.0, 0.0, 0.0]),
        sd=np.array([60.0, numbers.VALVE_AREA_SD.value, 1000.0, 2000.0, zero_pa, bends_pa]),
        step=np.array([1.0, 0.1, 300.0, 300.0, 300.0, 300.0]),
        reach=np.array([10.0, 0.5, 2000.0, 2000.0, 2000.0, 2000.0]),
        least=np.full(6, -np.inf),
    )
    calm = throttled_pa < numbers.MANIFOLD_CALM_PA.value
    found = _corner(
        at, model, known, timing.intake_close_deg, lambda area: -lobe.moved_by_size_deg(area) if calm else 0.0
    )
    if found is None or calm:
        return found
    # The fewer cylinders draw on a manifold, the more it swings within one closing; most where no two draw at once.
    swings_deg = numbers.MANIFOLD_PLACE_DEG.value / engine.cylinders
    if engine.cylinders <= _DRAW_ALONE:
        swings_deg *= numbers.MANIFOLD_ALONE_TIMES.value
    if found.angle_deg < numbers.CORNER_STILL_DEG.value + _SWINGS_STILL_DEG:
        swings_deg = max(swings_deg, numbers.CORNER_STILL_SD_DEG.value)
    return replace(found, own_sd_deg=math.hypot(found.own_sd_deg, swings_deg))


def exhaust_opens(trace: PressureTrace, line: ClosedLine, engine: EngineProfile, walls_k: float) -> Corner | None:
    """From the expansion to well into the exhaust stroke: the pressure leaves the closed line for that in the exhaust.
    ``None`` where that does not fit, or is not known within ``CORNER_U95_MOST_DEG``."""
    timing = engine.valve_timing or USUAL_TIMING
    at = Stretch.of(trace, line, engine, walls_k, (55.0, 215.0))
    lobe = ValveLobe.between(timing.exhaust_open_deg, timing.exhaust_close_deg, timing.lift_mm)
    seat = timing.exhaust_open_deg - lobe.ramp_deg
    size_mm = numbers.EXHAUST_VALVE_SHARE.value * at.chamber.shape.bore_mm
    plateau = line.read_bar(trace, np.arange(200.0, 300.0))
    running = trace.segment == "running"
    outside_k = (numbers.EXHAUST_RUNNING_K if running else numbers.EXHAUST_CRANKING_K).value

    def model(sets: Floats) -> Floats:
        after = at.own_deg[:, None] - (seat + sets[None, :, _SHIFT])
        area = valve_area_m2(after, lobe, size_mm) * np.exp(sets[:, _AREA])
        valve = Opening(area, np.broadcast_to(sets[:, _THERE], area.shape), outside_k)
        return at.followed(line, sets[:, _FURTHER], numbers.CHARGE_EXPANDED_K.value, (valve,))

    known = Known(
        mean=np.array([0.0, 0.0, 1e5 * float(plateau.mean()), 1e5 * float(at.bar[0])]),
        sd=np.array([60.0, numbers.VALVE_AREA_SD.value, 1000.0, 600.0]),
        step=np.array([1.0, 0.1, 300.0, 300.0]),
        reach=np.array([10.0, 0.5, 2000.0, 2000.0]),
        least=np.full(4, -np.inf),
    )
    return _known(_corner(at, model, known, timing.exhaust_open_deg, lobe.moved_by_size_deg), timing.exhaust_open_deg)


def _corner(
    at: Stretch,
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
    # A worn lobe keeps its middle; one that is far out as a whole is no worn lobe.
    moved = place(area) if abs(best.best[_SHIFT]) < numbers.CORNER_FAR_DEG.value else 0.0
    corner = Corner(
        angle_deg=usual_deg + float(best.best[_SHIFT]) + moved,
        own_sd_deg=math.hypot(own_sd, numbers.LOBE_PLACE_SHARE.value * moved, at.pace_sd_deg),
        misfit=best.misfit,
        area=area,
        area_sd=best.sd(_AREA) * max(1.0, best.misfit),
    )
    return corner
