"""The simulated scan tool: codes set by rules from the engine's state, live data, phaser command, sync readout."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from phasko.bench.probe import Probe
from phasko.bench.recorder import true_offsets_deg
from phasko.bench.run import Run
from phasko.bench.scenario import PhaserCommand, Scenario
from phasko.core.errors import RefusedError

__all__ = ["Code", "FreezeFrame", "LiveData", "command_phaser", "read_codes", "read_live", "sync_readout_deg"]

CORRELATION_DEG = 9.0
OVER_RETARDED_DEG = 8.0
CORRELATION_CODES = {1: "P0016", 2: "P0018"}
OVER_ADVANCED_CODES = {"A": {1: "P0011", 2: "P0021"}, "B": {1: "P0014", 2: "P0024"}}
OVER_RETARDED_CODES = {"A": {1: "P0012", 2: "P0022"}, "B": {1: "P0015", 2: "P0025"}}
"""SAE J2012 (from memory): camshaft A is the intake's, B the exhaust's."""
EXHAUST_CORRELATION_CODES = {1: "P0017", 2: "P0019"}
Status = Literal["current", "pending", "stored"]


@dataclass(frozen=True, slots=True)
class FreezeFrame:
    """What the control unit kept of the moment when it set a code."""

    time_s: float
    rpm: float
    manifold_bar: float
    battery_v: float


@dataclass(frozen=True, slots=True)
class Code:
    """A code with its public standard title (SAE J2012) and status."""

    code: str
    title: str
    status: Status
    freeze_frame: FreezeFrame


@dataclass(frozen=True, slots=True)
class LiveData:
    """One reading of the live data; cam angles as the control unit computes them from its signals."""

    rpm: float
    manifold_bar: float
    battery_v: float
    cam_deg: Mapping[str, float]
    synchronised: bool


def read_codes(run: Run, probes: tuple[Probe, ...] = ()) -> tuple[Code, ...]:
    """Codes that this run would leave behind. ``probes`` tell which sensors fail; their faults are the sensors' own."""
    found: list[tuple[str, str, Status]] = []
    offsets = true_offsets_deg(run)
    turning = run.rpm > 80.0
    status: Status = "current" if np.count_nonzero(turning) * (run.times_s[1] - run.times_s[0]) > 1.5 else "pending"
    for cam in run.engine.cams:
        if abs(offsets[cam.id]) > CORRELATION_DEG:
            table = EXHAUST_CORRELATION_CODES if cam.shaft == "exhaust" else CORRELATION_CODES
            sensor = "B" if cam.shaft == "exhaust" else "A"
            title = f"Crankshaft position - camshaft position correlation, bank {cam.bank} sensor {sensor}"
            found.append((table.get(cam.bank, "P0016"), title, status))
        fault = run.faults.drive.phasers.get(cam.id)
        if fault is None or cam.phaser is None:
            continue
        # One that was driven may come back to rest short of its park, towards where it was driven to.
        away = sum(cam.phaser.authority_deg)
        rests = fault.park_deg + (
            np.sign(away) * fault.rests_off_deg if cam.id in run.scenario.phaser_commands else 0.0
        )
        if fault.stuck or abs(rests) > OVER_RETARDED_DEG:
            late = rests > 0.0
            code = (OVER_RETARDED_CODES if late else OVER_ADVANCED_CODES)["B" if cam.shaft == "exhaust" else "A"][
                1 if cam.bank == 1 else 2
            ]
            what = "over-retarded" if late else "over-advanced or system performance"
            found.append((code, f"Camshaft position timing {what}, bank {cam.bank}", status))
    for probe in probes:
        if probe.hall.fault.dead_from_s < run.times_s[-1]:
            code, what = ("P0335", "Crankshaft") if probe.role == "crank" else ("P0340", "Camshaft")
            found.append((code, f"{what} position sensor A circuit", "stored"))
    for cylinder, weak in run.faults.cylinders.items():
        if run.scenario.fuel and (weak.plug == "out" or weak.ring_leak_mm2 > 8.0 or weak.no_fuel):
            found.append((f"P030{cylinder}", f"Cylinder {cylinder} misfire detected", status))
    frame = _frame(run, float(run.times_s[-1]) * 0.6)
    unique = dict.fromkeys(found)
    return tuple(Code(code, title, state, frame) for code, title, state in unique)


def read_live(run: Run, time_s: float) -> LiveData:
    """Live data at one moment. Raises RefusedError outside the run."""
    if not 0.0 <= time_s <= run.times_s[-1]:
        raise RefusedError(f"The run lasts from 0 to {run.times_s[-1]:.1f} s")
    frame = _frame(run, time_s)
    slot = int(np.clip(np.searchsorted(run.slot_times_s, time_s, side="right") - 1, 0, run.sparks.size - 1))
    return LiveData(frame.rpm, frame.manifold_bar, frame.battery_v, true_offsets_deg(run), bool(run.sparks[slot]))


def sync_readout_deg(run: Run, *, distributor_degrees: bool = False) -> float:
    """The offset of the sync drive as the tool shows it, in crank or in distributor degrees (half as many)."""
    error = run.faults.drive.sync_deg - run.faults.drive.crank_wheel_deg
    return error / 2 if distributor_degrees else error


def command_phaser(scenario: Scenario, cam: str, command: PhaserCommand) -> Scenario:
    """The same scenario with that phaser driven; the others stay parked."""
    earlier = scenario.phaser_commands.get(cam, ())
    return replace(scenario, phaser_commands={**scenario.phaser_commands, cam: (*earlier, command)})


def _frame(run: Run, time_s: float) -> FreezeFrame:
    def at(values: np.ndarray) -> float:
        return float(np.interp(time_s, run.times_s, values))

    return FreezeFrame(time_s, at(run.rpm), at(run.plenum_pa) / 1e5, at(run.battery_v))
