"""Whether the points of practice reward what they should: simulated learners of mixed skill, one that follows the
machine, one that guesses and one that opens every engine, all at the same cars.

python -m benchmarks.practice [JOBS] [FIRST SEED]
"""

from __future__ import annotations

import sys

import numpy as np

from benchmarks.table import all_rows
from trials.learners import GUESSES, LEARNERS, MACHINE, OPENS, RIGHT_IN, SURE_OF, points_of_everybody


def main() -> None:
    jobs = int(sys.argv[1]) if len(sys.argv) > 1 else 500
    first = int(sys.argv[2]) if len(sys.argv) > 2 else 21_000_000
    rows = all_rows(points_of_everybody, range(first, first + jobs))
    mean = {name: float(np.mean([row[name] for row in rows])) for name in rows[0]}
    spread = {name: float(np.std([row[name] for row in rows])) / len(rows) ** 0.5 for name in rows[0]}
    learners = sorted((mean[one.name] for one in LEARNERS), reverse=True)
    print(f"{jobs} cars, seeds {first} and on\n")
    print("| who | points on the average | ± | better than of 100 learners |")
    print("|---|---:|---:|---:|")
    for name in (MACHINE, GUESSES, OPENS):
        better = sum(mean[name] > other for other in learners)
        print(f"| {name} | {mean[name]:.1f} | {1.96 * spread[name]:.1f} | {better} |")
    for place in (1, 10, 50, 90, 100):
        print(f"| learner in place {place} | {learners[place - 1]:.1f} | | {100 - place} |")
    print(f"\nThe machine was right in {100 * mean[RIGHT_IN]:.0f} of 100, and on the average {mean[SURE_OF]:.2f} sure.")


if __name__ == "__main__":
    main()
