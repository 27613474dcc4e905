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
from dataclasses import dataclass, replace

import numpy as np

from benchmarks.call_faults import Truth
from benchmarks.call_jobs import MIXES, BenchJob, drawn_job
from benchmarks.call_walk import Walk, walked
from benchmarks.table import all_rows
from phasko.core import numbers
from phasko.core.call import call
from phasko.core.call.hypotheses import prior_chances, single_hypotheses
from phasko.core.capture.cylinder_finding import corner_offs
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.capture.steps import measure_capture
from phasko.core.documents.analysis import FaultResult, Verdict
from phasko.core.evidence import JobEvidence

FINAL_SEED = 11_000_000
INSEPARABLE = 1.5
WALKED = 20
"""Every twentieth job is also walked from its first capture on, test by test."""
BARE_MENTION = 3.0
"""Evidence below three to one is worth no more than a bare mention (Kass and Raftery 1995, section 3.2)."""


@dataclass(frozen=True)
class Called:
    """What became of one job."""

    seed: int
    mix: str
    truth: Truth
    kinds: tuple[str, ...]
    asked: tuple[str, ...]
    leader: str
    probability: float
    second: str
    second_probability: float
    chances: dict[str, float]
    priors: dict[str, float]
    teardown: str
    cylinder_go: bool
    disputed: bool
    marks_out: bool
    corners_out: bool
    late: bool
    silent_alone: bool
    tensioner_settled: bool
    phaser_settled: bool
    walk: Walk | None

    @property
    def right(self) -> bool:
        return self.leader in self.truth.acceptable

    @property
    def exact(self) -> bool:
        """Whether the very word that was drawn leads, hidden or not; of a wrong profile that one."""
        return self.leader == self.truth.word

    @property
    def acceptable(self) -> bool:
        """Right; or nothing at hand parts the two that lead, and the second is right; or nothing at hand can show it
        and the engine is called sound."""
        close = self.probability < INSEPARABLE * self.second_probability
        unseen = self.leader == "none" and self._unseen()
        return self.right or unseen or (close and self.second in self.truth.acceptable)

    @property
    def unparted(self) -> bool:
        """Acceptable; or what was observed speaks less than three to one for the first against a right one, so that
        what is usual had to choose between them."""
        first = self.chances[self.leader] / self.priors[self.leader]
        right = [self.chances[f] / self.priors[f] for f in self.truth.acceptable if self.chances.get(f)]
        return self.acceptable or any(first < BARE_MENTION * odds for odds in right)

    def _unseen(self) -> bool:
        needed = {
            "crank_hub_slipped": ("index", "marks"),
            "exhaust_restricted": ("manifold", "exhaust_opened"),
            "intake_restricted": ("manifold", "intake_opened"),
            "ignition_mistimed": ("spark",),
            "weak_cylinder": ("compression", "leak_down", "gauge", "hump_count"),
            "valve_train": ("compression", "hump_count", "pulses"),
        }.get(self.truth.fault)
        return self.truth.unseen or (needed is not None and not set(needed) & {*self.kinds, *self.asked})

    @property
    def wrong_go(self) -> bool:
        """Told to open although nothing behind the covers is wrong; a cylinder that really leaks may be opened."""
        cylinder = self.cylinder_go and bool({"weak_cylinder", "valve_train"} & {*self.truth.acceptable})
        return self.teardown == "go" and not self.truth.needs_opening and not cylinder

    @property
    def go_due(self) -> bool:
        """Two independent kinds agree about a fault behind the covers: as ``out_twice``, and neither a phaser nor a
        slack tensioner nor a dead sensor reads the same. A cam that is silent with all cylinders sound is no second
        kind: a sensor does that. What one cam's phaser could do, stuck or not, is for its sweep. Of what a slack
        tensioner could do, all cams of a chain read late by little, its travel or a capture in another condition comes
        first."""
        return self.out_twice and not self.silent_alone and self.tensioner_settled and self.phaser_settled

    @property
    def out_twice(self) -> bool:
        """The cam signals stand far out, or flat, and the marks were seen out, or two valve corners were felt out with
        them. Where a signal wheel was seen moved too, looks dispute each other, and one more look is right."""
        if self.truth.fault == "crank_hub_slipped":
            # No cam signal shows it: the pistons and the marks do.
            second = self.marks_out or self.corners_out
            return second and "index" in self.kinds and not self.truth.wrong_profile
        second = self.marks_out or self.corners_out
        due = self.truth.needs_opening and second and self.late and not self.truth.wrong_profile
        return due and not self.disputed


