"""Where the pistons stand, from the crank's own speed: compression slows it up to top dead centre, expansion speeds it
up from there."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from phasko.core import numbers
from phasko.core.angles import wrap
from phasko.core.arrays import Floats
from phasko.core.cycle.angle_grid import STEPS, CrankingCycles, grid_deg
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.gas_torque import LowTorque, leaking_torque
from phasko.core.uncertainty import NORMAL_95

__all__ = ["SpeedTdc", "tdc_by_speed"]

StarterSource = Literal["starter_current", "battery_voltage", "crank_speed"]

_FINE_STEPS = 1440
_HIGHEST_PER_FIRING = 4
_WAVES_PER_TOOTH = 0.8
"""Waves per cycle, over the wheel's teeth per turn: beyond that the teeth no longer carry the speed."""


@dataclass(frozen=True, slots=True)
class SpeedTdc:
    """How late the wheel's index passes against what the profile says, by the pistons (deg, late positive), with its 95
    % half width; which share of the speed's swing the model explains; and how the starter's own torque was known."""

    index_offset_deg: float
    u95_deg: float
    explained: float
    cycles: int
    starter: StarterSource


def tdc_by_speed(
    cycles: CrankingCycles,
    engine: EngineProfile,
    relative: Mapping[int, float] | None,
    starter: tuple[StarterSource, Floats] | None,
) -> SpeedTdc | None:
    """The wheel's place by the pistons; ``None`` where the speed does not show it.

    The crank's kinetic energy changes by the work of the gas, of the starter and of friction. Over settled cycles its
    waves per 720 degrees are fitted, by least squares, with the torque of every cylinder at its own top dead centre,
    turned by one angle for all: that angle is what the wheel stands off. ``relative``: how much each cylinder
    compresses (1 healthy), ``None`` where cylinders have no names. ``starter``: what its torque follows, of shape
    (STEPS,) over the mean cycle; without it, the motor's own law: less torque the faster it turns, a little behind it.

    Gas is not symmetric: leak and heat turn its torque back by the loss angle. A sound cylinder's usual leak is part of
    the shape, the rest of it is ``LOSS_ANGLE_DEG``; what is not known of it is most of the half width.
    Reciprocating masses act symmetrically about top dead centre and weigh a thousandth at cranking speed. Energy
    balance of a crank: Heywood 1988, section 2.2, and Taylor, The Internal Combustion Engine, volume 2, chapter 8, from
    memory.
    """
    teeth = len(engine.crank.known_wheel.angles_deg)
    waves = min(_HIGHEST_PER_FIRING * engine.cylinders, int(_WAVES_PER_TOOTH * teeth), STEPS // 4)
    if waves < numbers.TDC_WAVES_LEAST.value * engine.cylinders:
        return None
    speed = cycles.speed_rad_s
    order = np.arange(1, waves + 1)
    weight = np.asarray(order**-0.5, dtype=np.float64)
    swing = _torque_waves(speed, waves) * weight
    usual = starter if starter is not None else ("crank_speed", _behind(speed.mean(axis=0)))
    shapes = _shapes(engine, relative, waves)
    found = _best_turn(swing, shapes, [_waves(usual[1], waves) * weight], weight, engine)
    if found.drive_share < 0.0:
        # A starter that pushed more the less it draws would be no starter.
        found = _best_turn(swing, shapes, [], weight, engine)
    if 1.0 - found.misfit < numbers.TDC_EXPLAINED_LEAST.value or found.at_border:
        return None
    sd = _sd_deg(cycles, engine, relative, usual[0], teeth, found.misfit)
    return SpeedTdc(
        index_offset_deg=-found.turn_deg - numbers.LOSS_ANGLE_DEG.value,
        u95_deg=NORMAL_95 * sd,
        explained=1.0 - found.misfit,
        cycles=speed.shape[0],
        starter=usual[0],
    )


@dataclass(frozen=True, slots=True)
class _Fit:
    turn_deg: float
    misfit: float
    drive_share: float
    at_border: bool


def _shapes(engine: EngineProfile, relative: Mapping[int, float] | None, waves: int) -> list[tuple[float, Floats]]:
    """(TDC, waves of its torque about it) of every cylinder, as much as it compresses; all alike without names."""
    leaking = leaking_torque(engine)
    sound = _shape_waves(leaking, 1.0, waves, engine)
    found = []
    for cylinder, tdc_deg in engine.firing_tdc_deg.items():
        share = 1.0 if relative is None else max(0.02, relative.get(cylinder, 1.0))
        low = share < numbers.COMPRESSION_WEAK_BELOW.value
        shape = _shape_waves(leaking, share, waves, engine) if low else sound
        found.append((tdc_deg, share * shape))
    return found


def _shape_waves(leaking: LowTorque, share: float, waves: int, engine: EngineProfile) -> Floats:
    after = grid_deg(engine.cylinders)[0] + 720.0 / _FINE_STEPS * np.arange(_FINE_STEPS)
    return _waves(leaking.at(wrap(after, 720.0), max(0.02, numbers.SOUND_LEAK_LEFT.value * share)), waves)


def _waves(values: Floats, waves: int) -> Floats:
    """Complex waves 1 to ``waves`` per cycle of values over a cycle."""
    return np.asarray(np.fft.fft(values)[1 : waves + 1] / values.size)


def _torque_waves(speed_rad_s: Floats, waves: int) -> Floats:
    """Waves of the torque per inertia: of the slope of the kinetic energy over the crank angle. What the speed gained
    or lost from one cycle to the next is taken out, so that the mean cycle closes."""
    energy = 0.5 * speed_rad_s**2
    mean = energy.mean(axis=0)
    if energy.shape[0] > 1:
        mean = mean - np.diff(energy.mean(axis=1)).mean() * (np.arange(STEPS) / STEPS - 0.5)
    return np.asarray(_waves(mean, waves) * 0.5j * np.arange(1, waves + 1))


def _behind(speed_rad_s: Floats) -> Floats:
    """What a motor's torque follows: less, the faster, behind the speed by its winding's time."""
    order = np.fft.fftfreq(STEPS, 1.0 / STEPS)
    lag = 0.5j * order * float(speed_rad_s.mean()) * numbers.STARTER_LAG_S.value
    return np.asarray(-np.fft.ifft(np.fft.fft(speed_rad_s) / (1.0 + lag)).real)


def _best_turn(
    swing: Floats,
    shapes: Sequence[tuple[float, Floats]],
    drive: Sequence[Floats],
    weight: Floats,
    engine: EngineProfile,
) -> _Fit:
    """The angle by which all cylinders' torques fit best, on a grid and then between its points."""
    order = np.arange(1, swing.size + 1)
    gas = np.sum([shape * np.exp(-0.5j * order * math.radians(tdc)) for tdc, shape in shapes], axis=0) * weight
    reach = min(numbers.TDC_REACH_DEG.value, 0.45 * 720.0 / engine.cylinders)
    target = np.concatenate([swing.real, swing.imag])

    def fitted(turn_deg: float) -> tuple[float, float]:
        columns = np.array([gas * np.exp(-0.5j * order * math.radians(turn_deg)), *drive]).T
        table = np.vstack([columns.real, columns.imag])
        solved = np.linalg.lstsq(table, target, rcond=None)[0]
        left = target - table @ solved
        return float(left @ left / (target @ target)), float(solved[1]) if drive else 0.0

    grid = np.arange(-reach, reach + 0.5, 1.0)
    every = np.array([fitted(turn)[0] for turn in grid.tolist()])
    best = int(every.argmin())
    if best in (0, grid.size - 1):
        return _Fit(float(grid[best]), float(every[best]), 0.0, True)
    # Three points around the lowest one make a parabola; a second, closer one removes what the first leaves.
    middle, step = float(grid[best]), 1.0
    for _ in range(2):
        low, at, high = (fitted(middle + d)[0] for d in (-step, 0.0, step))
        curve = low - 2.0 * at + high
        middle += 0.5 * step * (low - high) / curve if curve > 0.0 else 0.0
        step = 0.2
    misfit, share = fitted(middle)
    return _Fit(middle, misfit, share, False)


def _sd_deg(
    cycles: CrankingCycles,
    engine: EngineProfile,
    relative: Mapping[int, float] | None,
    starter: StarterSource,
    teeth: int,
    misfit: float,
) -> float:
    """One standard deviation: loss angle, starter, cylinders that are low or not told apart, teeth per firing, and what
    the model leaves unexplained."""
    low = relative is None or min(relative.values(), default=1.0) < numbers.COMPRESSION_WEAK_BELOW.value
    per_firing = 2.0 * teeth / engine.cylinders
    return math.sqrt(
        numbers.LOSS_ANGLE_SD_DEG.value**2
        + (numbers.TDC_STARTER_SD_DEG.value if starter == "crank_speed" else 0.0) ** 2
        + (numbers.TDC_LOW_SD_DEG.value if low else 0.0) ** 2
        + (numbers.TDC_TEETH_SD_DEG.value / per_firing) ** 2
        + (numbers.TDC_MISFIT_SD_DEG.value**2) * misfit / cycles.speed_rad_s.shape[0] ** 0.5
    )
