"""The call on a drawn job, beside the truth that the job was drawn with."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.call import call
from phasko.core.call.hypotheses import prior_chances, single_hypotheses
from phasko.core.capture.cylinder_finding import corner_offs
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.analysis import FaultResult, Verdict
from phasko.core.evidence import JobEvidence
from trials.drawn_faults import Truth
from trials.drawn_jobs import BenchJob
from trials.walks import Walk, walked

INSEPARABLE = 1.5


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
