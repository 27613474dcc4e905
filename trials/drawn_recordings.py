"""The captures of a bench job: cranked, idling, with a phaser driven; with the signals that the fault spoils."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from phasko.bench.faults import EngineFaults, Spread
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings, record_run
from phasko.bench.run import Run, run_engine
from phasko.bench.scenario import PhaserCommand, Scenario, clear_flood_cranking, idling
from phasko.core.documents import EngineProfile
from phasko.core.signals.recording import Channel, Recording
from trials.drawn_faults import DrawnFault
from trials.leads import leads, pressure_leads

__all__ = ["drawn_recordings"]


def drawn_recordings(
    engine: EngineProfile, drawn: DrawnFault, seed: int, rng: np.random.Generator
) -> tuple[tuple[Recording, ...], bool, bool]:
    """Cranking first; often once more, or idling too; whether what comes and goes was there in any; and whether a
    cylinder compresses clearly less than the others though nothing was broken in it."""
    broken = drawn.truth.fault == "drive_broken" or (bool(drawn.truth.cylinders) and len(drawn.truth.cylinders) > 1)
    far = any(abs(v) > 25.0 for v in drawn.truth.valves_deg.values())
    count = int(rng.choice([1, 1, 2, 2, 3]))
    scenarios: list[Scenario] = []
    for k in range(count):
        running = k > 0 and rng.random() < 0.6 and not broken and not far and drawn.bad_signal != "crank"
        hot = rng.random() < 0.5
        scenario = idling(1.2) if running else clear_flood_cranking(float(rng.uniform(2.6, 4.0)))
        scenarios.append(replace(scenario, temperature="hot" if hot else "cold"))
    spread = Spread(
        cylinder_share=float(rng.uniform(0.01, 0.035)),
        edge_deg=0.5,
        index_deg=0.5,
        tooth_deg=float(rng.uniform(0.02, 0.08)),
        run_out_deg=float(rng.uniform(0.0, 0.08)),
        build_deg=float(rng.uniform(0.2, 0.6)),
    )
    simulated = engine
    if drawn.spark_window_deg and engine.ignition is not None and engine.ignition.cranking_spark_deg is not None:
        low, high = engine.ignition.cranking_spark_deg
        window = (low + drawn.spark_window_deg, high + drawn.spark_window_deg)
        simulated = engine.model_copy(
            update={"ignition": engine.ignition.model_copy(update={"cranking_spark_deg": window})}
        )
    probes = leads(engine, rng)
    # A broken drive shows in what its cylinders still compress; the bench's valves go on moving, which none may feel.
    felt = [] if drawn.truth.fault == "drive_broken" else pressure_leads(engine, seed)
    found = []
    seen = low = False
    for k, scenario in enumerate(scenarios):
        turning = "running" if scenario.fuel else "cranking"
        there = drawn.when in ("always", turning, scenario.temperature)
        seen = seen or there
        faults = drawn.cranking if there else EngineFaults()
        run = run_engine(simulated, scenario, seed, faults=faults, spread=spread)
        low |= turning == "cranking" and _uneven(run)
        own = probes if turning == "running" else [*probes, *felt][:8]
        made = record_run(run, own, ScopeSettings(rate_hz=25_000.0, bits=int(rng.choice([8, 12]))))
        columns = {
            d.column: _spoilt(d.role, d.cam, made.columns[d.column], drawn, rng) for d in made.description.channels
        }
        description = made.description.model_copy(update={"symptom": "present" if rng.random() < 0.5 else "unknown"})
        channels = tuple(Channel(d, columns[d.column]) for d in description.channels)
        found.append(Recording(f"{seed}-{k}.capture.json", description, 0.0, made.interval_s, channels))
    if drawn.when == "always" and drawn.bad_signal is None and any(scenario.fuel for scenario in scenarios):
        found += _sweep(simulated, drawn, seed, spread)
    return tuple(found), seen, low


def _sweep(engine: EngineProfile, drawn: DrawnFault, seed: int, spread: Spread) -> list[Recording]:
    """In a third of the jobs whose engine runs a phaser is driven, too: that of the cam that is off where it has one.
    Its own random numbers leave every other draw as it was."""
    rng = np.random.default_rng([seed, 77])
    able = [cam.id for cam in engine.cams if cam.phaser]
    if not able or rng.random() > _SWEPT:
        return []
    off = [cam for cam in able if cam in drawn.truth.cams]
    cam = str(rng.choice(off or able))
    scenario = idling(3.4, target_rpm=float(rng.uniform(700.0, 1000.0)))
    driven = {cam: (PhaserCommand(2.5 + float(rng.uniform(1.0, 1.2)), 2.5 + float(rng.uniform(2.2, 2.4))),)}
    run = run_engine(engine, replace(scenario, phaser_commands=driven), seed, faults=drawn.cranking, spread=spread)
    probes = [Probe("crank"), *(Probe("cam", cam=c.id) for c in engine.cams), Probe("phaser_command", cam=cam)]
    made = record_run(run, probes[:8], ScopeSettings(rate_hz=25_000.0))
    kept = [d for d in made.description.channels if d.column in made.columns]
    channels = tuple(Channel(d, made.columns[d.column]) for d in kept)
    return [Recording(f"{seed}-sweep.capture.json", made.description, 0.0, made.interval_s, channels)]


_SWEPT = 0.35


def _uneven(run: Run) -> bool:
    """Whether the highest pressure of a cylinder stays under 0.88 of the cylinders' median."""
    peaks = np.array([float(np.quantile(pa[pa.size // 3 :], 0.995)) for pa in run.cylinders_pa.values()]) - 1e5
    return bool(peaks.min() < 0.88 * np.median(peaks))


def _spoilt(role: str, cam: str | None, samples: np.ndarray, drawn: DrawnFault, rng: np.random.Generator) -> np.ndarray:
    """A signal that is lost, comes and goes, or has pulses added."""
    own = (role == "crank" and drawn.bad_signal == "crank") or (role == "cam" and drawn.bad_signal in (cam, "cams"))
    if not own:
        return samples
    made = samples.copy()
    high = float(np.percentile(samples, 95))
    if drawn.bad_how == "lost":
        made[:] = high + 0.01 * rng.standard_normal(made.size)
    elif drawn.bad_how == "erratic":
        for start in rng.uniform(0.15, 0.85, 4):
            first = int(start * made.size)
            made[first : first + int(0.06 * made.size)] = high
    else:
        low = float(np.percentile(samples, 5))
        for first in (rng.uniform(0.15, 0.95, 12) * made.size).astype(int).tolist():
            made[first : first + 5] = low if samples[first] > 0.5 * (low + high) else high
    return made
