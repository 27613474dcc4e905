"""Where the exhaust valve closes and the intake valve opens, and what the gas does between the two."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.cylinder.closed_line import ClosedLine
from phasko.core.cylinder.corners import Corner
from phasko.core.cylinder.gas_model import Opening
from phasko.core.cylinder.least_squares import Fitted, Known, fitted
from phasko.core.cylinder.pressure_trace import PressureTrace
from phasko.core.cylinder.stretch import Stretch
from phasko.core.cylinder.valve_lobe import ValveLobe, valve_area_m2
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.filling import USUAL_TIMING

__all__ = ["Overlap", "felt_overlap"]

_CLOSES, _OPENS, _EXHAUST_AREA, _INTAKE_AREA, _EXHAUST_PA, _INTAKE_PA = range(6)
_SPAN_DEG = (285.0, 435.0)
_GROWS = 1.6
"""What gas in pipes does that this model does not: by so much the fit's own doubt is widened."""


@dataclass(frozen=True, slots=True)
class Overlap:
    """The change of strokes about the top dead centre between exhaust and intake. Corners after the cylinder's own
    firing TDC (deg); ``None`` where a valve stands open all the time and nothing shows, as in most engines in time.
    ``squeezed_bar`` by how much the pressure rises above both sides there, since both valves are shut early,
    ``drawn_bar`` by how much it falls under both after it, since they are shut late."""

    exhaust_close: Corner | None
    intake_open: Corner | None
    squeezed_bar: float
    drawn_bar: float


def felt_overlap(
    trace: PressureTrace, line: ClosedLine, engine: EngineProfile, walls_k: float, late_deg: tuple[float, float]
) -> Overlap:
    """Follows the gas from the exhaust stroke into the intake stroke through both valves. ``late_deg``: where the
    exhaust and the intake valves were found late at their other ends, as a place to start from (deg)."""
    at = Stretch.of(trace, line, engine, walls_k, _SPAN_DEG)
    sides = float(at.bar[:25].mean()), float(at.bar[-30:].mean())
    near = at.bar[(at.own_deg > 320.0) & (at.own_deg < 375.0)]
    after = at.bar[(at.own_deg > 350.0) & (at.own_deg < 415.0)]
    squeezed, drawn = max(0.0, float(near.max()) - max(sides)), max(0.0, min(sides) - float(after.min()))
    if max(squeezed, drawn) < numbers.OVERLAP_SHOWS_BAR.value:
        return Overlap(None, None, squeezed, drawn)
    timing = engine.valve_timing or USUAL_TIMING
    exhaust = ValveLobe.between(timing.exhaust_open_deg, timing.exhaust_close_deg, timing.lift_mm)
    intake = ValveLobe.between(timing.intake_open_deg, timing.intake_close_deg, timing.lift_mm)
    heads_mm = [
        share.value * at.chamber.shape.bore_mm for share in (numbers.EXHAUST_VALVE_SHARE, numbers.INTAKE_VALVE_SHARE)
    ]
    running = trace.segment == "running"
    outside_k = (numbers.EXHAUST_RUNNING_K if running else numbers.EXHAUST_CRANKING_K).value
    ends_deg = timing.exhaust_close_deg + exhaust.ramp_deg
    starts_deg = timing.intake_open_deg - intake.ramp_deg

    def model(sets: Floats) -> Floats:
        own = at.own_deg[:, None]
        out = valve_area_m2((ends_deg + sets[None, :, _CLOSES]) - own, exhaust, heads_mm[0])
        into = valve_area_m2(own - (starts_deg + sets[None, :, _OPENS]), intake, heads_mm[1])
        valves = (
            Opening(out * np.exp(sets[:, _EXHAUST_AREA]), np.broadcast_to(sets[:, _EXHAUST_PA], out.shape), outside_k),
            Opening(
                into * np.exp(sets[:, _INTAKE_AREA]),
                np.broadcast_to(sets[:, _INTAKE_PA], out.shape),
                numbers.CHARGE_K.value,
            ),
        )
        return at.followed(line, sets[:, _EXHAUST_PA], outside_k, valves)

    area = numbers.VALVE_AREA_SD.value
    reach = numbers.OVERLAP_SD_DEG.value
    known = Known(
        mean=np.array([0.0, 0.0, 0.0, 0.0, 1e5 * sides[0], 1e5 * sides[1]]),
        sd=np.array([reach, reach, area, area, 800.0, 800.0]),
        step=np.array([1.0, 1.0, 0.1, 0.1, 200.0, 200.0]),
        reach=np.array([8.0, 8.0, 0.4, 0.4, 2000.0, 2000.0]),
        least=np.full(6, -np.inf),
    )
    start = known.mean.copy()
    start[_CLOSES], start[_OPENS] = late_deg
    best = fitted(model, at.bar, at.sd_bar, known, start)
    return Overlap(
        exhaust_close=_told(best, _CLOSES, timing.exhaust_close_deg, at),
        intake_open=_told(best, _OPENS, timing.intake_open_deg, at),
        squeezed_bar=squeezed,
        drawn_bar=drawn,
    )


def _told(found: Fitted, which: int, usual_deg: float, at: Stretch) -> Corner | None:
    """The corner, where the trace tells it better than what was known before."""
    if found.misfit > numbers.CORNER_MISFIT_MOST.value or abs(found.best[which]) > numbers.CORNER_REACH_DEG.value:
        return None
    if found.sd(which) > 0.5 * numbers.OVERLAP_SD_DEG.value:
        return None
    sd = math.hypot(found.sd(which) * max(_GROWS, found.misfit), at.pace_sd_deg)
    corner = Corner(usual_deg + float(found.best[which]), sd, found.misfit)
    return corner if corner.u95_deg <= numbers.CORNER_U95_MOST_DEG.value else None
