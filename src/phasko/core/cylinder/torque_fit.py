"""What gas does to a cranked engine's speed, wave by wave, and by which angle it must be turned to fit."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.cycle.angle_grid import CrankingCycles, grid_deg
from phasko.core.cylinder.cranked_torque import OWN_DEG, CrankedTorque, cranked_torque
from phasko.core.cylinder.gas_model import swept_m3
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.filling import serving_cams

__all__ = ["Cranked", "GasWaves", "TurnFit", "folded_rpm", "gas_turned", "gas_waves", "turned_by", "waves_of"]


@dataclass(frozen=True, slots=True)
class Cranked:
    """What else is known of the engine as it was cranked: temperature of its walls (K), and by how much each cam was
    read late (deg), against the wheel."""

    walls_k: float
    cams_late: Mapping[str, float] = field(default_factory=dict)

    def against_pistons(self, index_deg: float) -> Cranked:
        """The same with the wheel late by ``index_deg``."""
        return replace(self, cams_late={cam: late + index_deg for cam, late in self.cams_late.items()})


@dataclass(frozen=True, slots=True)
class TurnFit:
    turn_deg: float
    misfit: float
    gas_share: float
    drive_share: float
    at_border: bool = False


@dataclass(frozen=True, slots=True, eq=False)
class GasWaves:
    """Waves of all cylinders' torque, (waves,), and what one of its units is in N m."""

    waves: Floats
    unit_nm: float


def turned_by(swing: Floats, drive: Floats, gas: Floats, engine: EngineProfile) -> TurnFit:
    """The angle (deg) by which the gas fits the swing best beside the starter's drive; all of shape (waves,), the swing
    in any unit (rad2/s2 of the crank's energy, or A)."""
    found = _best_turn(swing, gas, [drive], engine)
    # A starter that pushed more the less it draws would be no starter.
    return found if found.drive_share >= 0.0 else _best_turn(swing, gas, [], engine)


def gas_turned(
    cycles: CrankingCycles,
    engine: EngineProfile,
    relative: Mapping[int, float] | None,
    cranked: Cranked,
    fit: Callable[[GasWaves], TurnFit],
    waves: int,
) -> tuple[GasWaves, TurnFit]:
    """The torque of all cylinders and the angle by which ``fit`` finds it turned; the second time with the valves where
    the first one puts them, since cams are read against the wheel and valves move against the pistons."""
    gas = gas_waves(engine, relative, waves, folded_rpm(cycles, engine), cranked)
    found = fit(gas)
    if not cranked.cams_late:
        return gas, found
    there = cranked.against_pistons(-found.turn_deg - numbers.LOSS_ANGLE_DEG.value)
    gas = gas_waves(engine, relative, waves, folded_rpm(cycles, engine), there)
    return gas, fit(gas)


def folded_rpm(cycles: CrankingCycles, engine: EngineProfile) -> Floats:
    """The mean speed (rpm) about a cylinder's TDC, all firings folded on one, of shape (720,) over
    ``OWN_DEG``."""
    mean = cycles.speed_rad_s.mean(axis=0) * 30.0 / math.pi
    grid = grid_deg(engine.cylinders)
    own = [np.interp(OWN_DEG + tdc, grid, mean, period=720.0) for tdc in engine.firing_tdc_deg.values()]
    return np.asarray(np.mean(own, axis=0))


def gas_waves(
    engine: EngineProfile, relative: Mapping[int, float] | None, waves: int, speed_rpm: Floats, cranked: Cranked
) -> GasWaves:
    """Torque of every cylinder at its TDC, as much as it compresses; all alike without names. ``speed_rpm``: of shape
    (720,) in rpm over ``OWN_DEG``."""
    by_bank: dict[int, CrankedTorque] = {}
    order = np.arange(1, waves + 1)
    total = np.zeros(waves, dtype=np.complex128)
    for cylinder, tdc_deg in engine.firing_tdc_deg.items():
        bank = engine.bank_of[cylinder]
        if bank not in by_bank:
            intake, exhaust = (cranked.cams_late.get(cam or "", 0.0) for cam in serving_cams(engine, bank))
            by_bank[bank] = cranked_torque(engine, speed_rpm, cranked.walls_k, (intake, exhaust))
        share = 1.0 if relative is None else max(0.02, relative.get(cylinder, 1.0))
        low = share < numbers.COMPRESSION_WEAK_BELOW.value
        shape = by_bank[bank].at(share if low else 1.0)
        total += share * _waves_about_tdc(shape, waves, engine) * np.exp(-0.5j * order * math.radians(tdc_deg))
    peak = float(np.mean([one.peak_bar for one in by_bank.values()]))
    return GasWaves(np.asarray(total), 1e5 * peak * swept_m3(engine))


def _waves_about_tdc(torque: Floats, waves: int, engine: EngineProfile) -> Floats:
    """Waves of a torque over ``OWN_DEG``, on the grid on which those of the speed stand."""
    order = np.arange(1, waves + 1)
    return np.asarray(
        waves_of(torque, waves) * np.exp(0.5j * order * math.radians(grid_deg(engine.cylinders)[0] + 360.0))
    )


def waves_of(values: Floats, waves: int) -> Floats:
    """Complex waves 1 to ``waves`` per cycle of values over a cycle, of shape (points,): (waves,), in the values' own
    unit (rad/s, N m, A)."""
    return np.asarray(np.fft.fft(values)[1 : waves + 1] / values.size)


def _best_turn(
    swing: Floats,
    gas: Floats,
    drive: Sequence[Floats],
    engine: EngineProfile,
) -> TurnFit:
    """The angle by which all cylinders' torques fit best, on a grid and then between its points."""
    order = np.arange(1, swing.size + 1)
    reach = min(numbers.TDC_REACH_DEG.value, 0.45 * 720.0 / engine.cylinders)
    target = np.concatenate([swing.real, swing.imag])

    def fitted(turn_deg: float) -> tuple[float, float, float]:
        columns = np.array([gas * np.exp(-0.5j * order * math.radians(turn_deg)), *drive]).T
        table = np.vstack([columns.real, columns.imag])
        solved = np.linalg.lstsq(table, target, rcond=None)[0]
        left = target - table @ solved
        return float(left @ left / (target @ target)), float(solved[0]), float(solved[1]) if drive else 0.0

    grid = np.arange(-reach, reach + 0.5, 1.0)
    every = np.array([fitted(turn)[0] for turn in grid.tolist()])
    best = int(every.argmin())
    if best in (0, grid.size - 1):
        return TurnFit(float(grid[best]), float(every[best]), 0.0, 0.0, at_border=True)
    # Three points around the lowest one make a parabola; a second, closer one removes what the first leaves.
    middle, step = float(grid[best]), 1.0
    for _ in range(2):
        low, at, high = (fitted(middle + d)[0] for d in (-step, 0.0, step))
        curve = low - 2.0 * at + high
        middle += 0.5 * step * (low - high) / curve if curve > 0.0 else 0.0
        step = 0.2
    misfit, gas_share, drive_share = fitted(middle)
    return TurnFit(middle, misfit, gas_share, drive_share)
