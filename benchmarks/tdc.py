"""Where the crank wheel stands against the pistons, by the crank's own speed: error and stated half width, by wheel.

    python -m benchmarks.tdc [captures] [first seed]

Every capture has its wheel shifted, its cams in time or jumped, its cylinders sound or one of them low, rings that leak
more or less than usual, an engine cold or hot, a throttle open or shut, a clamp on the starter or none.
"""

from __future__ import annotations

import sys
from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from benchmarks.table import Honesty, all_rows
from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults, Spread
from phasko.bench.pool import pool_engine, pool_engines
from phasko.bench.probe import Disturbance, Probe
from phasko.bench.recorder import ScopeSettings, record_run
from phasko.bench.run import run_engine
from phasko.bench.scenario import clear_flood_cranking
from phasko.core.capture.steps import measure_capture
from phasko.core.documents import EngineProfile
from phasko.core.signals.recording import Channel, Recording

FINAL_SEED = 6_000_000


@dataclass(frozen=True)
class Felt:
    """One capture: which engine and wheel, what was wrong, and what was told of its pistons."""

    engine: str
    teeth: int
    clamp: bool
    low: bool
    jumped: bool
    error_deg: float | None
    u95_deg: float


def drawn(seed: int) -> list[Felt]:
    rng = np.random.default_rng([seed, 43])
    names = list(pool_engines())
    name = names[seed % len(names)]
    engine = pool_engine(name)
    shift = float(rng.uniform(-15.0, 15.0)) if rng.random() < 0.7 else 0.0
    low = bool(rng.random() < 0.25)
    jumped = bool(rng.random() < 0.25) and engine.drive is not None and engine.drive.crank_sprocket_teeth is not None
    faults = EngineFaults(_drive(engine, shift, jumped, rng), cylinders=_cylinders(engine, low, rng))
    scenario = replace(
        clear_flood_cranking(float(rng.uniform(2.8, 5.0))),
        temperature="hot" if rng.random() < 0.5 else "cold",
        throttle=1.0 if rng.random() < 0.7 else 0.0,
    )
    spread = Spread(cylinder_share=float(rng.uniform(0.01, 0.035)), tooth_deg=float(rng.uniform(0.0, 0.08)))
    run = run_engine(engine, scenario, seed, faults=faults, spread=spread)
    clamp = bool(rng.random() < 0.6)
    noise = Disturbance(noise_v=float(rng.uniform(0.005, 0.06)))
    probes = [Probe("crank", disturbance=noise), *(Probe("cam", cam=c.id, disturbance=noise) for c in engine.cams)]
    probes += [Probe("starter_current")] if clamp else []
    settings = ScopeSettings(rate_hz=float(rng.choice([20e3, 50e3])), bits=int(rng.choice([8, 12])))
    made = record_run(run, probes, settings)
    channels = tuple(Channel(d, made.columns[d.column]) for d in made.description.channels)
    recording = Recording(f"{seed}.capture.json", made.description, 0.0, made.interval_s, channels)
    index = measure_capture(recording, engine).index
    error = None if index is None else index.offset_deg - shift
    teeth = len(engine.crank.known_wheel.angles_deg)
    return [Felt(name, teeth, clamp, low, jumped, error, 0.0 if index is None else index.u95_deg)]


def _drive(engine: EngineProfile, shift_deg: float, jumped: bool, rng: np.random.Generator) -> DriveFaults:
    if not jumped or engine.drive is None or engine.drive.crank_sprocket_teeth is None:
        return DriveFaults(crank_wheel_deg=shift_deg)
    by = int(rng.choice([-1, 1, 2, 3])) * 360.0 / engine.drive.crank_sprocket_teeth
    return DriveFaults(crank_wheel_deg=shift_deg, slipped_deg=dict.fromkeys((c.id for c in engine.cams), by))


def _cylinders(engine: EngineProfile, low: bool, rng: np.random.Generator) -> dict[int, CylinderFault]:
    rings = float(rng.uniform(0.0, 0.7))
    found = {c: CylinderFault(ring_leak_mm2=rings) for c in engine.firing_order}
    if low:
        leak = float(rng.uniform(1.0, 8.0))
        fault = CylinderFault(plug="out") if rng.random() < 0.3 else CylinderFault(exhaust_leak_mm2=leak)
        found[int(rng.choice(engine.firing_order))] = fault
    return found


def table(rows: Sequence[Felt], title: str, of: Callable[[Felt], str]) -> None:
    groups: dict[str, list[Felt]] = defaultdict(list)
    for row in rows:
        groups[of(row)].append(row)
    print(f"\n| {title} | captures | told | bias | median | 95 % | half width | coverage | z |")
    print("|---|---:|---:|---:|---:|---:|---:|---:|---:|")
    for name, own in sorted(groups.items()):
        told = [row for row in own if row.error_deg is not None]
        if not told:
            print(f"| {name} | {len(own)} | 0 | | | | | | |")
            continue
        errors = [row.error_deg or 0.0 for row in told]
        honesty = Honesty.of(errors, [row.u95_deg for row in told])
        print(
            f"| {name} | {len(own)} | {len(told)} | {np.median(errors):+.2f} | {honesty.median:.2f} | "
            f"{honesty.worst_twentieth:.2f} | {honesty.median_u95:.2f} | {honesty.words} |"
        )


def _wheel(row: Felt) -> str:
    return "fine, 50 teeth and more" if row.teeth >= 50 else "middle, 30 to 50" if row.teeth >= 30 else "coarse"


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 600
    first = int(sys.argv[2]) if len(sys.argv) > 2 else FINAL_SEED
    rows = all_rows(drawn, range(first, first + count))
    table(rows, "wheel", _wheel)
    table(rows, "starter", lambda row: "clamp" if row.clamp else "not seen")
    table(rows, "cylinders", lambda row: "one low" if row.low else "sound")
    table(rows, "cams", lambda row: "jumped" if row.jumped else "in time")
    table(rows, "engine", lambda row: row.engine)


if __name__ == "__main__":
    main()
