"""How often the call is right, how honest its chances are, what its gate does, and what the next test saves.

    python -m benchmarks.call [jobs of each mix] [first seed]

Two mixes of faults: one like the priors, in which the chances must be honest, and one far from them. Seeds below 10000
were used while the judgement was made, 10000 to 19999 to check it on the way, 1000000 and up for figures of an earlier
version; 3000000 and up are only for the figures in the docs.
"""

from __future__ import annotations

import itertools
import sys
from collections import Counter, defaultdict
from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from benchmarks.table import all_rows
from phasko.core.capture.steps import measure_capture
from trials.called_jobs import Called, called_job
from trials.drawn_jobs import MIXES, drawn_job

FINAL_SEED = 11_000_000


WALKED = 20
"""Every twentieth job is also walked from its first capture on, test by test."""


def _job(job: tuple[str, int]) -> list[Called]:
    mix, seed = job
    drawn = drawn_job(mix, seed)
    captures = [measure_capture(recording, drawn.profile) for recording in drawn.recordings]
    # Nothing looks at the samples any more.
    lean = [replace(capture, edges={}) for capture in captures]
    return [called_job(drawn, lean, seed % WALKED == 0)]


def by_fault(rows: Sequence[Called]) -> None:
    print("| what is wrong | jobs | first right | acceptable | or not parted | opened | most often taken for |")
    print("|---|---:|---:|---:|---:|---:|---|")
    groups: dict[str, list[Called]] = defaultdict(list)
    for row in rows:
        groups["reference_wrong" if row.truth.wrong_profile else row.truth.fault].append(row)
    for fault, own in sorted(groups.items()):
        missed = Counter(row.leader for row in own if not row.acceptable).most_common(2)
        taken = ", ".join(f"{name} {count}" for name, count in missed)
        print(f"| {fault} | {_shares(own)} | {taken} |")
    print(f"| **all** | {_shares(rows)} | |")


def _shares(rows: Sequence[Called]) -> str:
    opened = sum(row.teardown == "go" for row in rows)
    shares = [_percent(rows, holds) for holds in (_right, _acceptable, _unparted)]
    return f"{len(rows)} | {' | '.join(shares)} | {opened}"


def _right(row: Called) -> bool:
    return row.right


def _acceptable(row: Called) -> bool:
    return row.acceptable


def _unparted(row: Called) -> bool:
    return row.unparted


def _percent(rows: Sequence[Called], holds: Callable[[Called], bool]) -> str:
    return f"{100 * sum(holds(row) for row in rows) / len(rows):.1f} %" if rows else "-"


def by_evidence(rows: Sequence[Called]) -> None:
    print("| evidence at hand | jobs | first right | acceptable | or not parted |")
    print("|---|---:|---:|---:|---:|")
    groups: dict[str, list[Called]] = defaultdict(list)
    for row in rows:
        cylinders = {"compression", "hump_count"} & set(row.kinds)
        parts = ["signals", *(["cylinders"] if cylinders else []), *(["marks"] if "marks" in row.kinds else [])]
        groups[" and ".join(parts)].append(row)
    for name, own in sorted(groups.items()):
        shares = " | ".join(_percent(own, holds) for holds in (_right, _acceptable, _unparted))
        print(f"| {name} | {len(own)} | {shares} |")


def calibration(rows: Sequence[Called]) -> None:
    """The stated chance of the first explanation against how often it is the very one that was drawn, and the Brier
    score of all of them. What comes and goes and was not there counts against it too."""
    stated = np.array([row.probability for row in rows])
    right = np.array([row.exact for row in rows], dtype=float)
    print("| stated | jobs | mean stated | right |")
    print("|---|---:|---:|---:|")
    error = 0.0
    edges = [0.0, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 0.97, 1.01]
    for low, high in itertools.pairwise(edges):
        own = (stated >= low) & (stated < high)
        if own.any():
            mean, share = float(stated[own].mean()), float(right[own].mean())
            error += own.sum() * abs(mean - share) / len(rows)
            print(f"| {low:.2f} to {min(high, 1.0):.2f} | {own.sum()} | {mean:.2f} | {share:.2f} |")
    brier = np.mean([sum((p - (f == row.truth.word)) ** 2 for f, p in row.chances.items()) for row in rows])
    print(f"\nCalibration error {error:.3f}, Brier score {brier:.3f}.")


def gate(rows: Sequence[Called]) -> None:
    harmless = [row for row in rows if not row.truth.needs_opening]
    wrong = [row for row in harmless if row.wrong_go]
    print(f"\nWrong go: {len(wrong)} of {len(harmless)} jobs that need no teardown {[row.seed for row in wrong]}.")
    missed_go(rows)


def missed_go(rows: Sequence[Called]) -> None:
    """Both ways of counting what is due, and the seeds of the missed."""
    due = [row for row in rows if row.go_due]
    wide = [row for row in rows if row.out_twice]
    missed, more = ([row for row in some if row.teardown != "go"] for some in (due, wide))
    print(
        f"Missed go: {len(missed)} of {len(due)} where two kinds agree ({_share(missed, due)}); with what a phaser, a"
    )
    print(f"slack tensioner or a dead sensor reads alike {len(more)} of {len(wide)} ({_share(more, wide)}).")
    print(f"Seeds {[row.seed for row in missed]}, and {[row.seed for row in more if row not in missed]}.")


def _share(some: Sequence[object], of: Sequence[object]) -> str:
    return f"{100 * len(some) / len(of):.1f} %" if of else "-"


def minutes(rows: Sequence[Called]) -> None:
    walks = [row.walk for row in rows if row.walk is not None]
    if not walks:
        return
    led, listed = (sum(w.led_minutes for w in walks), sum(w.listed_minutes for w in walks))
    right = [sum(w.led_right for w in walks), sum(w.listed_right for w in walks)]
    print(
        f"\nMinutes until the call is sure or nothing is left ({len(walks)} jobs from their first capture on): "
        f"{led / len(walks):.0f} by the next test, {listed / len(walks):.0f} by a fixed order, "
        f"{100 * (1 - led / max(listed, 1e-9)):.0f} % saved; right in the end {right[0]} and {right[1]}."
    )


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 1000
    first = int(sys.argv[2]) if len(sys.argv) > 2 else FINAL_SEED
    jobs = [(mix, first + 500_000 * m + i) for m, mix in enumerate(MIXES) for i in range(count)]
    rows = all_rows(_job, jobs)
    for mix in MIXES:
        own = [row for row in rows if row.mix == mix]
        print(f"\n## Faults {mix} ({len(own)} jobs)\n")
        by_fault(own)
        print()
        by_evidence(own)
        print()
        calibration(own)
        gate(own)
        minutes(own)
    print("\n## Both")
    gate(rows)
    minutes(rows)


if __name__ == "__main__":
    main()
