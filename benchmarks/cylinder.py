"""The pressure in a cylinder: peak, top dead centre and valve corners against what the bench did.

    python -m benchmarks.cylinder [captures] [first seed]

Every capture feels two cylinders of one engine, cranked or idling (then both without fuel), cams in time or moved,
rings sound or leaking, the wheel in place or moved, heat and clearance of walls drawn; converters of 8 to 16 bits.
"""

from __future__ import annotations

import sys
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from benchmarks.table import all_rows
from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults, Spread
from phasko.bench.machine import intake_and_exhaust_cams
from phasko.bench.pool import pool_engine, pool_engines
from phasko.bench.probe import Disturbance, Probe
from phasko.bench.recorder import ScopeSettings, record_run
from phasko.bench.run import Run, run_engine
from phasko.bench.scenario import clear_flood_cranking, idling
from phasko.bench.sensors.transducers import PressureTransducer
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.capture.steps import measure_capture
from phasko.core.cylinder import Corner
from phasko.core.documents import EngineProfile
from phasko.core.signals.recording import Channel, Recording

FINAL_SEED = 5_000_000
KINDS = ("sound", "cams", "leak", "wheel")


@dataclass(frozen=True)
class Felt:
    """One cylinder of one capture: what was wrong, and by how much each figure is off; ``None`` where it is not
    given. ``apart``: the difference of its corners to the other cylinder's, against the truth."""

    engine: str
    kind: str
    idle: bool
    coarse: bool
    read: bool
    peak_share: float
    peak: tuple[float, float] | None
    tdc: tuple[float, float] | None
    opens: tuple[float, float] | None
    closes: tuple[float, float] | None
    overlap: tuple[tuple[float, float] | None, tuple[float, float] | None]
    apart: tuple[float, ...]
    late_deg: tuple[float, float]
    found_deg: tuple[float | None, float | None]


@dataclass(frozen=True)
class _Truth:
    """Where the valves of one cylinder really stand late, and its highest gauge pressure."""

    intake_deg: float
    exhaust_deg: float
    peak_bar: float


def drawn(seed: int) -> list[Felt]:
    rng = np.random.default_rng([seed, 47])
    names = list(pool_engines())
    engine = pool_engine(names[seed % len(names)])
    idle = bool(rng.random() < 0.25)
    kind = str(rng.choice(KINDS, p=[0.35, 0.4, 0.15, 0.1]))
    cylinders = [int(c) for c in rng.permutation(engine.firing_order)[:2]]
    faults, wheel_deg = _faults(kind, engine, cylinders[0], rng)
    spread = Spread(
        cylinder_share=float(rng.uniform(0.01, 0.035)),
        edge_deg=0.3,
        index_deg=0.0,
        tooth_deg=float(rng.uniform(0.02, 0.08)),
    )
    scenario = idling(1.5, motored=tuple(cylinders)) if idle else clear_flood_cranking(float(rng.uniform(2.8, 4.0)))
    run = run_engine(engine, scenario, seed, faults=faults, spread=spread)
    capture = measure_capture(_recorded(run, cylinders, seed, rng), engine)
    truths = {c: _truth(run, c) for c in cylinders}
    return [_felt(capture, c, truths, wheel_deg, kind, idle) for c in cylinders]


def _faults(kind: str, engine: EngineProfile, first: int, rng: np.random.Generator) -> tuple[EngineFaults, float]:
    slipped, wheel, cylinder = {}, 0.0, {}
    if kind == "cams":
        slipped = {c.id: float(rng.choice([-1, 1]) * rng.uniform(6.0, 36.0)) for c in engine.cams if rng.random() < 0.6}
    elif kind == "wheel":
        wheel = float(rng.uniform(-14.0, 14.0))
    elif kind == "leak":
        cylinder = {first: CylinderFault(ring_leak_mm2=float(rng.uniform(0.5, 5.0)))}
    return EngineFaults(DriveFaults(slipped_deg=slipped, crank_wheel_deg=wheel), cylinders=cylinder), wheel


