"""Offsets by every standard, elongation, and ranges of known goods: how often the truth lies inside the half width.

    python -m benchmarks.standards [jobs] [first seed]

Seeds from 15000000 are for the figures in the docs, below 1000 for work.

Engines differ from their profile by about as much as it says it may be off: half of it in where the crank wheel sits,
half in how they are built. From one capture to the next a sound drive stands elsewhere by about what is common
practice, since its parts grow with heat and its strands lie differently.
"""

from __future__ import annotations

import sys
from collections import defaultdict
from dataclasses import dataclass

import numpy as np

from benchmarks.table import all_rows
from phasko.bench.faults import DriveFaults, EngineFaults, Spread
from phasko.bench.pool import pool_engine
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings, record_run
from phasko.bench.run import run_engine
from phasko.bench.scenario import clear_flood_cranking
from phasko.core.analyse import Beside, HashedCapture, analyse_job
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.capture.steps import measure_capture
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.job import JobDocument
from phasko.core.signals.recording import Channel, Recording

FINAL_SEED = 15_000_000
ENGINES = ("corvane-2.1-four", "tarrant-3.0-straight-six", "quayle-5.0-eight", "brimholt-3.2-six", "haverel-2.4-five")
SPREAD = Spread(edge_deg=0.25, index_deg=0.28, build_deg=0.23)
CAPTURE_SD_DEG = 0.28
GOODS = (1, 2, 5, 20)
FIGURE_U95_DEG = 1.0


@dataclass(frozen=True)
class Row:
    """One value against the truth, in its unit: its error and its half width."""

    what: str
    error: float
    u95: float


def recorded(engine: EngineProfile, seed: int, drive: DriveFaults, name: str) -> Recording:
    """A short clear-flood cranking of one engine of the kind."""
    run = run_engine(engine, clear_flood_cranking(3.2), seed, faults=EngineFaults(drive), spread=SPREAD)
    probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in engine.cams)]
    made = record_run(run, probes, ScopeSettings(rate_hz=50_000.0))
    channels = tuple(Channel(c, made.columns[c.column]) for c in made.description.channels)
    return Recording(f"{name}.capture.json", made.description, 0.0, made.interval_s, channels)


def job(seed: int) -> list[Row]:
    """One car with a worn chain, or a slipped cam, or nothing; against everything there is to compare it with."""
    rng = np.random.default_rng([seed, 41])
    engine = pool_engine(str(rng.choice(ENGINES)))
    slipped = {str(rng.choice([c.id for c in engine.cams])): float(rng.uniform(-14, 14))} if rng.random() < 0.4 else {}
    percent = float(rng.uniform(0.1, 1.2)) if not slipped and rng.random() < 0.7 else 0.0
    lies_now, lay_before = (float(v) for v in rng.normal(0.0, CAPTURE_SD_DEG, 2))
    drive = DriveFaults(
        elongation_percent=percent, slipped_deg={c.id: slipped.get(c.id, 0.0) + lies_now for c in engine.cams}
    )
    truth = {cam.id: slipped.get(cam.id, 0.0) + _late(engine, cam.id, percent) for cam in engine.cams}
    figures = []
    other = measure_capture(recorded(engine, seed + 500_000, DriveFaults(), "other"), engine)
    for cam in engine.cams:
        after = (cam.edges[0].deg - (engine.crank.index_deg or 0.0)) % 360.0
        said = after + float(rng.normal(0.0, FIGURE_U95_DEG / 1.96))
        figures.append({"cam": cam.id, "form": "degrees", "value": said, "u95": FIGURE_U95_DEG})
        figures += _picture(other, engine, cam.id, rng)
    # The same car earlier, when it was sound: the same build.
    sound = DriveFaults(slipped_deg={c.id: lay_before for c in engine.cams})
    now, before = recorded(engine, seed, drive, "now"), recorded(engine, seed, sound, "before")
    told = JobDocument.model_validate({"schema": "phasko.job/1", "figures": figures})
    hashed = [HashedCapture(before, "0"), HashedCapture(now, "1")]
    found = analyse_job(hashed, engine, "0", (), Beside(told=told))
    rows = []
    for one in found.captures[1].standards:
        # Where the strands lie today is a true offset, but nothing that has happened to the car.
        expected = truth[one.cam] + (0.0 if one.kind == "earlier" else lies_now)
        if one.kind in ("other_bank", "other_shaft"):
            other = next(c for c in engine.cams if one.name.lower().endswith(_name(engine, c.id)))
            expected -= truth[other.id] + lies_now
        rows.append(Row(one.kind, one.offset_deg - expected, one.total_u95_deg))
    alone = analyse_job([HashedCapture(now, "1")], engine, "0").elongation
    if alone is not None and not slipped:
        rows.append(Row("elongation, %", alone.percent - percent, alone.u95_percent))
        rows.append(
            Row(
                "elongation, deg",
                alone.furthest_deg - _late(engine, alone.furthest_cam, percent),
                alone.furthest_u95_deg,
            )
        )
        rows.append(Row("elongation fits", 0.0 if alone.fits else 1.0, 0.5))
    return rows


