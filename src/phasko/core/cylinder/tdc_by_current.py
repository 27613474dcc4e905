"""Where the pistons stand, from the starter's current alone, where the wheel's teeth are too few to carry the speed."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.cycle.angle_grid import STEPS
from phasko.core.cylinder.torque_fit import Cranked, GasWaves, TurnFit, gas_turned, turned_by, waves_of
from phasko.core.uncertainty import NORMAL_95

__all__ = ["CurrentTdc", "tdc_by_current"]

_PER_FIRING = 3


@dataclass(frozen=True, slots=True)
class CurrentTdc:
    """How late the wheel's index passes by the pistons (deg, late positive), with its 95 % half width."""

    index_offset_deg: float
    u95_deg: float


def tdc_by_current(cranked: Cranked, current_a: Floats) -> CurrentTdc | None:
    """The wheel's place by what the starter draws, of shape (STEPS,) in A; ``None`` where that does not fit.

    A motor draws the more the slower it turns, a winding's time later (V = R i + L di/dt + k omega), so that it tells
    the crank's speed between the teeth of any wheel. From there on as in ``tdc_by_speed``. The winding's time is
    known within ``STARTER_LAG_SD_S``, which is most of the wide half width.
    """
    engine = cranked.engine
    waves = min(_PER_FIRING * engine.cylinders, STEPS // 4)
    order = np.arange(1, waves + 1)
    weight = 1.0 / order
    drawn = waves_of(current_a, waves)
    turning = float(cranked.cycles.speed_rad_s.mean())

    def fitted_with(lag_s: float) -> Callable[[GasWaves], TurnFit]:
        speed = -drawn * (1.0 + 0.5j * order * turning * lag_s)
        swing = np.asarray(0.5j * order * speed * weight)

        def fit(gas: GasWaves) -> TurnFit:
            return turned_by(swing, np.asarray(drawn * weight), np.asarray(gas.waves * weight), engine)

        return fit

    lag, lag_sd = numbers.STARTER_LAG_S.value, numbers.STARTER_LAG_SD_S.value
    gas, found = gas_turned(cranked, fitted_with(lag), waves)
    if not found.tells:
        return None
    later = fitted_with(lag + lag_sd)(gas)
    sd = math.hypot(later.turn_deg - found.turn_deg, numbers.TDC_CURRENT_SD_DEG.value)
    return CurrentTdc(-found.turn_deg - numbers.LOSS_ANGLE_DEG.value, NORMAL_95 * sd)
