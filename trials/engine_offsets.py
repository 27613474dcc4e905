"""Cam offsets of every engine of the pool and some coarse wheels, on the physical bench, with their truth."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache

import numpy as np

from phasko.bench.faults import DriveFaults, EngineFaults, Spread
from phasko.bench.pool import pool_engine, pool_engines
from phasko.bench.probe import Disturbance, Probe
from phasko.bench.recorder import ScopeSettings, record_run
from phasko.bench.run import Run, run_engine
from phasko.bench.scenario import Scenario, clear_flood_cranking, idling, snapping
from phasko.bench.scope import BenchCapture
from phasko.bench.sensors.hall import HallFault, HallPickup
from phasko.core.capture.steps import measure_capture
from phasko.core.documents import EngineProfile
from phasko.core.signals.recording import Channel, Recording

EXACT = Spread(edge_deg=0.0, tooth_deg=0.0, run_out_deg=0.0, chain_jitter_deg=0.0)


AS_BUILT = Spread()


REALISTIC = Spread(tooth_deg=0.1, chain_jitter_deg=0.2)


QUIET = Disturbance(noise_v=0.012)


FINE = ScopeSettings(bits=14)


SOUND = HallFault()


@dataclass(frozen=True)
class Class:
    """A condition and a way to record."""

    name: str
    scenario: Scenario
    spread: Spread = EXACT
    scope: ScopeSettings = FINE
    disturbance: Disturbance = QUIET
    fault: HallFault = SOUND


CLASSES = [
    Class("exact engine, clean", clear_flood_cranking(4.0)),
    Class("clean", clear_flood_cranking(4.0), AS_BUILT),
    Class("noisy", clear_flood_cranking(4.0), AS_BUILT, disturbance=Disturbance(noise_v=0.15, hum_v=0.1)),
    Class("8 bit", clear_flood_cranking(4.0), AS_BUILT, scope=ScopeSettings(bits=8)),
    Class("20 kS/s", clear_flood_cranking(4.0), AS_BUILT, scope=ScopeSettings(rate_hz=20_000.0)),
    Class("cranking, teeth 0.1, jitter 0.2", clear_flood_cranking(4.0), REALISTIC),
    Class("idle, teeth 0.1, jitter 0.2", idling(2.0), REALISTIC),
    Class("snap, teeth 0.1, jitter 0.2", snapping(), REALISTIC),
    Class(
        "dirty",
        clear_flood_cranking(4.0),
        REALISTIC,
        ScopeSettings(bits=8),
        Disturbance(noise_v=0.2, hum_v=0.15),
        HallFault(dropped_share=0.005, added_per_s=2.0),
    ),
]


COARSE = {"4 slots": {"slots": 4}, "8 slots": {"slots": 8}, "6-1": {"slots": 6, "missing": [6]}}


@cache
def engines() -> tuple[EngineProfile, ...]:
    """The pool, and its four and six with coarse wheels."""
    pool = [pool_engine(name) for name in pool_engines()]
    for name in ("corvane-2.1-four", "brimholt-3.2-six"):
        known = pool_engine(name).model_dump(by_alias=True, exclude_none=True)
        for label, wheel in COARSE.items():
            crank = {**known["crank"], "wheel": wheel, "tooth_deg": 8.0}
            pool.append(EngineProfile.model_validate({**known, "name": f"{known['name']} {label}", "crank": crank}))
    return tuple(pool)


def wheel_class(engine: EngineProfile) -> str:
    """Fine: pitch up to 10 and gap up to 30 degrees; other wheels by whether they have a dozen teeth."""
    angles = np.array(engine.crank.wheel.angles_deg)
    gaps = np.diff(np.append(angles, angles[0] + 360.0))
    if np.median(gaps) <= 10.0 and gaps.max() <= 30.0:
        return "fine"
    return "12 teeth or more" if angles.size >= 12 else "fewer than 12"


def as_recording(capture: BenchCapture) -> Recording:
    described = capture.description
    channels = tuple(Channel(d, capture.columns[d.column]) for d in described.channels)
    return Recording("bench", described, 0.0, capture.interval_s, channels)


def turned(row: Class, engine: EngineProfile, seed: int) -> Run:
    """The engine with its cams slipped anywhere and its crank wheel a little off."""
    rng = np.random.default_rng([seed, 5])
    slipped = {cam.id: float(rng.uniform(-40, 40)) for cam in engine.cams}
    drive = DriveFaults(slipped_deg=slipped, crank_wheel_deg=float(rng.uniform(-4, 4)))
    return run_engine(engine, row.scenario, seed, faults=EngineFaults(drive=drive), spread=row.spread)


def captured(row: Class, run: Run) -> BenchCapture:
    """Crank and up to three cams of that run."""
    pickup = HallPickup(fault=row.fault)
    probes = [Probe("crank", hall=pickup, disturbance=row.disturbance)]
    probes += [Probe("cam", cam=c.id, disturbance=row.disturbance) for c in run.engine.cams[:3]]
    return record_run(run, probes, row.scope)


def lasting_offset_deg(run: Run, capture: BenchCapture, cam: str) -> float:
    """What the cam reads apart from how a slack strand happened to move while it was recorded: the cycles are a sample,
    and what a few of them say about the engine is what the offset's uncertainty is about."""
    recorded = run.slot_times_s >= 0.0
    return capture.true_cam_offsets_deg[cam] - float(np.mean(run.cams[cam].wander_deg[recorded]))


@dataclass(frozen=True)
class Reading:
    """One cam in one segment: error and u95 in deg, or not read."""

    row: str
    wheel: str
    engine: str
    seed: int
    segment: str
    error: float
    u95: float
    read: bool = True


def measured(row: Class, run: Run, seed: int) -> Iterator[Reading]:
    """Every cam offset of one capture against the truth, modulo what the wheel leaves open."""
    engine, capture = run.engine, captured(row, run)
    result = measure_capture(as_recording(capture), engine)
    about = (row.name, wheel_class(engine), engine.name, seed)
    seen = {reading.cam.id for reading in result.cams if reading.offset is not None}
    for reading in result.cams:
        if reading.offset is None:
            continue
        modulo = reading.ambiguous_modulo_deg or 360.0
        off = reading.offset.offset.value - lasting_offset_deg(run, capture, reading.cam.id)
        error = (off + modulo / 2) % modulo - modulo / 2
        yield Reading(*about, reading.segment, error, reading.offset.offset.u95)
    for cam in engine.cams[:3]:
        if cam.id not in seen:
            yield Reading(*about, "none", 0.0, 0.0, read=False)


def readings_of_row(row: Class, engine: int, seed: int) -> list[Reading]:
    """All readings of one capture of a class: ``engine`` is its place among ``engines()``."""
    return list(measured(row, turned(row, engines()[engine], seed), seed))
