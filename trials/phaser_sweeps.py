"""Drawn sweeps of a phaser, measured, beside their truth."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from phasko.bench.faults import DriveFaults, EngineFaults, PhaserFault, Spread
from phasko.bench.pool import pool_engine
from phasko.bench.probe import Probe, SolenoidWire
from phasko.bench.recorder import ScopeSettings, record_run, true_offsets_deg
from phasko.bench.run import Run, run_engine
from phasko.bench.scenario import PhaserCommand, idling
from phasko.core.analyse import result_document
from phasko.core.capture.steps import measure_capture
from phasko.core.documents.engine import Cam, EngineProfile
from phasko.core.phasers import PhaserSweep
from phasko.core.signals.recording import Channel, Recording

ENGINES = ("corvane-2.1-four", "haverel-2.4-five", "tarrant-3.0-straight-six", "quayle-5.0-eight", "brimholt-3.2-six")


STATES = ("moves", "stuck", "slow", "returns_off_park", "short")


@dataclass(frozen=True)
class Drawn:
    """One sweep: the engine, what its phaser does, and how it was driven."""

    seed: int
    engine: EngineProfile
    cam: Cam
    fault: PhaserFault
    kind: str
    run: Run
    recording: Recording
    on_s: float


@dataclass(frozen=True)
class Measured:
    """What was found of one sweep, beside the truth: errors in deg and s (``None``: not told)."""

    seed: int
    kind: str
    engine: str
    cam: str
    state: str
    stop_off_deg: float | None
    return_off_deg: float | None
    dead_off_s: float | None
    dead_u95_s: float | None
    right: bool
    called: str
    lost: int


def drawn_sweep(seed: int, kind: str | None = None) -> Drawn:
    """A sweep of any kind; ``moves`` is a healthy one."""
    rng = np.random.default_rng([seed, 31])
    engine = pool_engine(str(rng.choice(ENGINES)))
    cam = engine.cam(str(rng.choice([c.id for c in engine.cams if c.phaser])))
    assert cam is not None and cam.phaser is not None
    kind = kind or str(rng.choice(STATES, p=[0.4, 0.15, 0.15, 0.15, 0.15]))
    rate = float(rng.uniform(0.5, 2.4))
    fault = PhaserFault(
        rate_share=float(rng.uniform(0.05, 0.1)) if kind == "slow" else rate,
        dead_s=float(rng.uniform(0.02, 0.2)),
        lag_s=0.0 if kind == "slow" else float(rng.choice([0.0, rng.uniform(0.02, 0.12)])),
        flutter_deg=float(rng.uniform(0.0, 0.8)),
        stuck=kind == "stuck",
        reach_share=float(rng.uniform(0.35, 0.75)) if kind == "short" else 1.0,
        rests_off_deg=float(rng.uniform(4.0, 15.0)) if kind == "returns_off_park" else 0.0,
    )
    on, held = float(rng.uniform(1.3, 2.0)), float(rng.uniform(1.2, 1.8))
    rpm = float(rng.uniform(700.0, 1500.0))
    lasts = on + held + float(rng.uniform(1.4, 2.0))
    scenario = replace(
        idling(lasts, target_rpm=rpm),
        phasers_connected=True,
        phaser_commands={cam.id: (PhaserCommand(2.5 + on, 2.5 + on + held),)},
    )
    run = run_engine(engine, scenario, seed, faults=EngineFaults(DriveFaults(phasers={cam.id: fault})), spread=Spread())
    wire = SolenoidWire(high_side=bool(rng.random() < 0.3), pulsed_hz=float(rng.choice([0.0, 0.0, 220.0])))
    probes = [Probe("crank"), Probe("cam", cam=cam.id), Probe("phaser_command", cam=cam.id, solenoid=wire)]
    made = record_run(run, probes, ScopeSettings(rate_hz=50_000.0))
    channels = tuple(Channel(c, made.columns[c.column]) for c in made.description.channels)
    recording = Recording("sweep", made.description, 0.0, made.interval_s, channels)
    return Drawn(seed, engine, cam, fault, kind, run, recording, on)


def measured_sweep(drawn: Drawn) -> Measured:
    """The same sweep measured and called."""
    capture = measure_capture(drawn.recording, drawn.engine)
    sweep = capture.sweeps[0] if capture.sweeps else None
    verdict = result_document([capture], drawn.engine, ["0"], "0").verdict
    called = verdict.faults[0].fault if verdict.faults else "none"
    if verdict.cautions or verdict.teardown != "no":
        called += " with a caution"
    lost = sum(e.count for e in capture.events)
    seed, name = drawn.seed, drawn.engine.name
    if sweep is None:
        return Measured(seed, drawn.kind, name, drawn.cam.id, "none", None, None, None, None, False, called, lost)
    placed = drawn.run.cams[drawn.cam.id]
    times, valves = drawn.run.slot_times_s, placed.valves_deg
    fixed = true_offsets_deg(drawn.run)[drawn.cam.id] - float(valves[times >= 0.0].mean())
    inside = (times > 0.0) & (times < drawn.run.times_s[-1] - 0.05)
    still = _stops(drawn, valves, times)
    return Measured(
        seed=seed,
        kind=drawn.kind,
        engine=name,
        cam=drawn.cam.id,
        state=sweep.state + (f", {sweep.short_side} side short" if sweep.short_side else ""),
        stop_off_deg=None if still is None else _far(sweep) - still - fixed,
        return_off_deg=None if sweep.returned is None else sweep.returned.place_deg - float(valves[inside][-1]) - fixed,
        dead_off_s=None if sweep.dead_time_s is None else sweep.dead_time_s - drawn.fault.dead_s,
        dead_u95_s=sweep.dead_time_u95_s,
        right=_state_right(drawn, sweep),
        called=called,
        lost=lost,
    )


def _stops(drawn: Drawn, valves: np.ndarray, times: np.ndarray) -> float | None:
    """Where the cam stood at the end of the command, if it stood there."""
    off = drawn.run.scenario.phaser_commands[drawn.cam.id][0].to_s - drawn.run.scenario.record_from_s
    last = valves[(times > off - 0.16) & (times < off)]
    return float(last.mean()) if drawn.kind not in ("slow",) else None


def _far(sweep: PhaserSweep) -> float:
    return sweep.start.place_deg + sweep.swept_deg


def _state_right(drawn: Drawn, sweep: PhaserSweep) -> bool:
    if drawn.kind == "short":
        return sweep.state == "moves" and sweep.short_side is not None
    if drawn.kind == "moves":
        return sweep.state == "moves" and sweep.short_side is None
    return sweep.state == drawn.kind


def sweep_of_seed(seed: int) -> Measured:
    """The sweep of a seed, of any kind, measured."""
    return measured_sweep(drawn_sweep(seed))
