"""Relative compression measured on seeded bench engines, beside the pressures of the bench."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from phasko.bench.faults import CylinderFault, EngineFaults, Spread
from phasko.bench.pool import pool_engine
from phasko.bench.probe import Disturbance, Probe
from phasko.bench.recorder import ScopeSettings, record_run
from phasko.bench.run import Run, run_engine
from phasko.bench.scenario import clear_flood_cranking
from phasko.core.capture.steps import measure_capture
from phasko.core.signals.recording import Channel, Recording

SOURCES = ("starter_current", "battery_voltage", "battery_voltage ac", "crank_speed", "all")


@dataclass(frozen=True)
class Judged:
    """One cylinder of one capture by one source."""

    engine: str
    cylinders: int
    source: str
    seed: int
    faulty: bool
    truth: float
    found: float
    u95: float
    state: str


def any_fault(rng: np.random.Generator) -> CylinderFault | None:
    """None in a third of the draws, else a plug out, a leak, or less compression."""
    faults = [
        None,
        None,
        CylinderFault(plug="out"),
        CylinderFault(exhaust_leak_mm2=float(rng.uniform(0.8, 3.0))),
        CylinderFault(ring_leak_mm2=float(rng.uniform(1.0, 4.0))),
        CylinderFault(compression_share=float(rng.uniform(0.55, 0.8))),
    ]
    return faults[int(rng.integers(len(faults)))]


def slight_fault(rng: np.random.Generator) -> CylinderFault:
    """What lowers a cylinder by about 15 %."""
    faults = [
        CylinderFault(exhaust_leak_mm2=float(rng.uniform(0.5, 0.9))),
        CylinderFault(ring_leak_mm2=float(rng.uniform(0.5, 0.9))),
        CylinderFault(compression_share=float(rng.uniform(0.82, 0.9))),
    ]
    return faults[int(rng.integers(len(faults)))]


def cranked(
    engine: str, seed: int, drawn: Callable[[np.random.Generator], CylinderFault | None] = any_fault
) -> tuple[Run, int]:
    """Five seconds of cranking and a battery of any age; the faulty cylinder, or 0. The spread of compression and
    blow-by is such that the peak pressures of healthy cylinders differ by 2.5 % (standard deviation)."""
    rng = np.random.default_rng([seed, 9])
    known = pool_engine(engine)
    cylinder = int(rng.integers(1, known.cylinders + 1))
    fault = drawn(rng)
    every = EngineFaults(cylinders={cylinder: fault} if fault else {}, battery_weak_share=float(rng.uniform(0.0, 0.4)))
    run = run_engine(known, clear_flood_cranking(5.0), seed, faults=every, spread=Spread(cylinder_share=0.013))
    return run, cylinder if fault else 0


def recording(run: Run, seed: int) -> Recording:
    """Crank, cams, a coil that is proved, current and voltage, at 8 or 12 bits."""
    bits = 8 if seed % 3 == 0 else 12
    noisy = Disturbance(noise_v=0.03)
    probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in run.engine.cams[:2]), Probe("coil", cylinder=1)]
    probes += [Probe("starter_current"), Probe("battery_voltage", disturbance=noisy), Probe("battery_voltage", ac=True)]
    made = record_run(run, probes, ScopeSettings(rate_hz=50_000.0, bits=bits))
    channels = tuple(Channel(d, made.columns[d.column]) for d in made.description.channels)
    return Recording("bench", made.description, 0.0, made.interval_s, channels)


def by_source(whole: Recording, source: str) -> Recording:
    role, _, coupling = source.partition(" ")
    kept = [
        c
        for c in whole.channels
        if source == "all"
        or c.description.role in ("crank", "cam", "coil")
        or (c.description.role == role and c.description.coupling == (coupling or "dc"))
    ]
    return replace(whole, channels=tuple(kept))


def true_relative(run: Run) -> dict[int, float]:
    settled = (run.times_s > 1.2) & (run.times_s < run.scenario.starter_to_s - 0.1)
    angle, peaks = run.angles_deg[settled], {}
    for cylinder, tdc in run.engine.firing_tdc_deg.items():
        cycle = np.floor((angle - tdc + 360.0) / 720.0)
        pressure = run.cylinders_pa[cylinder][settled]
        inner = np.unique(cycle)[1:-1]
        peaks[cylinder] = float(np.mean([pressure[cycle == k].max() / 1e5 - 1.0 for k in inner])) if inner.size else 0.0
    second = sorted(peaks.values())[-2]
    healthy = float(np.median([peak for peak in peaks.values() if peak > 0.5 * second]))
    return {cylinder: peak / healthy for cylinder, peak in peaks.items()}


def judged(job: tuple[str, int]) -> list[Judged]:
    return judged_run(*job, any_fault)


def judged_slight(job: tuple[str, int]) -> list[Judged]:
    return judged_run(*job, slight_fault)


def judged_run(engine: str, seed: int, drawn: Callable[[np.random.Generator], CylinderFault | None]) -> list[Judged]:
    """Every cylinder of one capture by every source."""
    run, faulty = cranked(engine, seed, drawn)
    truth, whole = true_relative(run), recording(run, seed)
    found = []
    for source in SOURCES:
        compression = measure_capture(by_source(whole, source), run.engine).compression
        for c in compression.cylinders if compression is not None else ():
            if c.relative is not None and c.u95 is not None:
                about = (engine, run.engine.cylinders, source, seed, c.cylinder == faulty)
                found.append(Judged(*about, truth[c.cylinder], c.relative, c.u95, c.state))
    return found
