"""The gas in one cylinder while the piston moves: heat to the walls, leak past the rings, flow through one valve.

Many sets of parameters are followed side by side, one a column, so that a fit costs one pass.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.documents.engine import EngineProfile, Geometry
from phasko.core.engine.gas_torque import usual_geometry
from phasko.core.engine.slider_crank import cylinder_volume

__all__ = ["Chamber", "Opening", "followed_bar", "heat_capacity_v", "mass_flow", "swept_m3"]

_R = 287.05
"""J/(kg K), dry air (ISO 2533:1975)."""
_CRITICAL = 0.528282
"""Pressure ratio at which a nozzle chokes, gamma 1.4 (Heywood 1988, appendix C)."""
_COLDEST_K = 100.0
_STRAIGHT = 0.995
"""Above this ratio the root of the flow is straightened, so that its slope stays finite."""


def swept_m3(engine: EngineProfile) -> float:
    """Swept volume of one cylinder in m3, by the geometry."""
    shape = usual_geometry(engine)
    return float(np.pi / 4.0 * (shape.bore_mm / 1000.0) ** 2 * shape.stroke_mm / 1000.0)


@dataclass(frozen=True, slots=True, eq=False)
class Chamber:
    """What the gas is in: the engine's geometry, its swept volume (m3), the walls' temperature (K), the crank's speed
    at every angle (rpm)."""

    shape: Geometry
    swept_m3: float
    wall_k: float
    speed_rpm: Floats

    @classmethod
    def of(cls, engine: EngineProfile, speed_rpm: Floats, wall_k: float) -> Chamber:
        """That of an engine at the speeds ``speed_rpm``, of shape (points,) in rpm, and walls of ``wall_k`` in K."""
        return cls(usual_geometry(engine), swept_m3(engine), wall_k, speed_rpm)

    def usual_clearance(self, hose_m3: float) -> float:
        """Clearance over the geometry's, with crevices, adapter and the volume of a hose (m3)."""
        geometry_m3 = self.swept_m3 / (self.shape.compression_ratio - 1.0)
        return numbers.CREVICE_FACTOR.value + hose_m3 / geometry_m3

    def step_s(self) -> Floats:
        """How long each step of one degree takes, of shape (points,) in s."""
        return np.asarray(1.0 / (6.0 * self.speed_rpm))

    def volume_m3(self, after_tdc_deg: Floats, clearance: Floats) -> Floats:
        """Volumes at angles after top dead centre (deg); ``clearance``: that volume over the geometry's (unitless).
        Any shape, alike."""
        usual = 1.0 / (self.shape.compression_ratio - 1.0)
        flat = cylinder_volume(np.ravel(after_tdc_deg), self.shape)[0].reshape(np.shape(after_tdc_deg))
        return np.asarray((flat - usual + usual * clearance) * self.swept_m3)


@dataclass(frozen=True, slots=True, eq=False)
class Opening:
    """A valve into a space of its own: effective area (m2) and pressure there (Pa), both (points, columns), and the
    temperature there (K)."""

    area_m2: Floats
    pressure_pa: Floats
    temperature_k: float


