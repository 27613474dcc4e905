"""The simulated scan tool on a drive: idle, part load, two pulls at full throttle, as the CSV that it would export."""

from __future__ import annotations

import io
from dataclasses import dataclass

import numpy as np

from phasko.bench.arrays import Floats
from phasko.core.documents import EngineProfile

__all__ = ["Drive", "drive_log_csv"]


OUTSIDE_KPA, OUTSIDE_C = 100.4, 21.0
GAS_CONSTANT_J_PER_KG_K = 287.05
IDLE_RPM, SHIFT_RPM = 780.0, 5400.0


@dataclass(frozen=True, slots=True)
class Drive:
    """How the car breathes: the best share of its displacement that it fills, what the intake and the exhaust cost at
    full flow (shares), what the air-flow meter reads of the truth, readings a second."""

    best_fill: float = 0.88
    intake_blocked: float = 0.0
    exhaust_blocked: float = 0.0
    meter_reads: float = 1.0
    rate_hz: float = 4.0
    displacement_l: float = 2.0


def drive_log_csv(engine: EngineProfile, drive: Drive, seed: int) -> bytes:
    """Seventy seconds of log. Moments come unevenly, as a scan tool asks one value after the other."""
    rng = np.random.default_rng([seed, 21])
    count = round(70.0 * drive.rate_hz)
    times = np.cumsum(rng.uniform(0.7, 1.3, count)) / drive.rate_hz
    rpm = np.interp(times, [0, 10, 14, 30, 34, 42, 44, 52, 54, 62, 64, 70], _RPM)
    throttle = np.interp(times, [0, 10, 12, 30, 33, 34, 41.5, 42, 53, 54, 61.5, 62, 70], _THROTTLE)
    litres = engine.displacement_l or drive.displacement_l
    full = _fill(rpm, drive)
    share = np.clip(0.16 + 0.84 * (throttle / 85.0) ** 0.6, 0.0, 1.0)
    fill = full * share
    density = 1000.0 * OUTSIDE_KPA / (GAS_CONSTANT_J_PER_KG_K * (OUTSIDE_C + 273.15))
    air_g_s = fill * density * litres * rpm / 120.0
    flow = rpm / SHIFT_RPM
    before = 1.0 - drive.intake_blocked * flow**2 * (throttle > 60.0)
    manifold = OUTSIDE_KPA * np.clip(before * (0.28 + 0.70 * share), 0.0, 1.0)
    seen = air_g_s * drive.meter_reads * (1.0 + 0.01 * rng.standard_normal(count))
    trim = np.clip((1.0 / drive.meter_reads - 1.0) * 100.0, -25.0, 25.0)
    short = 1.5 * rng.standard_normal(count)
    load = 100.0 * seen / (density * 0.95 * litres * np.maximum(rpm, 300.0) / 120.0)
    out = io.StringIO()
    out.write(
        "Time (s),Engine speed (rpm),Vehicle speed (km/h),Calculated load (%),MAF (g/s),MAP (kPa),"
        "Barometric pressure (kPa),Intake air temperature (C),Coolant temperature (C),Throttle (%),"
        "Short term fuel trim (%),Long term fuel trim (%)\n"
    )
    for i in range(count):
        row = (
            f"{times[i]:.2f},{rpm[i]:.0f},{max(0.0, (rpm[i] - IDLE_RPM) / 62.0):.0f},{min(load[i], 100.0):.1f},"
            f"{seen[i]:.2f},{manifold[i]:.0f},{OUTSIDE_KPA:.0f},{OUTSIDE_C:.0f},{min(92, 84 + i // 20):d},"
            f"{throttle[i]:.1f},{short[i]:.1f},{trim:.1f}"
        )
        out.write(row + "\n")
    return out.getvalue().encode()


_RPM = (IDLE_RPM, IDLE_RPM, 2000, 2400, 1800, SHIFT_RPM, 2600, 2300, 1900, SHIFT_RPM, 2200, IDLE_RPM)
_THROTTLE = (14.0, 14.0, 26.0, 26.0, 20.0, 86.0, 86.0, 18.0, 22.0, 86.0, 86.0, 16.0, 14.0)


def _fill(rpm: Floats, drive: Drive) -> Floats:
    """Share of the displacement that is filled at full throttle: a parabola over speed, less what is blocked, which
    costs more the more flows."""
    free = drive.best_fill * (1.0 - ((rpm - 3800.0) / 7600.0) ** 2)
    blocked = drive.intake_blocked + drive.exhaust_blocked
    return np.asarray(free * (1.0 - blocked * np.sqrt(np.clip(rpm / SHIFT_RPM, 0.0, 1.0))))
