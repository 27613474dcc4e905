"""An inductive (VR) sensor: the voltage is the change of its flux, so it grows with speed."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import scipy

from phasko.bench.arrays import Floats
from phasko.bench.sensors.wheels import WheelEdges

__all__ = ["InductivePickup", "inductive_voltage"]


_GRID_DEG = 0.02


@dataclass(frozen=True, slots=True)
class InductivePickup:
    """``volt_s_per_rad`` sets the height at a speed; ``bias_v`` a control unit adds; ``mirrored``: probed on the other
    wire; ``dead_wire``: the probed wire is the return and shows next to nothing."""

    volt_s_per_rad: float = 0.06
    bias_v: float = 0.0
    mirrored: bool = False
    dead_wire: bool = False
    narrow_deg: float = 0.9
    wide_deg: float = 7.0


def inductive_voltage(phase_deg: Floats, speed_rad_s: Floats, wheel: WheelEdges, pickup: InductivePickup) -> Floats:
    """Voltage for the wheel's own angle and speed over time.

    The flux follows the metal in front of the pole: sharply from the tooth itself (``narrow_deg``), and weakly from
    a wider stretch of the rim (``wide_deg``), which is even between like teeth and swings at a gap, where half-waves
    are larger. The flux peaks over the middle of a tooth, so there the voltage falls through zero: ``wheel`` has its
    teeth centred on the crossings that the profile gives.
    """
    told = (wheel.deg.tobytes(), wheel.high_after.tobytes(), wheel.period_deg)
    angles, slope = _slope(told, pickup.narrow_deg, pickup.wide_deg)
    own = np.interp(phase_deg % wheel.period_deg, angles, slope)
    volts = pickup.volt_s_per_rad * speed_rad_s * own / 10.0
    if pickup.dead_wire:
        volts = 0.01 * volts
    return np.asarray(pickup.bias_v + (-volts if pickup.mirrored else volts))


@lru_cache(maxsize=8)
def _slope(told: tuple[bytes, bytes, float], narrow_deg: float, wide_deg: float) -> tuple[Floats, Floats]:
    """Change of the flux over one turn of the wheel: angles (deg) and slopes, both (points,).

    Kept for a while: one wheel is recorded again and again, and smoothing it is most of the work.
    """
    wheel = WheelEdges(np.frombuffer(told[0], dtype=np.float64), np.frombuffer(told[1], dtype=np.bool_), told[2])
    grid = np.arange(0.0, wheel.period_deg, _GRID_DEG)
    metal = _metal(grid, wheel)
    flux = scipy.ndimage.gaussian_filter1d(metal, narrow_deg / _GRID_DEG, mode="wrap")
    flux += 2.5 * scipy.ndimage.gaussian_filter1d(metal, wide_deg / _GRID_DEG, mode="wrap")
    slope = np.gradient(np.concatenate([flux, flux[:1]]), np.radians(_GRID_DEG))
    return np.append(grid, wheel.period_deg), np.asarray(slope, dtype=np.float64)


def _metal(grid_deg: Floats, wheel: WheelEdges) -> Floats:
    """Share of metal in each cell about the points of the grid: an edge between two points stands where it is."""
    knots = np.concatenate([wheel.deg - wheel.period_deg, wheel.deg, wheel.deg + wheel.period_deg])
    high = np.tile(wheel.high_after.astype(float), 3)
    covered = np.concatenate([[0.0], np.cumsum(high[:-1] * np.diff(knots))])
    borders = np.append(grid_deg, grid_deg[-1] + _GRID_DEG) - _GRID_DEG / 2
    return np.asarray(np.diff(np.interp(borders, knots, covered)) / _GRID_DEG)
