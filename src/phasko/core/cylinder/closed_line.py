"""The pressure between shut valves: where the piston's top dead centre is, and by how much heat and leak turn the peak
away from it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.cylinder.gas_model import Chamber, followed_bar
from phasko.core.cylinder.least_squares import Fitted, Known, fitted
from phasko.core.cylinder.pressure_trace import AXIS_DEG, PressureTrace
from phasko.core.documents.engine import EngineProfile

__all__ = ["ClosedLine", "closed_line", "wall_k"]

_TDC, _START, _CLEARANCE, _HEAT, _LEAK = range(5)


@dataclass(frozen=True, slots=True, eq=False)
class ClosedLine:
    """The closed-valve line of one trace. ``tdc_axis_deg``: where its top dead centre stands on ``AXIS_DEG``, the
    sensor's lag taken off, with its standard deviation; ``lag_deg`` by how much the whole trace is late on the axis.
    ``clearance`` and ``heat`` over the usual ones, ``leak_mm2``; ``misfit`` what is left, in standard deviations."""

    tdc_axis_deg: float
    tdc_sd_deg: float
    lag_deg: float
    clearance: float
    heat: float
    leak_mm2: float
    misfit: float

    @property
    def placed(self) -> bool:
        """Whether it stands where faults can put it, so that it tells where the wheel is."""
        return abs(self.tdc_axis_deg) <= numbers.TDC_REACH_DEG.value

    def read_bar(self, trace: PressureTrace, own_deg: Floats) -> Floats:
        """The mean cycle (absolute, bar) at angles after the cylinder's true TDC (deg), both of any shape, alike."""
        axis = own_deg + self.tdc_axis_deg + self.lag_deg
        return np.asarray(np.interp(axis, AXIS_DEG, trace.mean_bar, period=720.0))


def wall_k(temperature: str | None) -> float:
    """Temperature of the walls in K, from what is noted of the engine."""
    known = {"hot": numbers.WALL_HOT_K.value, "cold": numbers.WALL_COLD_K.value}
    return known.get(temperature or "", 0.5 * (numbers.WALL_HOT_K.value + numbers.WALL_COLD_K.value))


def closed_line(
    trace: PressureTrace, engine: EngineProfile, walls_k: float, reach_deg: float = numbers.CLOSED_REACH_DEG.value
) -> ClosedLine:
    """Fits place of TDC, clearance, heat and leak to the pressure within ``reach_deg`` of its peak.

    A shift of TDC moves both flanks alike at every height; loss turns the lower ones further back, which is how the
    two are told apart. Loss angle of a motored cylinder: heat and leak (Pischinger and others, thermodynamic TDC
    determination; common practice, from memory).
    """
    peak = trace.peak_axis_deg
    angles = np.arange(-reach_deg, reach_deg + 0.5) + np.round(peak) + 0.5
    measured = np.interp(angles, AXIS_DEG, trace.mean_bar, period=720.0)
    chamber = Chamber.of(engine, np.interp(angles, AXIS_DEG, trace.speed_rpm, period=720.0), walls_k)
    known = Known(
        mean=np.array([peak + 1.5, np.log(measured[0]), np.log(chamber.usual_clearance(trace.lead.hose_m3)), 0.0, 0.8]),
        sd=np.array([60.0, 2.0, numbers.CLEARANCE_SD.value, numbers.HEAT_SD.value, 3.0]),
        step=np.array([0.2, 0.01, 0.02, 0.1, 0.2]),
        reach=np.array([8.0, 0.3, 0.15, 1.0, 2.0]),
        least=np.array([-np.inf, -np.inf, -np.inf, -np.inf, 0.0]),
    )

    def model(sets: Floats) -> Floats:
        volume = chamber.volume_m3(angles[:, None] - sets[:, _TDC], np.exp(sets[:, _CLEARANCE]))
        losses = np.exp(sets[:, _HEAT]), np.maximum(sets[:, _LEAK], 0.0)
        return followed_bar(chamber, volume, 1e5 * np.exp(sets[:, _START]), numbers.CHARGE_SQUEEZED_K.value, losses)

    # What the model does not know is some share of the pressure; noise of the mean cycle is less.
    sd = 0.004 + 0.004 * measured + 0.3 * trace.step_bar
    found = fitted(model, measured, sd, known)
    lag_deg = 6.0 * trace.mean_rpm * trace.lead.lag_s
    return ClosedLine(
        tdc_axis_deg=float(found.best[_TDC]) - lag_deg,
        tdc_sd_deg=_tdc_sd(found, 6.0 * trace.mean_rpm * trace.lead.lag_sd_s, float(found.best[_TDC]) - peak),
        lag_deg=lag_deg,
        clearance=float(np.exp(found.best[_CLEARANCE])),
        heat=float(np.exp(found.best[_HEAT])),
        leak_mm2=float(found.best[_LEAK]),
        misfit=found.misfit,
    )


def _tdc_sd(found: Fitted, lag_sd_deg: float, loss_deg: float) -> float:
    """Fit, laws of heat and leak, and the sensor's own lag."""
    laws = numbers.TDC_LAW_SD_DEG.value + numbers.TDC_LOSS_SHARE.value * abs(loss_deg)
    return float(np.sqrt((found.sd(_TDC) * max(1.0, found.misfit)) ** 2 + laws**2 + lag_sd_deg**2))