def _recorded(run: Run, cylinders: Sequence[int], seed: int, rng: np.random.Generator) -> Recording:
    highest = max(float(run.cylinders_pa[c].max()) for c in cylinders) / 1e5
    limit = next(r for r in (14.0, 34.5, 60.0) if highest < 0.97 * r)
    noise = Disturbance(noise_v=float(rng.uniform(0.005, 0.05)))
    probes = [Probe("crank", disturbance=noise)]
    probes += [Probe("cam", cam=c.id, disturbance=noise) for c in run.engine.cams][:4]
    for cylinder in cylinders:
        felt = PressureTransducer(
            range_bar=limit,
            absolute=bool(rng.random() < 0.2),
            response_s=float(rng.uniform(0.5e-4, 1.5e-4)),
            scale_error=float(rng.normal(0.0, 0.004)),
            zero_bar=float(rng.normal(0.0, 0.008)),
        )
        probes.append(
            Probe("cylinder_pressure", cylinder=cylinder, transducer=felt, disturbance=noise, range_v=1.05 * limit)
        )
    settings = ScopeSettings(rate_hz=float(rng.choice([10e3, 25e3, 50e3])), bits=int(rng.choice([8, 10, 12, 14, 16])))
    made = record_run(run, probes[:8], settings)
    channels = tuple(Channel(d, made.columns[d.column]) for d in made.description.channels)
    return Recording(f"{seed}.capture.json", made.description, 0.0, made.interval_s, channels)


