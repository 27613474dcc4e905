"""Integrates the whole engine in time: gas of every cylinder, plenum, exhaust, crankcase, crank and starter.

Heun's method with a fixed step. Masses are moved between volumes by the same flows on both sides, so that the total
changes only by what passes throttle, tailpipe and crankcase breather.
"""

from __future__ import annotations

import math

import numpy as np
from numba import njit

from phasko.bench.arrays import Floats
from phasko.bench.physics.gas import GAS_CONSTANT, heat_capacity_v, orifice_flow
from phasko.bench.physics.inputs import Inputs, Machine
from phasko.bench.physics.slider_crank import volume_and_slope
from phasko.bench.physics.valves import lift_mm, valve_area

__all__ = ["simulate"]


DEG = math.pi / 180.0


@njit(cache=True, error_model="numpy")
def _heat_transfer(p: float, t: float, v: float, speed: float, area: float, wall_k: float) -> float:
    """Heat into the gas from the wall, W (Hohenberg 1979, SAE 790825).

    His factor 130 holds for a fired engine; a cranked one, without flame and swirl, is given a third (own estimate).
    """
    # The powers of the formula in one exponential: this is the dearest line of the whole bench.
    h = 40.0 * math.exp(0.8 * math.log(p * 1e-5 * (speed + 1.4)) - 0.06 * math.log(v) - 0.4 * math.log(t))
    return h * area * (wall_k - t)


@njit(cache=True, error_model="numpy")
def _flow_between(area: float, p: Floats, t: Floats, cv: Floats, a: int, b: int, dm: Floats, heat: Floats) -> float:
    """Moves gas between volumes a and b; returns the flow from a to b, kg/s. ``heat`` gathers enthalpy less u."""
    if area <= 0.0:
        return 0.0
    if p[a] >= p[b]:
        flow = orifice_flow(area, p[a], t[a], p[b])
        source, sink = a, b
    else:
        flow = orifice_flow(area, p[b], t[b], p[a])
        source, sink = b, a
    dm[source] -= flow
    dm[sink] += flow
    heat[source] -= flow * GAS_CONSTANT * t[source]
    between = 0.5 * (cv[source] + cv[sink])
    heat[sink] += flow * (GAS_CONSTANT * t[source] + between * (t[source] - t[sink]))
    return flow if source == a else -flow