def followed_bar(
    chamber: Chamber,
    volume_m3: Floats,
    start_pa: Floats,
    start_k: float,
    losses: tuple[Floats, Floats],
    valves: Sequence[Opening] = (),
) -> Floats:
    """Pressure at every angle, absolute, of shape (points, columns) in bar, from ``start_pa`` (columns,) at the first
    one on. ``volume_m3`` (points, columns); ``losses``: heat transfer over the usual one and leak in mm2, (columns,)
    each.

    First law for an ideal gas in small steps: compression, heat after Hohenberg (SAE 790825, 1979; a third of it for
    a cranked engine, own estimate) and flow through openings (Heywood 1988, appendix C, equations C.8 and C.9), the
    flow damped so that large valves stay stable. Vibrations of the molecules: Einstein's function.
    """
    heat, leak_mm2 = losses
    points, columns = volume_m3.shape
    out = np.empty((points, columns))
    temperature = np.full(columns, start_k)
    pressure = start_pa.copy()
    mass = pressure * volume_m3[0] / (_R * temperature)
    out[0] = pressure
    bore, stroke = chamber.shape.bore_mm / 1000.0, chamber.shape.stroke_mm / 1000.0
    piston_m_s = 2.0 * stroke * float(chamber.speed_rpm.mean()) / 60.0
    stirred = numbers.CRANKED_HEAT_FACTOR.value * heat * (piston_m_s + 1.4) ** 0.8
    crowns = 2.2 * np.pi / 4.0 * bore * bore
    seconds = chamber.step_s()
    outside_pa = 1e5
    for i in range(1, points):
        volume, dt = volume_m3[i], seconds[i]
        cv = heat_capacity_v(temperature)
        temperature = temperature * (volume_m3[i - 1] / volume) ** (_R / cv)
        pressure = mass * _R * temperature / volume
        leaked = dt * mass_flow(leak_mm2 * 1e-6, pressure, temperature, outside_pa)
        walls = crowns + 4.0 * volume / bore
        coefficient = stirred * volume**-0.06 * (pressure * 1e-5) ** 0.8 * temperature**-0.4
        gained = coefficient * walls * (chamber.wall_k - temperature) * dt - _R * temperature * leaked
        change = -leaked
        for step, source_k in _exchanged(valves, i, pressure, temperature, dt * 1.4 * _R * temperature / volume):
            change = change - dt * step
            # What flows out takes its enthalpy along, what flows in brings it.
            gained = gained - dt * step * ((cv + _R) * source_k - cv * temperature)
        # A step of a fit that goes too far must come back as a bad fit, not as no number.
        temperature = np.maximum(temperature + gained / (mass * cv), _COLDEST_K)
        mass = np.maximum(mass + change, 0.01 * mass)
        pressure = mass * _R * temperature / volume
        out[i] = pressure
    return np.asarray(out * 1e-5)


def _exchanged(
    valves: Sequence[Opening], at: int, pressure: Floats, temperature: Floats, rise: Floats
) -> list[tuple[Floats, Floats]]:
    """Flow (kg/s) through every valve, and the temperature (K) of the side it comes from, over one step: as it is at
    the end of the step, so that wide valves stay stable. ``rise``: what a flow would change the pressure by, Pa per
    kg/s."""
    flows, slopes, sources = [], [], []
    for valve in valves:
        there = valve.pressure_pa[at]
        source_k = np.where(pressure > there, temperature, valve.temperature_k)
        flow = mass_flow(0.5 * (valve.area_m2[at - 1] + valve.area_m2[at]), pressure, source_k, there)
        flows.append(flow)
        slopes.append(_stiffness(flow, pressure, there))
        sources.append(source_k)
    change = -rise * sum(flows) / (1.0 + rise * sum(slopes))
    return [(flow + slope * change, source) for flow, slope, source in zip(flows, slopes, sources, strict=True)]


def _stiffness(flow: Floats, pressure: Floats, there: Floats) -> Floats:
    """How the flow changes with the pressure (kg/s per Pa)."""
    high = np.maximum(pressure, there)
    apart = np.abs(pressure - there)
    share = np.where(apart < (1.0 - _STRAIGHT) * high, 1.0, 0.5)
    return np.asarray(share * np.abs(flow) / np.maximum(apart, 1e-4 * high))


def mass_flow(area_m2: Floats, inside_pa: Floats, source_k: Floats, outside_pa: Floats | float) -> Floats:
    """Flow through openings in kg/s, outwards positive: isentropic nozzle with choking (Heywood 1988, appendix C).
    Areas in m2, pressures in Pa, temperature of the side it comes from in K; any shape, alike."""
    high, low = np.maximum(inside_pa, outside_pa), np.minimum(inside_pa, outside_pa)
    ratio = low / high
    at = np.clip(ratio, _CRITICAL, _STRAIGHT)
    root = np.sqrt(7.0 * (at ** (2.0 / 1.4) - at ** (2.4 / 1.4)))
    flow = area_m2 * high / np.sqrt(_R * source_k) * root
    flow = np.where(ratio > _STRAIGHT, flow * (1.0 - ratio) / (1.0 - _STRAIGHT), flow)
    return np.asarray(np.where(inside_pa >= outside_pa, flow, -flow))


def heat_capacity_v(temperature_k: Floats) -> Floats:
    """Heat capacity of air at constant volume, J/(kg K), of any shape: 5/2 R and the thawed vibrations of nitrogen
    (3390 K) and oxygen (2270 K) by Einstein's function (Atkins and de Paula, Physical Chemistry; from memory)."""
    shares = 0.79 * _einstein(3390.0 / temperature_k) + 0.21 * _einstein(2270.0 / temperature_k)
    return np.asarray(_R * (2.5 + shares))


def _einstein(x: Floats) -> Floats:
    e = np.exp(x)
    return np.asarray(x * x * e / ((e - 1.0) * (e - 1.0)))
