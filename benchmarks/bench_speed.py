"""How long the bench takes: three seconds of a vee eight with eight channels at 100 kS/s, after the first call.

python benchmarks/bench_speed.py
"""

from __future__ import annotations

import time

from phasko.bench.pool import pool_engine
from phasko.bench.probe import Probe
from phasko.bench.recorder import record_run
from phasko.bench.run import run_engine
from phasko.bench.scenario import clear_flood_cranking

PROBES = [
    Probe("crank"),
    *(Probe("cam", cam=cam) for cam in ("B1I", "B1E", "B2I", "B2E")),
    Probe("starter_current"),
    Probe("coil", cylinder=1),
    Probe("cylinder_pressure", cylinder=1),
]


def once() -> tuple[float, float]:
    """(seconds for the physics, seconds for the scope)"""
    start = time.perf_counter()
    run = run_engine(pool_engine("quayle-5.0-eight"), clear_flood_cranking(3.0), 1)
    middle = time.perf_counter()
    record_run(run, PROBES)
    return middle - start, time.perf_counter() - middle


def main() -> None:
    once()
    physics, scope = min((once() for _ in range(5)), key=sum)
    print(f"physics {physics:.2f} s, scope {scope:.2f} s, together {physics + scope:.2f} s for 3 s of engine")


if __name__ == "__main__":
    main()