@njit(cache=True, error_model="numpy")
def _slopes(
    time: float,
    slot: int,
    machine: Machine,
    inputs: Inputs,
    m: Floats,
    t: Floats,
    crank: Floats,
    burning: Floats,
    dm: Floats,
    dt: Floats,
    dcrank: Floats,
    v: Floats,
    heat: Floats,
    boundary: Floats,
    p: Floats,
    cv: Floats,
) -> float:
    """Rates of change of everything; returns the gas torque. ``crank`` is angle (deg), speed (rad/s), current (A)."""
    n = machine.cylinders.shape[0]
    plenum, exhaust, case, outside = n, n + 1, n + 2, n + 3
    dm[:] = 0.0
    heat[:] = 0.0
    angle, omega, current = crank[0], crank[1], crank[2]
    v[plenum], v[exhaust], v[case], v[outside] = machine.plenum_m3, machine.exhaust_m3, machine.crankcase_m3, 1.0
    t[outside] = machine.ambient_k
    m[outside] = machine.ambient_pa / (GAS_CONSTANT * machine.ambient_k)
    torque = 0.0
    mean_speed = 2.0 * 2.0 * machine.radius * abs(omega) / (2.0 * math.pi)
    for k in range(n + 4):
        cv[k] = heat_capacity_v(t[k])
        if k >= n:
            p[k] = m[k] * GAS_CONSTANT * t[k] / v[k]
    for i in range(n):
        c = machine.cylinders[i]
        own = angle - c[0]
        v[i], slope = volume_and_slope(own * DEG, machine.radius, machine.rod, machine.offset, machine.bore_area, c[1])
        p[i] = m[i] * GAS_CONSTANT * t[i] / v[i]
        torque += (p[i] - p[case]) * slope
        heat[i] -= p[i] * slope * omega
        area = 2.0 * machine.bore_area * machine.piston_area_factor + 4.0 * v[i] * math.sqrt(
            math.pi / (4.0 * machine.bore_area)
        )
        heat[i] += _heat_transfer(p[i], t[i], v[i], mean_speed, area, machine.wall_k)
        intake = lift_mm(own - inputs.cam_shift_deg[machine.cam_of_intake[i], slot], c[2], c[3], c[4], c[5])
        outlet = lift_mm(own - inputs.cam_shift_deg[machine.cam_of_exhaust[i], slot], c[6], c[7], c[8], c[9])
        open_in = valve_area(intake, machine.intake_valve_mm, machine.valves_each, 0.65) * c[14] + c[11]
        open_out = valve_area(outlet, machine.exhaust_valve_mm, machine.valves_each, 0.65) * c[15] + c[12]
        ring = c[10]
        if c[16] <= time < c[17]:
            ring += c[18]
        _flow_between(open_in, p, t, cv, i, plenum, dm, heat)
        _flow_between(open_out, p, t, cv, i, exhaust, dm, heat)
        _flow_between(ring, p, t, cv, i, case, dm, heat)
        boundary[3] += _flow_between(c[13], p, t, cv, outside, i, dm, heat)
        if burning[i, 1] > 0.0:
            x = (angle - burning[i, 0]) / machine.burn_deg
            if 0.0 <= x < 1.3:
                rate = 5.0 * 3.0 * x * x * math.exp(-5.0 * x * x * x) / machine.burn_deg
                heat[i] += burning[i, 1] * rate * omega / DEG
    throttle = inputs.throttle_m2[slot]
    if inputs.target_rpm[slot] > 0.0 and not machine.governs_fuel:
        short = (inputs.target_rpm[slot] - abs(omega) * 30.0 / math.pi) / inputs.target_rpm[slot]
        throttle *= min(max(1.0 + 2.5 * short, 0.3), 3.0)
    boundary[0] += _flow_between(throttle, p, t, cv, outside, plenum, dm, heat)
    boundary[1] += _flow_between(machine.tailpipe_m2, p, t, cv, exhaust, outside, dm, heat)
    boundary[2] += _flow_between(machine.breather_m2, p, t, cv, case, outside, dm, heat)
    # The crankcase breathes with the pistons; its gas stays at its temperature, walls are wide and oily.
    heat[case] = 0.0
    for k in range(n + 3):
        dt[k] = heat[k] / (m[k] * cv[k])
    # Manifold and exhaust walls hold their gas near a temperature of their own.
    dt[plenum] += (machine.ambient_k - t[plenum]) * 4.0
    dt[exhaust] += (machine.wall_k - t[exhaust]) * 2.0
    dt[case] = 0.0
    friction = machine.friction_nm + machine.friction_nms * abs(omega)
    engaged = inputs.starter[slot]
    drive = 0.0
    dcurrent = -current / 0.004
    if engaged:
        # Above its no-load speed the pinion's clutch overruns: the engine never drives the motor.
        back = min(machine.motor_nm_per_a * max(omega, 0.0), 0.97 * machine.battery_v)
        supply = machine.battery_v - (machine.battery_ohm + machine.line_ohm) * current
        dcurrent = (supply - back) / machine.inductance_h
        drive = max(0.0, machine.motor_efficiency * machine.motor_nm_per_a * current)
    dcrank[0] = omega / DEG
    dcrank[1] = (torque + drive - friction * math.tanh(omega / 0.4)) / machine.inertia
    dcrank[2] = dcurrent
    return torque


@njit(cache=True, error_model="numpy")
def _ignite(
    machine: Machine, inputs: Inputs, slot: int, before: float, now: float, omega: float, m: Floats, burning: Floats
) -> None:
    """Starts the burn of every cylinder whose spark lies between two angles; a governor meters a diesel's fuel."""
    charge = machine.heat_j_per_kg_air
    if machine.governs_fuel and inputs.target_rpm[slot] > 0.0:
        short = (inputs.target_rpm[slot] - omega * 30.0 / math.pi) / inputs.target_rpm[slot]
        charge *= min(max(0.16 + 1.2 * short, 0.0), 0.7)
    for i in range(machine.cylinders.shape[0]):
        at = machine.cylinders[i, 0] + inputs.spark_deg[slot]
        if math.floor((now - at) / 720.0) > math.floor((before - at) / 720.0):
            burns = inputs.ignites[slot] and machine.cylinders[i, 19] > 0.5
            burning[i, 0] = now
            burning[i, 1] = m[i] * charge if burns else 0.0


