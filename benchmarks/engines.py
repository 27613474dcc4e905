"""Accuracy and honesty of the cam offset over every engine of the pool and some coarse wheels, on the physical bench.

    python benchmarks/engines.py [captures per class] [first seed]

Every class is a condition (cranking from rest, idle, snap), how true the engine is built, and a way to record; every
capture another engine, seed and set of cam shifts. The exact engine, without any scatter of its own, shows the limit of
the method, the others engines as they are built. Errors are held against what the bench knows.
Seeds: up to 14999 were used while the method was made, 40000 to 53999 for figures of earlier versions; 60000 and up
are only for the figures in docs/method.md.
"""

from __future__ import annotations

import sys
from collections import defaultdict

from benchmarks.table import Honesty, all_rows
from trials.engine_offsets import CLASSES, Reading, engines, measured, turned

FINAL_SEED = 60_000


def _job(job: tuple[tuple[int, ...], int, int]) -> list[Reading]:
    """Classes that share scenario and spread record the same run of the engine."""
    rows, engine, seed = job
    run = turned(CLASSES[rows[0]], engines()[engine], seed)
    return [reading for row in rows for reading in measured(CLASSES[row], run, seed)]


def readings(captures: int, first_seed: int) -> list[Reading]:
    """All classes, the engines in turn."""
    together: dict[tuple[str, int], list[int]] = defaultdict(list)
    for k, row in enumerate(CLASSES):
        together[repr(row.scenario), id(row.spread)].append(k)
    jobs = [
        (tuple(rows), i % len(engines()), first_seed + 1000 * rows[0] + i)
        for i in range(captures)
        for rows in together.values()
    ]
    return all_rows(_job, jobs)


def line(name: str, found: list[Reading]) -> str:
    """One row of the table."""
    good = [r for r in found if r.read]
    told = Honesty.of((r.error for r in good), (r.u95 for r in good))
    over_rms = told.median_u95 / max(told.rms, 1e-9)
    captures = len({(r.row, r.seed) for r in found})
    return (
        f"| {name} | {captures} | {len(good)} | {len(found) - len(good)} | {told.median:.4f} | "
        f"{told.worst_twentieth:.3f} | {told.median_u95:.4f} | {over_rms:.2f} | {told.words} |"
    )


def main() -> None:
    captures = int(sys.argv[1]) if len(sys.argv) > 1 else 500
    first_seed = int(sys.argv[2]) if len(sys.argv) > 2 else (FINAL_SEED if captures >= 500 else 100)
    found = readings(captures, first_seed)
    grouped: dict[str, list[Reading]] = defaultdict(list)
    for reading in found:
        grouped[f"{reading.row}, {reading.wheel}"].append(reading)
        grouped[f"**{reading.row}**"].append(reading)
    print("| class | captures | read | not read | median | 95 % | median u95 | over rms | coverage | z spread |")
    print("|---|---|---|---|---|---|---|---|---|---|")
    for name, group in grouped.items():
        if any(reading.read for reading in group):
            print(line(name, group))
    if captures < 100:
        worst = sorted((r for r in found if r.read), key=lambda r: -abs(r.error) / max(r.u95, 1e-9))[:12]
        for r in [*worst, *[r for r in found if not r.read][:12]]:
            print(r)


if __name__ == "__main__":
    main()
