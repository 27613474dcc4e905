"""Where the pistons stand, from the crank's own speed: compression slows it up to top dead centre, expansion speeds it
up from there."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.cycle.angle_grid import STEPS, grid_deg
from phasko.core.cylinder.torque_fit import Cranked, GasWaves, TurnFit, gas_turned, turned_by, waves_of
from phasko.core.documents.engine import EngineProfile
from phasko.core.uncertainty import NORMAL_95

__all__ = ["FoldedTorque", "SpeedTdc", "tdc_by_speed"]

StarterSource = Literal["starter_current", "battery_voltage", "crank_speed"]

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
    torque: FoldedTorque


@dataclass(frozen=True, slots=True, eq=False)
class FoldedTorque:
    """Gas torque in N m over angles about a TDC as the wheel has it (deg, (points,)): ``measured_nm`` from the crank's
    speed, starter taken off, all firings folded on one; ``model_nm`` what was fitted; both about their mean.
    ``changes_deg``: where the measured one changes its sign. In N m as a sound cylinder's is at this speed."""

    about_deg: Floats
    measured_nm: Floats
    model_nm: Floats
    changes_deg: float | None


def tdc_by_speed(cranked: Cranked, starter: tuple[StarterSource, Floats] | None) -> SpeedTdc | None:
    """The wheel's place by the pistons; ``None`` where the speed does not show it.

    The crank's kinetic energy changes by the work of the gas, of the starter and of friction. Over settled cycles its
    waves per 720 degrees are fitted, by least squares, with the torque of every cylinder at its own top dead centre,
    turned by one angle for all: that angle is what the wheel stands off. ``starter``: what its torque follows, of shape
    (STEPS,) over the mean cycle; without it, the motor's own law: less torque the faster it turns, a little behind it.

    Gas is not symmetric: leak and heat turn its torque back by the loss angle, the more the smaller and slower the
    engine and the higher it compresses. A sound cylinder's usual leak and heat at this speed are part of the shape
    (``cranked_torque``), and so is where its valves shut and open; the rest is ``LOSS_ANGLE_DEG``, and what is not
    known of it is most of the half width.
    Reciprocating masses act symmetrically about top dead centre and weigh a thousandth at cranking speed. Energy
    balance of a crank: Heywood 1988, section 2.2, and Taylor, The Internal Combustion Engine, volume 2, chapter 8, from
    memory.
    """
    engine = cranked.engine
    teeth = len(engine.crank.known_wheel.angles_deg)
    waves = min(_HIGHEST_PER_FIRING * engine.cylinders, int(_WAVES_PER_TOOTH * teeth), STEPS // 4)
    if waves < numbers.TDC_WAVES_LEAST.value * engine.cylinders:
        return None
    speed = cranked.cycles.speed_rad_s
    order = np.arange(1, waves + 1)
    weight = np.asarray(order**-0.5, dtype=np.float64)
    swing = _torque_waves(speed, waves) * weight
    usual = starter if starter is not None else ("crank_speed", _behind(speed.mean(axis=0)))
    drive = waves_of(usual[1], waves) * weight

    def fit(gas: GasWaves) -> TurnFit:
        return turned_by(swing, drive, gas.waves * weight, engine)

    gas, found = gas_turned(cranked, fit, waves)
    if not found.tells:
        return None
    sd = _sd_deg(cranked, usual[0], teeth, found.misfit)
    return SpeedTdc(
        index_offset_deg=-found.turn_deg - numbers.LOSS_ANGLE_DEG.value,
        u95_deg=NORMAL_95 * sd,
        explained=1.0 - found.misfit,
        cycles=speed.shape[0],
        starter=usual[0],
        torque=_folded_torque((swing - found.drive_share * drive) / weight, gas, found, engine),
    )


def _folded_torque(left: Floats, gas: GasWaves, found: TurnFit, engine: EngineProfile) -> FoldedTorque:
    about = np.arange(-90.0, 91.0, 4.0)
    order = np.arange(1, left.size + 1)
    per_nm = gas.unit_nm / found.gas_share
    turned = found.gas_share * gas.waves * np.exp(-0.5j * order * math.radians(found.turn_deg))
    origin = grid_deg(engine.cylinders)[0]
    at = np.array([about + tdc - origin for tdc in engine.firing_tdc_deg.values()])
    waves = np.exp(0.5j * np.radians(at)[:, :, None] * order)
    measured, model = (per_nm * 2.0 * (waves @ part).real.mean(axis=0) for part in (left, turned))
    rises = np.flatnonzero((measured[:-1] < 0.0) & (measured[1:] >= 0.0))
    changes = None
    if rises.size:
        i = int(rises[np.abs(about[rises] + found.turn_deg).argmin()])
        changes = float(about[i] - 4.0 * measured[i] / (measured[i + 1] - measured[i]))
    return FoldedTorque(about, measured, model, changes)


def _torque_waves(speed_rad_s: Floats, waves: int) -> Floats:
    """Waves of the torque per inertia: of the slope of the kinetic energy over the crank angle. What the speed gained
    or lost from one cycle to the next is taken out, so that the mean cycle closes."""
    energy = 0.5 * speed_rad_s**2
    mean = energy.mean(axis=0)
    if energy.shape[0] > 1:
        mean = mean - np.diff(energy.mean(axis=1)).mean() * (np.arange(STEPS) / STEPS - 0.5)
    return np.asarray(waves_of(mean, waves) * 0.5j * np.arange(1, waves + 1))


def _behind(speed_rad_s: Floats) -> Floats:
    """What a motor's torque follows: less, the faster, behind the speed by its winding's time."""
    order = np.fft.fftfreq(STEPS, 1.0 / STEPS)
    lag = 0.5j * order * float(speed_rad_s.mean()) * numbers.STARTER_LAG_S.value
    return np.asarray(-np.fft.ifft(np.fft.fft(speed_rad_s) / (1.0 + lag)).real)


def _sd_deg(cranked: Cranked, starter: StarterSource, teeth: int, misfit: float) -> float:
    """One standard deviation: loss angle, starter, cylinders that are low or not told apart, teeth per firing, and what
    the model leaves unexplained."""
    relative = cranked.relative
    low = relative is None or min(relative.values(), default=1.0) < numbers.COMPRESSION_WEAK_BELOW.value
    per_firing = 2.0 * teeth / cranked.engine.cylinders
    return math.sqrt(
        numbers.LOSS_ANGLE_SD_DEG.value**2
        + (numbers.TDC_STARTER_SD_DEG.value if starter == "crank_speed" else 0.0) ** 2
        + (numbers.TDC_LOW_SD_DEG.value if low else 0.0) ** 2
        + (numbers.TDC_TEETH_SD_DEG.value / per_firing) ** 2
        + (numbers.TDC_MISFIT_SD_DEG.value**2) * misfit / cranked.cycles.speed_rad_s.shape[0] ** 0.5
    )
