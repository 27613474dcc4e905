"""How well a sweep of a phaser is measured: stops, return, dead time, state; and what a healthy one is called.

    python -m benchmarks.sweeps [sweeps] [first seed]

Every sweep has its own engine, speed, rate, lag, flutter, dead time, wire and command. Seeds from 12600000 are for the
figures in the docs, below 1000 for work.
"""

from __future__ import annotations

import sys
from collections import Counter

import numpy as np

from benchmarks.table import all_rows
from trials.phaser_sweeps import Measured, drawn_sweep, measured_sweep, sweep_of_seed

FINAL_SEED = 12_600_000


def main() -> None:
    """Prints the table."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 300
    first = int(sys.argv[2]) if len(sys.argv) > 2 else 1
    found = all_rows(_one, list(range(first, first + count)))
    sound = 2 * count // 3
    healthy = all_rows(_one_healthy, list(range(first + count, first + count + sound)))
    print(f"{count} sweeps, seeds from {first}")
    for name, values, limit in (
        ("stop, deg", [m.stop_off_deg for m in found], 0.5),
        ("return, deg", [m.return_off_deg for m in found], 0.5),
        ("dead time, s", [m.dead_off_s for m in found], 0.02),
    ):
        sizes = np.abs([v for v in values if v is not None])
        within = 100.0 * float(np.mean(sizes <= limit))
        print(f"{name}: {sizes.size} told, median {np.median(sizes):.3f}, 95 % {np.percentile(sizes, 95):.3f}, "
              f"within {limit}: {within:.1f} %")  # fmt: skip
    dead = [(abs(m.dead_off_s), m.dead_u95_s) for m in found if m.dead_off_s is not None and m.dead_u95_s is not None]
    print(f"dead time inside its half width: {100.0 * np.mean([off <= u for off, u in dead]):.1f} %")
    wrong = [m for m in found if not m.right]
    print(f"states right: {100.0 * (1.0 - len(wrong) / len(found)):.1f} %")
    for m in wrong:
        print("  ", m.seed, m.kind, m.state, m.engine, m.cam)
    print("called:", dict(Counter((m.kind, m.called) for m in found)))
    print(f"{sound} healthy:", dict(Counter((m.called, m.lost, m.right) for m in healthy)))


def _one(seed: int) -> list[Measured]:
    return [sweep_of_seed(seed)]


def _one_healthy(seed: int) -> list[Measured]:
    return [measured_sweep(drawn_sweep(seed, "moves"))]


if __name__ == "__main__":
    main()
