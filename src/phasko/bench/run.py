"""Runs the virtual engine through a scenario: what really happened, before any sensor looked at it."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from phasko.bench.arrays import Floats
from phasko.bench.faults import EngineFaults, Spread
from phasko.bench.machine import build_machine, is_diesel, throttle_area_m2
from phasko.bench.physics.inputs import Inputs
from phasko.bench.scenario import Scenario
from phasko.bench.timing_drive import CamPlacement, cam_placements
from phasko.core.documents import EngineProfile

__all__ = ["MassBalance", "Run", "run_engine"]


STEP_S = 4.0e-5
SLOT_STEPS = 25
OUT_OF_STEP_DEG = 10.0
RUNNING_RPM = 480.0


@dataclass(frozen=True, slots=True)
class MassBalance:
    """Gas in the engine at start and end, and what passed its borders, in kg."""

    start_kg: float
    end_kg: float
    entered_kg: float
    left_kg: float

    @property
    def error_share(self) -> float:
        """What is unaccounted for, over what passed."""
        return abs(self.end_kg - self.start_kg - self.entered_kg + self.left_kg) / max(self.entered_kg, 1e-9)


@dataclass(frozen=True, slots=True, eq=False)
class Run:
    """The truth over time, in even steps: ``angles_deg`` with cylinder 1's firing TDC at multiples of 720."""

    engine: EngineProfile
    scenario: Scenario
    faults: EngineFaults
    spread: Spread
    seed: int
    times_s: Floats
    angles_deg: Floats
    speed_rad_s: Floats
    starter_a: Floats
    battery_v: Floats
    plenum_pa: Floats
    exhaust_pa: Floats
    crankcase_pa: Floats
    cylinders_pa: Mapping[int, Floats]
    slot_times_s: Floats
    cams: Mapping[str, CamPlacement]
    sparks: NDArray[np.bool_]
    injects: NDArray[np.bool_]
    spark_deg: Floats
    balance: MassBalance

    @property
    def rpm(self) -> Floats:
        return self.speed_rad_s * 30.0 / math.pi


def run_engine(
    engine: EngineProfile,
    scenario: Scenario,
    seed: int,
    *,
    faults: EngineFaults | None = None,
    spread: Spread | None = None,
    step_s: float = STEP_S,
) -> Run:
    """Turns the key. The same seed gives the same run to the bit.

    ``step_s`` is the step of the integration; a picture that must follow a hand bears a coarser one.

    The starter is released once the engine runs by itself, so a start is run twice: the first pass finds when.
    """
    # The compiler takes half a second to load: whoever only describes an engine does without.
    from phasko.bench.physics.kernel import simulate

    faults, spread = faults or EngineFaults(), spread or Spread()
    rng = np.random.default_rng([seed, 1])
    steps = round(scenario.duration_s / step_s)
    slots = -(-steps // SLOT_STEPS) + 1
    slot_times = np.asarray(np.arange(slots) * step_s * SLOT_STEPS, dtype=np.float64)
    machine = build_machine(engine, faults, scenario, spread, rng)
    cams = cam_placements(engine, faults.drive, scenario, spread, slot_times, rng)
    out = np.empty((steps, 7 + engine.cylinders))
    released_s = scenario.starter_to_s
    start = (scenario.start_deg, scenario.start_rpm * math.pi / 30.0)
    for _ in range(2):
        inputs, sparks = _inputs(engine, scenario, faults, cams, slot_times, released_s)
        balance = simulate(machine, inputs, start, step_s, out)
        fast = np.flatnonzero(out[:, 1] * 30.0 / math.pi > RUNNING_RPM)
        if not scenario.fuel or not fast.size or fast[0] * step_s >= released_s:
            break
        released_s = float(fast[0]) * step_s + 0.05
    first = round(scenario.record_from_s / step_s)
    kept = out[first:]
    return Run(
        engine=engine,
        scenario=scenario,
        faults=faults,
        spread=spread,
        seed=seed,
        times_s=np.asarray(np.arange(kept.shape[0]) * step_s, dtype=np.float64),
        angles_deg=kept[:, 0],
        speed_rad_s=kept[:, 1],
        starter_a=kept[:, 2],
        battery_v=kept[:, 3],
        plenum_pa=kept[:, 4],
        exhaust_pa=kept[:, 5],
        crankcase_pa=kept[:, 6],
        cylinders_pa={cylinder: kept[:, 7 + i] for i, cylinder in enumerate(engine.firing_tdc_deg)},
        slot_times_s=slot_times - scenario.record_from_s,
        cams=cams,
        sparks=sparks,
        injects=inputs.ignites,
        spark_deg=inputs.spark_deg,
        balance=MassBalance(balance[0], balance[1], balance[2] + balance[5], balance[3] + balance[4]),
    )


def _inputs(
    engine: EngineProfile,
    scenario: Scenario,
    faults: EngineFaults,
    cams: Mapping[str, CamPlacement],
    times_s: Floats,
    released_s: float,
) -> tuple[Inputs, NDArray[np.bool_]]:
    """What the driver and the control unit do.

    It sparks from the second turn on; it withholds spark and injection when any cam signal is further out of step
    than it tolerates, and injection while the pedal is down (clear-flood).
    """
    starter = (times_s >= scenario.starter_from_s) & (times_s < min(scenario.starter_to_s, released_s))
    in_step = all(_signal_error_deg(faults, placed) < OUT_OF_STEP_DEG for placed in cams.values())
    # Of an engine that turns already the control unit knows the cycle.
    synced = times_s >= (0.0 if scenario.start_rpm else scenario.starter_from_s + 0.45)
    sparks = synced & in_step
    injects = sparks & scenario.fuel & (scenario.throttle < 0.8)
    running = (times_s >= released_s) & scenario.fuel
    # It times from the crank wheel: one that sits late, alone or with its hub, makes the spark late.
    wheel_late = faults.drive.crank_wheel_deg + faults.drive.crank_hub_deg
    late = wheel_late + (faults.drive.sync_deg if _distributor(engine) else 0.0)
    spark = np.where(running, -14.0, _cranking_spark_deg(engine)) + late
    opened = 1.0 if is_diesel(engine) else scenario.throttle
    area = np.full(times_s.size, throttle_area_m2(engine, opened, faults.intake_blocked_share))
    snapped = (times_s >= scenario.snap_from_s) & (times_s < scenario.snap_to_s)
    area[snapped] = throttle_area_m2(engine, 1.0, faults.intake_blocked_share)
    shifts = np.array([placed.valves_deg for placed in cams.values()] or [np.zeros(times_s.size)])
    target = np.where(injects, scenario.target_rpm, 0.0)
    return Inputs(
        every=SLOT_STEPS,
        throttle_m2=area,
        target_rpm=target,
        starter=starter,
        ignites=injects,
        spark_deg=spark,
        cam_shift_deg=shifts,
    ), sparks


def _signal_error_deg(faults: EngineFaults, placed: CamPlacement) -> float:
    """How far a cam signal is from where the control unit expects it, phaser included, at its calmest."""
    return float(
        np.abs(placed.valves_deg + placed.signal_deg - faults.drive.crank_wheel_deg - faults.drive.crank_hub_deg).min()
    )


def _distributor(engine: EngineProfile) -> bool:
    return engine.ignition is not None and engine.ignition.type == "distributor"


def _cranking_spark_deg(engine: EngineProfile) -> float:
    window = engine.ignition.cranking_spark_deg if engine.ignition else None
    return -6.0 if window is None else 0.5 * (window[0] + window[1])
