"""From a run to the voltage on each lead, before the scope's converter."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from phasko.bench.arrays import Floats
from phasko.bench.machine import AMBIENT_PA
from phasko.bench.probe import Probe
from phasko.bench.run import Run
from phasko.bench.sensors.coil import coil_drive_voltage, coil_primary_voltage
from phasko.bench.sensors.hall import hall_voltage
from phasko.bench.sensors.inductive import inductive_voltage
from phasko.bench.sensors.transducers import coupled_ac
from phasko.bench.sensors.wheels import EdgePassing, WheelEdges, edge_passings, tooth_edges
from phasko.core.documents.engine import Cam

__all__ = ["channel_voltage", "crank_wheel_late_deg", "spark_times_s", "sync_deg", "target_errors_deg"]


_NOISE_SHARE = {"cylinder_pressure": 0.2, "starter_current": 0.05}
"""How much of the usual noise a sensor with its own amplifier lets through."""


def channel_voltage(run: Run, probe: Probe, at_s: Floats, rng: np.random.Generator) -> Floats:
    """What the lead carries at the times ``at_s``, in its own unit (V, bar)."""
    volts = _SOURCES[probe.role](run, probe, at_s, rng)
    step = float(at_s[1] - at_s[0])
    disturbance = probe.disturbance
    volts = volts + _NOISE_SHARE.get(probe.role, 1.0) * disturbance.noise_v * rng.standard_normal(at_s.size)
    if disturbance.hum_v:
        volts = volts + disturbance.hum_v * np.sin(2 * np.pi * 50.0 * at_s + rng.uniform(0, 2 * np.pi))
    if disturbance.spark_spike_v:
        for spark in np.concatenate([spark_times_s(run, c) for c in run.engine.firing_tdc_deg]).tolist():
            first = int(np.searchsorted(at_s, spark))
            since = at_s[first : first + 40] - spark
            volts[first : first + 40] += disturbance.spark_spike_v * np.exp(-since / 3e-5) * np.cos(2e5 * since)
    loose = (at_s >= disturbance.loose_from_s) & (at_s < disturbance.loose_to_s)
    if loose.any():
        volts[loose] *= np.repeat(rng.random(-(-int(loose.sum()) // 300)) > 0.5, 300)[: int(loose.sum())]
    if probe.ac:
        volts = coupled_ac(volts, step)
    return volts / probe.attenuator


def crank_wheel_late_deg(run: Run) -> float:
    """How late the crank's signal wheel really is: its fault, a turned hub, and this engine's own error of index."""
    own = np.random.default_rng([run.seed, 2]).standard_normal() * run.spread.index_deg
    return run.faults.drive.crank_wheel_deg + run.faults.drive.crank_hub_deg + float(own)


def spark_times_s(run: Run, cylinder: int, doubles_until_s: float = 0.0) -> Floats:
    """When the coil of that cylinder fires, where the control unit does not withhold it.

    Wasted sparks are included, and those of every turn until ``doubles_until_s``, while the cycle is not known yet.
    """
    ignition = run.engine.ignition.type if run.engine.ignition else "coil_on_plug"
    if ignition == "none":
        return np.empty(0)
    once = _sparks_every(run, cylinder, 360.0 if ignition == "wasted_spark" else 720.0)
    if doubles_until_s <= 0.0:
        return once
    every_turn = _sparks_every(run, cylinder, 360.0)
    return np.union1d(once, every_turn[every_turn < doubles_until_s])


def _sparks_every(run: Run, cylinder: int, period: float) -> Floats:
    tdc = run.engine.firing_tdc_deg[cylinder]
    spark = np.interp(run.times_s, run.slot_times_s, run.spark_deg[: run.slot_times_s.size])
    phase = run.angles_deg - tdc - spark
    turns = np.floor(phase / period)
    rows = np.flatnonzero((turns[1:] > turns[:-1]) & (run.speed_rad_s[1:] > 3.0))
    share = (period * turns[rows + 1] - phase[rows]) / (phase[rows + 1] - phase[rows])
    times = run.times_s[rows] + share * (run.times_s[1] - run.times_s[0])
    slot = np.clip(np.searchsorted(run.slot_times_s, times, side="right") - 1, 0, run.sparks.size - 1)
    return np.asarray(times[run.sparks[slot]])


def _crank(run: Run, probe: Probe, at_s: Floats, rng: np.random.Generator) -> Floats:
    crank = run.engine.crank
    teeth = np.array(crank.known_wheel.angles_deg) + (crank.index_deg or 0.0) + crank_wheel_late_deg(run)
    width = crank.tooth_deg if crank.tooth_deg is not None else (crank.known_wheel.pitch_deg or 6.0) / 2
    own = np.random.default_rng([run.seed, 3])
    run_out = run.spread.run_out_deg * np.sin(np.radians(teeth) + own.uniform(0, 2 * np.pi))
    inductive = crank.sensor == "vr"
    return _wheel(
        run=run,
        probe=probe,
        at_s=at_s,
        rng=rng,
        teeth_deg=teeth + run_out,
        width_deg=width,
        timing_edge=crank.timing_edge,
        period_deg=360.0,
        inductive=inductive,
        own=own,
    )


def _aux(run: Run, probe: Probe, at_s: Floats, rng: np.random.Generator) -> Floats:
    wheel = next(w for w in run.engine.aux_wheels if w.id == probe.wheel)
    period = 360.0 if wheel.turns_with == "crank" else 720.0
    late = crank_wheel_late_deg(run) if wheel.turns_with == "crank" else run.faults.drive.sync_deg
    teeth = np.array(wheel.teeth_deg) + late
    return _wheel(
        run=run,
        probe=probe,
        at_s=at_s,
        rng=rng,
        teeth_deg=teeth,
        width_deg=4.0,
        timing_edge=wheel.timing_edge,
        period_deg=period,
        inductive=wheel.sensor == "vr",
        own=np.random.default_rng([run.seed, 4]),
    )


def _wheel(  # noqa: PLR0913, PLR0917
    run: Run,
    probe: Probe,
    at_s: Floats,
    rng: np.random.Generator,
    teeth_deg: Floats,
    width_deg: float,
    timing_edge: str,
    period_deg: float,
    inductive: bool,
    own: np.random.Generator,
) -> Floats:
    if inductive:
        half = abs(width_deg) / 2
        edges = tooth_edges(teeth_deg - half, 2 * half, "rising", period_deg, own, run.spread.tooth_deg)
        phase = np.interp(at_s, run.times_s, run.angles_deg)
        speed = np.interp(at_s, run.times_s, run.speed_rad_s)
        volts = inductive_voltage(phase, speed, edges, probe.inductive)
        return volts if timing_edge == "falling" else 2 * probe.inductive.bias_v - volts
    edges = tooth_edges(teeth_deg, width_deg, timing_edge, period_deg, own, run.spread.tooth_deg)
    return _hall(run, probe, at_s, edge_passings(run.times_s, run.angles_deg, edges), rng)


def _hall(run: Run, probe: Probe, at_s: Floats, passing: EdgePassing, rng: np.random.Generator) -> Floats:
    """Every pick-up of one engine lags by the same time besides its own."""
    pickup = replace(probe.hall, lag_s=probe.hall.lag_s + run.spread.sensor_lag_s)
    return hall_voltage(at_s, passing, pickup, rng)


def _cam(run: Run, probe: Probe, at_s: Floats, rng: np.random.Generator) -> Floats:
    cam = run.engine.cam(probe.cam or "")
    assert cam is not None, probe.cam
    placed = run.cams[cam.id]
    shift = np.interp(run.times_s, run.slot_times_s, placed.valves_deg) + placed.signal_deg + sync_deg(run, cam)
    phase = run.angles_deg - shift
    deg = np.array([edge.deg for edge in cam.edges]) + target_errors_deg(run, cam)
    if cam.sensor == "vr":
        edges = tooth_edges(deg - 3.0, 6.0, "rising", 720.0, rng, 0.0)
        at_phase = np.interp(at_s, run.times_s, phase)
        volts = inductive_voltage(at_phase, np.interp(at_s, run.times_s, run.speed_rad_s), edges, probe.inductive)
        return volts if cam.edges[0].kind == "falling" else 2 * probe.inductive.bias_v - volts
    order = np.argsort(deg % 720.0)
    rises = np.array([edge.kind == "rising" for edge in cam.edges])
    edges = WheelEdges((deg % 720.0)[order], rises[order], 720.0)
    return _hall(run, probe, at_s, edge_passings(run.times_s, phase, edges), rng)


def target_errors_deg(run: Run, cam: Cam) -> Floats:
    """How far each edge of this engine's cam wheel stands from the profile."""
    own = np.random.default_rng([run.seed, 5, sum(cam.id.encode())])
    return np.asarray(run.spread.edge_deg * own.standard_normal(len(cam.edges)))


