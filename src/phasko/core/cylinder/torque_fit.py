"""What gas does to a cranked engine's speed, wave by wave, and by which angle it must be turned to fit."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.cycle.angle_grid import CrankingCycles, grid_deg
from phasko.core.cylinder.cranked_torque import OWN_DEG, CrankedTorque, cranked_torque
from phasko.core.cylinder.gas_model import swept_m3
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.filling import serving_cams

__all__ = ["Cranked", "GasWaves", "TurnFit", "gas_turned", "turned_by", "waves_of"]


_LATE_STEP_DEG = 0.5
"""Valves that move alike within this share one torque."""


@dataclass(frozen=True, slots=True, eq=False)
class Cranked:
    """The engine as it was cranked: its settled ``cycles``, how much each cylinder compresses (``relative``, 1 healthy;
    ``None`` where cylinders have no names), the temperature of its walls (K), and by how much each cam was read late
    (deg), against the wheel. ``torques`` keeps what was followed already."""

    cycles: CrankingCycles
    engine: EngineProfile
    relative: Mapping[int, float] | None
    walls_k: float
    cams_late: Mapping[str, float] = field(default_factory=dict)
    torques: dict[tuple[float, float], CrankedTorque] = field(default_factory=dict)

    def torque(self, bank: int, index_deg: float) -> CrankedTorque:
        """That of the cylinders of a bank, their valves counted from the pistons with the wheel late by
        ``index_deg``."""
        late = [
            self.cams_late[cam] + index_deg if cam in self.cams_late else 0.0
            for cam in (name or "" for name in serving_cams(self.engine, bank))
        ]
        intake, exhaust = (_LATE_STEP_DEG * round(one / _LATE_STEP_DEG) for one in late)
        if (intake, exhaust) not in self.torques:
            made = cranked_torque(self.engine, self._folded_rpm(), self.walls_k, (intake, exhaust))
            self.torques[intake, exhaust] = made
        return self.torques[intake, exhaust]

    def _folded_rpm(self) -> Floats:
        """The mean speed (rpm) about a cylinder's TDC, all firings folded on one, (720,) over ``OWN_DEG``."""
        mean = self.cycles.speed_rad_s.mean(axis=0) * 30.0 / math.pi
        grid = grid_deg(self.engine.cylinders)
        tdcs = self.engine.firing_tdc_deg.values()
        return np.asarray(np.mean([np.interp(OWN_DEG + tdc, grid, mean, period=720.0) for tdc in tdcs], axis=0))


@dataclass(frozen=True, slots=True)
class TurnFit:
    """The angle (deg) by which gas torque fits turned, the share of the swing that it leaves, and how much of gas and
    of the starter's drive there is in it; ``at_border``: the best one lies at the end of what was tried."""

    turn_deg: float
    misfit: float
    gas_share: float
    drive_share: float
    at_border: bool = False

    @property
    def tells(self) -> bool:
        """Whether it explains enough to tell where the pistons are, with gas that drives as gas does."""
        explained = 1.0 - self.misfit >= numbers.TDC_EXPLAINED_LEAST.value
        return explained and not self.at_border and self.gas_share > 0.0


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


def gas_turned(cranked: Cranked, fit: Callable[[GasWaves], TurnFit], waves: int) -> tuple[GasWaves, TurnFit]:
    """The torque of all cylinders and the angle by which ``fit`` finds it turned; the second time with the valves where
    the first one puts them, since cams are read against the wheel and valves move against the pistons."""
    found = fit(_gas_waves(cranked, 0.0, waves))
    gas = _gas_waves(cranked, -found.turn_deg - numbers.LOSS_ANGLE_DEG.value, waves)
    return gas, fit(gas)


def _gas_waves(cranked: Cranked, index_deg: float, waves: int) -> GasWaves:
    """Torque of every cylinder at its TDC, as much as it compresses; all alike without names."""
    engine, relative = cranked.engine, cranked.relative
    order = np.arange(1, waves + 1)
    total = np.zeros(waves, dtype=np.complex128)
    peaks = []
    for cylinder, tdc_deg in engine.firing_tdc_deg.items():
        torque = cranked.torque(engine.bank_of[cylinder], index_deg)
        share = 1.0 if relative is None else max(0.02, relative.get(cylinder, 1.0))
        low = share < numbers.COMPRESSION_WEAK_BELOW.value
        shape = torque.at(share if low else 1.0)
        total += share * _waves_about_tdc(shape, waves, engine) * np.exp(-0.5j * order * math.radians(tdc_deg))
        peaks.append(torque.peak_bar)
    return GasWaves(np.asarray(total), 1e5 * float(np.mean(peaks)) * swept_m3(engine))


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

    grid = np.arange(-reach, reach + 0.5, 2.0)
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