def _picture(
    other: CaptureMeasurement, engine: EngineProfile, cam_id: str, rng: np.random.Generator
) -> list[dict[str, object]]:
    """A healthy engine's picture read with a ruler: two gaps and an edge by their times, as the crank really ran."""
    reading = next((r for r in other.cams if r.cam.id == cam_id and r.offset is not None), None)
    index = engine.crank.index_deg
    if reading is None or index is None:
        return []
    edges = reading.edges
    inside = np.flatnonzero(edges.reference == 0)
    at = int(inside[inside.size // 2])
    piece, turn = other.pieces[0].piece, other.pieces[0].turn_deg
    first = index - turn + 360.0 * np.floor((edges.angles_deg[at] - index) / 360.0)
    times = piece.time_s(np.array([first, first + 360.0]))
    places = np.array([times[0], times[1], edges.times_s[at]])
    marks = 40.0 * (places - times[0]) / (times[1] - times[0]) + rng.normal(0.0, 0.15, 3)
    low, high, value = (float(m) for m in marks)
    return [{"cam": cam_id, "form": "picture", "value": value, "from_mark": low, "to_mark": high, "reading": 0.3}]


def _name(engine: EngineProfile, cam_id: str) -> str:
    cam = engine.cam(cam_id)
    assert cam is not None
    several = len({c.bank for c in engine.cams}) > 1
    return f"bank {cam.bank} {cam.shaft} cam" if several else f"{cam.shaft} cam"


def _late(engine: EngineProfile, cam: str, percent: float) -> float:
    """e/100 * links * pitch, written out here a second time (the contract)."""
    drive = engine.drive
    assert drive is not None and drive.crank_sprocket_teeth is not None
    pitch = drive.pitch_crank_deg.get(cam, [360.0 / drive.crank_sprocket_teeth])[0]
    return percent / 100.0 * drive.free_links[cam] * pitch


def library(seed: int) -> list[Row]:
    """A library of known goods and one more sound engine of the kind."""
    rng = np.random.default_rng([seed, 43])
    engine = pool_engine(str(rng.choice(ENGINES)))
    count = GOODS[seed % len(GOODS)]
    # All engines of a kind share what their profile is off by.
    goods = tuple(recorded(engine, 100 * seed + i, DriveFaults(), f"good-{i}") for i in range(count))
    found = analyse_job(
        [HashedCapture(recorded(engine, 100 * seed + 99, DriveFaults(), "now"), "0")], engine, "0", goods
    )
    return [
        Row(f"range of {count:2d}", one.offset_deg, one.total_u95_deg)
        for one in found.captures[0].standards
        if one.kind == "known_good"
    ]


def main() -> None:
    """Prints the table."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 300
    first = int(sys.argv[2]) if len(sys.argv) > 2 else 1
    rows = all_rows(job, list(range(first, first + count)))
    libraries = 2 * count // 5
    rows += all_rows(library, list(range(first, first + libraries)))
    by_what: dict[str, list[Row]] = defaultdict(list)
    for row in rows:
        by_what[row.what].append(row)
    print(f"{count} jobs and {libraries} libraries, seeds from {first}")
    print(f"{'':18s} {'values':>6s} {'median':>8s} {'95 %':>8s} {'half width':>10s} {'inside':>7s}")
    for what, own in sorted(by_what.items()):
        errors, u95 = np.abs([r.error for r in own]), np.array([r.u95 for r in own])
        inside = 100.0 * float(np.mean(errors <= u95))
        print(f"{what:18s} {len(own):6d} {np.median(errors):8.3f} {np.percentile(errors, 95):8.3f} "
              f"{np.median(u95):10.3f} {inside:6.1f} %")  # fmt: skip


if __name__ == "__main__":
    main()
