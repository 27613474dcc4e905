"""Kills a workshop's process at random moments of import, description and backup; what is lost or half afterwards.

    python -m benchmarks.kills [kills] [first seed]

A child imports captures, changes what is said of them and writes backups, one after the other; what it was told to be
done it acknowledges. After every kill -9 the file is opened and checked, and every acknowledged capture must be there.
"""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

from trials.kills import killed, workshop_in


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    first = int(sys.argv[2]) if len(sys.argv) > 2 else 0
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        workshop_in(folder)
        rows = killed(folder, range(first, first + count))
    lost, faults = max(row.lost for row in rows), sum(len(row.faults) for row in rows)
    print(
        f"{count} kills, {rows[-1].acknowledged} imports and copies acknowledged: {lost} lost, {faults} faults found."
    )


if __name__ == "__main__":
    main()
