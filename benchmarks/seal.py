"""Relative compression over the pool, each source alone and all together, against the pressures of the bench.

    python benchmarks/seal.py [captures per engine and source] [first seed]

Every capture another seed; a third healthy, the rest with one cylinder without its plug, leaking, or with less
compression. Seeds up to 18999 were used while the method was made, 50000 to 79999 for figures of earlier versions;
100000 and up are only for the figures in the docs.
"""

from __future__ import annotations

import sys
from collections import defaultdict

import numpy as np

from benchmarks.table import Honesty, all_rows
from phasko.bench.faults import EngineFaults, Spread
from phasko.bench.pool import pool_engine, pool_engines
from phasko.bench.run import run_engine
from phasko.bench.scenario import clear_flood_cranking
from phasko.core.call import call
from phasko.core.capture.steps import measure_capture
from phasko.core.evidence import JobEvidence
from trials.compression import SOURCES, Judged, judged, judged_slight, recording

FINAL_SEED = 100_000


def line(name: str, rows: list[Judged]) -> str:
    honest = Honesty.of((r.found - r.truth for r in rows), (r.u95 for r in rows))
    low = [r for r in rows if r.faulty and r.truth <= 0.75]
    told = [r for r in low if r.state in ("weak", "dead")]
    slight = [r for r in rows if r.faulty and 0.8 <= r.truth <= 0.9]
    slight_told = [r for r in slight if r.state in ("weak", "dead")]
    healthy = {(r.engine, r.seed) for r in rows} - {(r.engine, r.seed) for r in rows if r.faulty}
    false = {(r.engine, r.seed) for r in rows if r.state in ("weak", "dead")} & healthy
    return (
        f"| {name} | {len(rows)} | {honest.rms:.3f} | {honest.worst_twentieth:.3f} | {honest.median_u95:.3f} | "
        f"{honest.words} | {len(told)} of {len(low)} | {len(slight_told)} of {len(slight)} | "
        f"{len(false)} of {len(healthy)} |"
    )


def alarmed(job: tuple[str, int]) -> list[tuple[bool, bool]]:
    """One healthy capture: whether a cylinder is called weak or dead, and whether the call blames one. Empty where no
    cylinder has a name."""
    engine, seed = job
    rng = np.random.default_rng([seed, 11])
    known = pool_engine(engine)
    uneven = EngineFaults(battery_weak_share=float(rng.uniform(0.0, 0.3)))
    run = run_engine(known, clear_flood_cranking(5.0), seed, faults=uneven, spread=Spread(cylinder_share=0.013))
    measured = measure_capture(recording(run, seed), known)
    if measured.compression is None or measured.compression.identified_by is None:
        return []
    state = any(c.state in ("weak", "dead") for c in measured.compression.cylinders)
    faults = call(JobEvidence(known, [measured])).faults
    blamed = any(f.fault == "weak_cylinder" and (f.besides or f is faults[0]) for f in faults)
    return [(state, blamed)]


def print_slight(captures: int, first: int) -> None:
    """Of cylinders 10 to 20 % down how many each source calls weak, and how far off their figures are."""
    jobs = [(engine, first + 1000 * i + k) for i, engine in enumerate(pool_engines()) for k in range(captures)]
    rows = [r for r in all_rows(judged_slight, jobs) if r.faulty and 0.8 <= r.truth <= 0.9]
    print("| source | 10 to 20 % down | called weak | 95 % of errors |\n|---|---|---|---|")
    for source in SOURCES:
        own = [r for r in rows if r.source == source]
        told = sum(r.state in ("weak", "dead") for r in own)
        off = np.quantile([abs(r.found - r.truth) for r in own], 0.95)
        print(f"| {source} | {len(own)} | {told} ({100 * told / len(own):.0f} %) | {off:.3f} |")


def print_false_alarms(captures: int, first: int) -> None:
    engines = list(pool_engines())
    found = all_rows(alarmed, [(engines[k % len(engines)], first + k) for k in range(captures)])
    states, blamed = sum(s for s, _ in found), sum(b for _, b in found)
    print(f"{len(found)} healthy captures: a cylinder called weak in {states}, blamed by the call in {blamed}")


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 30
    first = int(sys.argv[2]) if len(sys.argv) > 2 else FINAL_SEED
    jobs = [(engine, first + 1000 * i + k) for i, engine in enumerate(pool_engines()) for k in range(count)]
    rows = all_rows(judged, jobs)
    grouped: dict[str, list[Judged]] = defaultdict(list)
    for row in rows:
        size = "to four" if row.cylinders <= 4 else "five and six" if row.cylinders <= 6 else "eight"
        grouped[row.source].append(row)
        grouped[f"{row.source}, {size}"].append(row)
        if row.seed % 3 and row.source == "all":
            grouped[f"all, {size}, 12 bits"].append(row)
    print(
        "| source | cylinders | rms | 95 % | median u95 | coverage | z spread | 25 % down or dead: found | "
        "10 to 20 % down: found | false |"
    )
    print("|---|---|---|---|---|---|---|---|---|---|")
    for name in sorted(grouped):
        print(line(name, grouped[name]))
    print_slight(count // 3, first + 40_000)
    print_false_alarms(14 * count, first + 20_000)


if __name__ == "__main__":
    main()