def sync_deg(run: Run, cam: Cam) -> float:
    """A misclocked sync drive moves the one cam signal it carries."""
    driven = run.engine.drive is not None and run.engine.drive.type == "distributor_gear"
    return run.faults.drive.sync_deg if driven and cam.shaft == "single" else 0.0


def _coil(run: Run, probe: Probe, at_s: Floats, rng: np.random.Generator) -> Floats:  # noqa: ARG001
    sparks = spark_times_s(run, probe.cylinder or 1, probe.coil.doubles_until_s)
    if probe.signal == "drive":
        return coil_drive_voltage(at_s, sparks, probe.coil)
    battery = np.interp(at_s, run.times_s, run.battery_v)
    return coil_primary_voltage(at_s, sparks, battery, probe.coil)


def _injector(run: Run, probe: Probe, at_s: Floats, rng: np.random.Generator) -> Floats:  # noqa: ARG001
    """Battery, pulled to ground while it injects: from 300 degrees before firing TDC for four milliseconds."""
    tdc = run.engine.firing_tdc_deg[probe.cylinder or 1]
    cycle = np.floor((np.interp(at_s, run.times_s, run.angles_deg) - tdc + 300.0) / 720.0)
    volts = np.interp(at_s, run.times_s, run.battery_v)
    fires = run.injects[np.clip(np.searchsorted(run.slot_times_s, at_s, side="right") - 1, 0, run.injects.size - 1)]
    for start in at_s[np.flatnonzero(np.diff(cycle) > 0) + 1].tolist():
        inside = (at_s >= start) & (at_s < start + 4e-3) & fires
        volts[inside] = 0.3
    return volts


