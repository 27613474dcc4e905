"""How often the proposed roles are right, over every engine of the pool, every sensor, several hook-ups.

python -m benchmarks.roles [captures per engine] [first seed]
"""

from __future__ import annotations

import sys

from benchmarks.table import all_rows
from phasko.bench.pool import pool_engine, pool_engines
from phasko.bench.run import run_engine
from phasko.bench.scenario import clear_flood_cranking, idling
from trials.channel_roles import proposals, right

FINAL_SEED = 60_000


def _job(job: tuple[str, int]) -> list[tuple[str, str, bool, bool, str]]:
    name, seed = job
    scenario = idling(2.0) if seed % 4 == 3 else clear_flood_cranking(3.4)
    run = run_engine(pool_engine(name), scenario, seed)
    return [
        (
            name,
            channel.role,
            right(channel, found),
            found.certain,
            f"{seed} {found.role} {found.cam or found.wheel or found.cylinder}: {found.reason}",
        )
        for channel, found in proposals(run, seed)
    ]


def line(name: str, rows: list[tuple[str, str, bool, bool, str]]) -> str:
    """One row of the table."""
    share, sure = 100 * sum(r[2] for r in rows) / len(rows), 100 * sum(r[3] for r in rows) / len(rows)
    return f"| {name} | {len(rows)} | {share:.1f} % | {sure:.0f} % | {sum(1 for r in rows if r[3] and not r[2])} |"


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 40
    first = int(sys.argv[2]) if len(sys.argv) > 2 else FINAL_SEED
    jobs = [(name, first + 100 * k + i) for k, name in enumerate(pool_engines()) for i in range(count)]
    rows = all_rows(_job, jobs)
    channels = sorted({r[1] for r in rows})
    print("| channel | proposed | right | certain | certain and wrong |")
    print("|---|---|---|---|---|")
    for role in channels:
        own = [r for r in rows if r[1] == role]
        print(line(role, own))
    print(line("**all**", rows))
    if count < 20:
        for row in [r for r in rows if not r[2]][:30]:
            print(row)


if __name__ == "__main__":
    main()