@njit(cache=True, error_model="numpy")
def simulate(machine: Machine, inputs: Inputs, start: tuple[float, float], dt_s: float, out: Floats) -> Floats:
    """Fills ``out`` (steps, 7 + cylinders) from ``start`` (deg, rad/s) on; returns the mass balance in kg.

    It is (start, end, in, out, breathed, plugs).

    Columns: angle deg, speed rad/s, current A, battery V, plenum Pa, exhaust Pa, crankcase Pa, cylinders Pa.
    """
    n = machine.cylinders.shape[0]
    size = n + 4
    m, t, v = np.empty(size), np.empty(size), np.empty(size)
    start_deg = start[0]
    crank = np.array([start_deg, start[1], 0.0])
    burning = np.zeros((n, 2))
    t[:n] = machine.ambient_k
    t[n:] = machine.ambient_k
    v[n], v[n + 1], v[n + 2], v[n + 3] = machine.plenum_m3, machine.exhaust_m3, machine.crankcase_m3, 1.0
    for i in range(n):
        c = machine.cylinders[i]
        v[i], _ = volume_and_slope(
            (start_deg - c[0]) * DEG, machine.radius, machine.rod, machine.offset, machine.bore_area, c[1]
        )
    for k in range(size):
        m[k] = machine.ambient_pa * v[k] / (GAS_CONSTANT * t[k])
    balance = np.zeros(6)
    balance[0] = m[: n + 3].sum()
    dm1, dt1, dm2, dt2 = np.zeros(size), np.zeros(size), np.zeros(size), np.zeros(size)
    heat, p, cv = np.zeros(size), np.zeros(size), np.zeros(size)
    dc1, dc2 = np.zeros(3), np.zeros(3)
    flows1, flows2 = np.zeros(4), np.zeros(4)
    m1, t1, c1 = np.empty(size), np.empty(size), np.empty(3)
    for step in range(out.shape[0]):
        slot = step // inputs.every
        time = step * dt_s
        flows1[:] = 0.0
        _slopes(time, slot, machine, inputs, m, t, crank, burning, dm1, dt1, dc1, v, heat, flows1, p, cv)
        out[step, 0], out[step, 1], out[step, 2] = crank[0], crank[1], crank[2]
        out[step, 3] = machine.battery_v - machine.battery_ohm * (crank[2] + machine.accessory_a)
        for k in range(3):
            out[step, 4 + k] = m[n + k] * GAS_CONSTANT * t[n + k] / v[n + k]
        for i in range(n):
            out[step, 7 + i] = m[i] * GAS_CONSTANT * t[i] / v[i]
        for k in range(size):
            m1[k], t1[k] = m[k] + dt_s * dm1[k], t[k] + dt_s * dt1[k]
        for k in range(3):
            c1[k] = crank[k] + dt_s * dc1[k]
        flows2[:] = 0.0
        _slopes(time + dt_s, slot, machine, inputs, m1, t1, c1, burning, dm2, dt2, dc2, v, heat, flows2, p, cv)
        before = crank[0]
        for k in range(n + 3):
            m[k] += 0.5 * dt_s * (dm1[k] + dm2[k])
            t[k] += 0.5 * dt_s * (dt1[k] + dt2[k])
        for k in range(3):
            crank[k] += 0.5 * dt_s * (dc1[k] + dc2[k])
        if not inputs.starter[slot]:
            crank[2] = max(crank[2], 0.0)
        for k in range(4):
            balance[2 + k] += 0.5 * dt_s * (flows1[k] + flows2[k])
        _ignite(machine, inputs, slot, before, crank[0], crank[1], m, burning)
    balance[1] = m[: n + 3].sum()
    return balance