def _starter_current(run: Run, probe: Probe, at_s: Floats, rng: np.random.Generator) -> Floats:  # noqa: ARG001
    amperes = np.interp(at_s, run.times_s, run.starter_a)
    return probe.clamp.voltage(amperes, float(at_s[1] - at_s[0]))


def _battery(run: Run, probe: Probe, at_s: Floats, rng: np.random.Generator) -> Floats:  # noqa: ARG001
    return np.interp(at_s, run.times_s, run.battery_v)


def _cylinder_pressure(run: Run, probe: Probe, at_s: Floats, rng: np.random.Generator) -> Floats:  # noqa: ARG001
    pressure = np.interp(at_s, run.times_s, run.cylinders_pa[probe.cylinder or 1])
    return probe.transducer.bar(pressure, AMBIENT_PA, float(at_s[1] - at_s[0]))


def _pulse(which: str) -> Callable[[Run, Probe, Floats, np.random.Generator], Floats]:
    def voltage(run: Run, probe: Probe, at_s: Floats, rng: np.random.Generator) -> Floats:  # noqa: ARG001
        pressure = np.interp(at_s, run.times_s, getattr(run, which))
        return probe.pulse.voltage(pressure, float(at_s[1] - at_s[0]))

    return voltage


def _phaser_command(run: Run, probe: Probe, at_s: Floats, rng: np.random.Generator) -> Floats:  # noqa: ARG001
    now_s = at_s + run.scenario.record_from_s
    share = np.zeros(at_s.size)
    for command in run.scenario.phaser_commands.get(probe.cam or "", ()):
        share[(now_s >= command.from_s) & (now_s < command.to_s)] = abs(command.share)
    return probe.solenoid.voltage(share, now_s)


def _oil(run: Run, probe: Probe, at_s: Floats, rng: np.random.Generator) -> Floats:  # noqa: ARG001
    """Oil pressure in bar: it follows the pump's speed up to its valve, and is lower hot."""
    rpm = np.interp(at_s, run.times_s, run.rpm)
    bar = (0.0035 if run.scenario.temperature == "cold" else 0.002) * rpm
    return np.asarray(np.minimum(bar, 4.2))


_SOURCES: dict[str, Callable[[Run, Probe, Floats, np.random.Generator], Floats]] = {
    "crank": _crank,
    "aux": _aux,
    "cam": _cam,
    "coil": _coil,
    "injector": _injector,
    "starter_current": _starter_current,
    "battery_voltage": _battery,
    "cylinder_pressure": _cylinder_pressure,
    "intake_pulse": _pulse("plenum_pa"),
    "exhaust_pulse": _pulse("exhaust_pa"),
    "crankcase_pulse": _pulse("crankcase_pa"),
    "phaser_command": _phaser_command,
    "other": _oil,
}