def _truth(run: Run, cylinder: int) -> _Truth:
    intake, exhaust = intake_and_exhaust_cams(run.engine)
    anyone = next(iter(run.cams), "")
    late = {name: float(np.mean(placed.valves_deg)) for name, placed in run.cams.items()}
    pressure = run.cylinders_pa[cylinder]
    return _Truth(
        late.get(intake[cylinder] or anyone, 0.0),
        late.get(exhaust[cylinder] or anyone, 0.0),
        float(np.quantile(pressure[pressure.size // 2 :], 0.999)) / 1e5 - 1.0,
    )


def _felt(
    capture: CaptureMeasurement, cylinder: int, truths: dict[int, _Truth], wheel_deg: float, kind: str, idle: bool
) -> Felt:
    engine, truth = capture.engine, truths[cylinder]
    timing = engine.valve_timing
    assert timing is not None
    one = next((f for f in capture.felt if f.cylinder == cylinder), None)
    opens_at, closes_at = timing.exhaust_open_deg + truth.exhaust_deg, timing.intake_close_deg + truth.intake_deg
    shuts_at, starts_at = timing.exhaust_close_deg + truth.exhaust_deg, timing.intake_open_deg + truth.intake_deg
    line = one.line if one is not None else None
    tdc = None
    if line is not None and capture.index is not None and "pressure" in capture.index.by:
        tdc = (line.tdc_axis_deg + wheel_deg, 1.96 * line.tdc_sd_deg)
    opens, closes = (one.exhaust_open, one.intake_close) if one is not None else (None, None)
    state = one.segment if one is not None else ""
    other = next((f for f in capture.felt if f.cylinder != cylinder and f.segment == state), None)
    apart = []
    if one is not None and other is not None:
        beside = truths[other.cylinder]
        for mine, its, late in (
            (opens, other.exhaust_open, truth.exhaust_deg - beside.exhaust_deg),
            (closes, other.intake_close, truth.intake_deg - beside.intake_deg),
        ):
            if mine is not None and its is not None:
                apart.append(mine.angle_deg - its.angle_deg - late)
    return Felt(
        engine=engine.name,
        kind=kind,
        idle=idle,
        coarse=one is not None and one.coarse,
        read=one is not None and one.line is not None,
        peak_share=0.0 if one is None or one.expected_bar is None else one.peak_bar / one.expected_bar,
        peak=None if one is None else (one.peak_bar - truth.peak_bar, one.peak_u95_bar),
        tdc=tdc,
        opens=_off(opens, opens_at),
        closes=_off(closes, closes_at),
        overlap=(
            _off(None if one is None else one.exhaust_close, shuts_at),
            _off(None if one is None else one.intake_open, starts_at),
        ),
        apart=tuple(apart),
        late_deg=(truth.exhaust_deg, truth.intake_deg),
        found_deg=(
            None if opens is None else opens.angle_deg - timing.exhaust_open_deg,
            None if closes is None else closes.angle_deg - timing.intake_close_deg,
        ),
    )


def _off(corner: Corner | None, place_deg: float) -> tuple[float, float] | None:
    return None if corner is None else (corner.angle_deg - place_deg, corner.u95_deg)


def _line(name: str, pairs: Sequence[tuple[float, float] | None]) -> None:
    known = [pair for pair in pairs if pair is not None]
    if not known:
        print(f"| {name} | 0 | | | | |")
        return
    off, u95 = np.array(known).T
    print(
        f"| {name} | {len(known)} | {np.median(np.abs(off)):.2f} | {np.quantile(np.abs(off), 0.95):.2f} | "
        f"{np.median(u95):.2f} | {100 * np.mean(np.abs(off) <= u95):.1f} % |"
    )


def table(rows: Sequence[Felt]) -> None:
    print("| figure | traces | median error | 95 % | median u95 | covered |")
    print("|---|---:|---:|---:|---:|---:|")
    strong = [row for row in rows if row.peak_share >= 0.85]
    for name, idle in (("cranking", False), ("idling", True)):
        own = [row for row in rows if row.idle == idle]
        _line(f"peak, {name}, bar", [row.peak for row in own])
        _line(f"TDC, {name}, peak at least 85 % of the expected, deg", [r.tdc for r in strong if r.idle == idle])
        _line(f"TDC, {name}, lower peaks, deg", [r.tdc for r in own if r.read and r.peak_share < 0.85])
        _line(f"exhaust opens, {name}, deg", [row.opens for row in own])
        _line(f"intake closes, {name}, deg", [row.closes for row in own])
        _line(f"exhaust closes, {name}, deg", [row.overlap[0] for row in own])
        _line(f"intake opens, {name}, deg", [row.overlap[1] for row in own])
        _apart(name, own)
    _apart("all", rows)


def _apart(name: str, rows: Sequence[Felt]) -> None:
    apart = np.abs([a for row in rows for a in row.apart])
    if apart.size:
        print(
            f"| corner against the other cylinder's, {name}, deg | {apart.size} | "
            f"{np.median(apart):.2f} | {np.quantile(apart, 0.95):.2f} | | |"
        )


def offsets(rows: Sequence[Felt]) -> None:
    """Moved cams that are seen, and sound ones of which it is said: a corner out by more than its half width and
    half a pitch."""
    seen = missed = claimed = sound = absent = 0
    for row in rows:
        if not row.read or row.coarse:
            continue
        for late, found, off in zip(row.late_deg, row.found_deg, (row.opens, row.closes), strict=True):
            far = found is not None and off is not None and abs(found) > max(off[1], 6.0)
            if abs(late) >= 10.0:
                seen += far
                missed += not far
                absent += found is None
            elif abs(late) < 2.0:
                sound += 1
                claimed += far
    print(f"\nCams out by 10 degrees or more: seen {seen} of {seen + missed}, {absent} of them not given.")
    print(f"Cams in time: {claimed} of {sound} corners said to be out.")


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    first = int(sys.argv[2]) if len(sys.argv) > 2 else FINAL_SEED
    rows = all_rows(drawn, range(first, first + count))
    unread, coarse = sum(not row.read for row in rows), sum(row.coarse for row in rows)
    print(f"{len(rows)} traces; {unread} not read, {coarse} coarse.\n")
    table(rows)
    offsets(rows)


if __name__ == "__main__":
    main()