def called_job(job: BenchJob, captures: Sequence[CaptureMeasurement], with_walk: bool) -> Called:
    """The call on one measured job, and the walk from its first capture on."""
    evidence = JobEvidence(job.profile, captures, job.looks)
    verdict = call(evidence)
    first, second = _exclusive(verdict)[:2]
    offsets = [r.offset.offset.value for c in captures for r in c.cams if r.offset is not None]
    silent = any(c.silent_cams for c in captures)
    return Called(
        seed=job.seed,
        mix=job.mix,
        truth=job.truth,
        kinds=tuple(sorted({one.kind for one in verdict.without})),
        asked=tuple(sorted({look.question for look in job.looks})),
        leader=first.fault,
        probability=first.probability,
        second=second.fault,
        second_probability=second.probability,
        chances=_summed(verdict),
        priors=prior_chances(job.profile, single_hypotheses(job.profile).hypotheses),
        teardown=verdict.teardown,
        cylinder_go=bool(first.where.cylinders) and first.fault in ("weak_cylinder", "valve_train"),
        disputed=any(look.question in ("cam_target", "crank_wheel") and look.answer == "moved" for look in job.looks),
        marks_out=any(look.question == "marks" and look.answer == "out" for look in job.looks),
        corners_out=_corners_out(job, captures),
        tensioner_settled=_tensioner_settled(job, captures),
        phaser_settled=_phaser_settled(job),
        late=silent or any(abs(off) > 9.0 for off in offsets),
        silent_alone=silent and not any(abs(off) > 9.0 for off in offsets) and _sound(captures, job.profile.cylinders),
        walk=walked(job, captures) if with_walk else None,
    )


def _corners_out(job: BenchJob, captures: Sequence[CaptureMeasurement]) -> bool:
    """Whether two corners of cams that really moved were felt out, as their signals say, about a TDC that is known."""
    moved = {cam for cam, late in job.truth.valves_deg.items() if abs(late) > 9.0}
    found = [
        off
        for capture in captures
        if capture.index is not None
        for felt in capture.felt
        for off in corner_offs(felt, capture)
        if off.cam in moved and off.out and off.follows
    ]
    return len(found) >= 2


def _tensioner_settled(job: BenchJob, captures: Sequence[CaptureMeasurement]) -> bool:
    """Whether a slack tensioner could not do it: it was looked at, or the cams were read both cranking and running and
    both cold and hot, or they are not the cams of one chain or bank read late together by no more than it leaves."""
    read: dict[str, list[float]] = defaultdict(list)
    for reading in (r for c in captures for r in c.cams if r.offset is not None):
        read[reading.cam.id].append(reading.offset.offset.value if reading.offset is not None else 0.0)
    late = {cam for cam, offs in read.items() if 3.0 < float(np.median(offs)) <= numbers.SLACK_MOST_DEG.value}
    every = [[cam.id for cam in job.profile.cams]]
    banks = [[cam.id for cam in job.profile.cams if cam.bank == bank] for bank in {c.bank for c in job.profile.cams}]
    if not any(late >= set(cams) for cams in every + banks):
        return True
    seen = any(look.question == "tensioner" for look in job.looks)
    about = {reading.segment for c in captures for reading in c.cams}
    warmth = {c.recording.description.temperature for c in captures if c.cams}
    return seen or (len(about) > 1 and len(warmth) > 1)


def _phaser_settled(job: BenchJob) -> bool:
    """Whether no phaser could do it: more than one cam is off, or further than its phaser goes. One that is parked or
    unplugged may be stuck."""
    moved = [cam for cam in job.profile.cams if cam.id in job.truth.valves_deg]
    if len(moved) != 1 or moved[0].phaser is None:
        return True
    low, high = sorted(moved[0].phaser.authority_deg)
    return not low - 4.0 <= job.truth.valves_deg[moved[0].id] <= high + 4.0


def _sound(captures: Sequence[CaptureMeasurement], cylinders: int) -> bool:
    """Whether no capture shows that fewer cylinders seal than there are."""
    sealing = [c.compression.sound for c in captures if c.compression is not None and c.compression.sound is not None]
    return min(sealing, default=cylinders) >= cylinders


def _exclusive(verdict: Verdict) -> list[FaultResult]:
    return [fault for fault in verdict.faults if not fault.besides]


def _summed(verdict: Verdict) -> dict[str, float]:
    found: dict[str, float] = {}
    for one in _exclusive(verdict):
        found[one.fault] = found.get(one.fault, 0.0) + one.probability
    return found


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
