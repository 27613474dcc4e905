"""A sensor on a stand: a magnet wheel turns before it while it is warmed and cools again, a healthy one beside it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from phasko.bench.arrays import Floats

__all__ = ["HeatSheet", "heat_volts", "temperature_c"]


@dataclass(frozen=True, slots=True)
class HeatSheet:
    """How the sensor under test behaves: ``healthy``, or from ``from_c`` on it ``shrinks``, turns ``erratic`` or goes
    ``flat``, until it has cooled to 10 degrees below. Warmed to ``top_c`` within ``up_s``, cooled within ``down_s``.
    ``supply_lost_s``: for two seconds from then on both sensors are without supply."""

    behaves: Literal["healthy", "shrinks", "erratic", "flat"] = "healthy"
    from_c: float = 80.0
    top_c: float = 110.0
    up_s: float = 20.0
    down_s: float = 20.0
    magnet_hz: float = 24.0
    seed: int = 1
    supply_lost_s: float = 1e9


def temperature_c(sheet: HeatSheet, at_s: Floats) -> Floats:
    """Temperature of the case (°C) at the times ``at_s`` (n,): five seconds cold, warmed, cooled, then cold again."""
    return np.asarray(
        np.interp(at_s, [5.0, 5.0 + sheet.up_s, 5.0 + sheet.up_s + sheet.down_s], [22.0, sheet.top_c, 30.0])
    )


def heat_volts(sheet: HeatSheet, at_s: Floats, tested: bool) -> NDArray[np.float64]:
    """What the sensor under test, or the healthy one, gives at the times ``at_s`` (n,), in V."""
    rng = np.random.default_rng([sheet.seed, 77, int(tested)])
    phase = (at_s * sheet.magnet_hz + (0.0 if tested else 0.3)) % 1.0
    high = (phase < 0.5).astype(float)
    swing = np.full(at_s.size, 4.6)
    if tested and sheet.behaves != "healthy":
        ill = _ill(sheet, at_s)
        if sheet.behaves == "flat":
            high[ill] = 1.0
        elif sheet.behaves == "shrinks":
            over = np.clip((temperature_c(sheet, at_s) - sheet.from_c) / 12.0, 0.0, 1.0)
            swing[ill] *= 1.0 - 0.75 * over[ill]
        else:
            stutter = np.repeat(rng.random(at_s.size // 300 + 1) > 0.55, 300)[: at_s.size]
            high[ill & stutter] = 1.0
            burst = np.repeat(rng.random(at_s.size // 90 + 1) > 0.8, 90)[: at_s.size]
            high[ill & burst] = 1.0 - high[ill & burst]
    volts = 0.25 + swing * high
    lost = (at_s >= sheet.supply_lost_s) & (at_s < sheet.supply_lost_s + 2.0)
    volts[lost] = 0.1
    return np.asarray(volts + 0.02 * rng.standard_normal(at_s.size))


def _ill(sheet: HeatSheet, at_s: Floats) -> NDArray[np.bool_]:
    """From the moment it is too warm until it has cooled ten degrees below that."""
    warm = temperature_c(sheet, at_s)
    rising = at_s < 5.0 + sheet.up_s
    return np.asarray((rising & (warm >= sheet.from_c)) | (~rising & (warm >= sheet.from_c - 10.0)))
