"""Captures of one state that contradict each other: which cam, by how much, and which came first."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

from phasko.core import numbers
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.crank.segments import SegmentKind
from phasko.core.documents.analysis import Finding, Problem
from phasko.core.documents.engine import Cam, EngineProfile
from phasko.core.phase.reading import CamReading
from phasko.core.words import angle_words, cam_name, degrees, lower_first

__all__ = ["Contradiction", "contradiction_finding", "contradiction_problems", "contradictions"]


@dataclass(frozen=True, slots=True)
class Contradiction:
    """One cam that two captures of one state read differently (deg). ``first`` and ``second`` count the captures as
    they are given; the first was recorded earlier, or added earlier where nobody noted when."""

    cam: Cam
    segment: SegmentKind
    first: int
    second: int
    first_file: str
    second_file: str
    first_deg: float
    second_deg: float
    u95_deg: float

    @property
    def apart_deg(self) -> float:
        return abs(self.second_deg - self.first_deg)

    def concerns(self, capture: int, reading: CamReading) -> bool:
        """Whether nothing may be concluded from that capture's reading of that cam."""
        return (
            capture in (self.first, self.second) and reading.segment == self.segment and reading.cam.id == self.cam.id
        )


def contradictions(captures: Sequence[CaptureMeasurement]) -> tuple[Contradiction, ...]:
    """Pairs of captures of the same state (cranking or running, hot or cold, phasers, symptom) in which a cam stands
    differently by more than ``CAPTURES_DIFFER_DEG`` and what either measurement may be off; the largest first.

    A cam that moves inside a capture, or that its phaser may have moved, is no contradiction: it has a reason.
    """
    found = []
    for one, other in itertools.combinations(range(len(captures)), 2):
        if _state(captures[one]) != _state(captures[other]):
            continue
        first, second = sorted((one, other), key=lambda i: (_recorded(captures[i], captures[one], captures[other]), i))
        for early, late in itertools.product(_comparable(captures[first]), _comparable(captures[second])):
            if (early.cam.id, early.segment) == (late.cam.id, late.segment):
                pair = _pair(early, late, (first, second), (captures[first], captures[second]))
                if pair.apart_deg > numbers.CAPTURES_DIFFER_DEG.value + pair.u95_deg:
                    found.append(pair)
    return tuple(sorted(found, key=lambda pair: -pair.apart_deg))


def _state(capture: CaptureMeasurement) -> tuple[str, ...]:
    about = capture.recording.description
    return (about.temperature, about.phasers, about.symptom, about.repair or "before")


def _recorded(capture: CaptureMeasurement, one: CaptureMeasurement, other: CaptureMeasurement) -> float:
    """When it was recorded, in s, where that is known of both; else 0."""
    own, first, second = (c.recording.description.recorded_at for c in (capture, one, other))
    return own.timestamp() if own and first and second else 0.0


def _comparable(capture: CaptureMeasurement) -> list[CamReading]:
    # Where nobody unplugged the phasers, a running engine may have moved a cam on purpose.
    moved = capture.recording.description.phasers in ("active", "sweep", "unknown")
    return [
        reading
        for reading in capture.cams
        if reading.offset is not None
        and not reading.swapped
        and reading.ambiguous_modulo_deg is None
        and reading.offset.state != "unsteady"
        and not (moved and reading.segment == "running" and reading.cam.phaser is not None)
    ]


def _pair(
    early: CamReading,
    late: CamReading,
    order: tuple[int, int],
    captures: tuple[CaptureMeasurement, CaptureMeasurement],
) -> Contradiction:
    assert early.offset is not None and late.offset is not None
    return Contradiction(
        cam=late.cam,
        segment=late.segment,
        first=order[0],
        second=order[1],
        first_file=captures[0].recording.file,
        second_file=captures[1].recording.file,
        first_deg=early.offset.offset.value,
        second_deg=late.offset.offset.value,
        u95_deg=math.hypot(early.offset.offset.u95, late.offset.offset.u95),
    )


def contradiction_problems(found: Sequence[Contradiction], capture: int) -> list[Problem]:
    """What is said at each of the captures that contradict each other."""
    return [
        Problem(
            code="captures_disagree",
            text=f"Cam {one.cam.id} reads {angle_words(one.first_deg)} in {_name(one.first_file)} and "
            f"{angle_words(one.second_deg)} in {_name(one.second_file)}, which is of the same state. Nothing is "
            "concluded from either. Does the fault come and go, or was something repaired in between?",
        )
        for one in found
        if capture in (one.first, one.second)
    ]


def contradiction_finding(found: Sequence[Contradiction], profile: EngineProfile) -> Finding:
    """The sentence for a job whose captures contradict each other; ``found`` is not empty."""
    worst = found[0]
    emphasis = f"differ by {degrees(worst.apart_deg, worst.u95_deg)}"
    cams = {one.cam.id for one in found}
    more = f"; so do {len(cams) - 1} more cams" if len(cams) > 2 else "; so does another cam" if len(cams) == 2 else ""
    return Finding(
        text=f"Two captures of one state {emphasis}: {lower_first(cam_name(worst.cam, profile))} "
        f"{_reads(worst.first_deg, worst.u95_deg)} at first, {_reads(worst.second_deg, worst.u95_deg)} later{more}",
        emphasis=emphasis,
        detail=f"{_name(worst.first_file)} came first, then {_name(worst.second_file)}; nothing is concluded from "
        "their mean",
        short=f"captures {emphasis}",
    )


def _reads(offset_deg: float, u95_deg: float) -> str:
    # The same words as the headline of one capture alone, so that the two never differ.
    calm = abs(offset_deg) <= u95_deg + numbers.IN_TIME_WORDS_DEG.value
    return "in time" if calm else angle_words(offset_deg, u95_deg)


def _name(file: str) -> str:
    return file.removesuffix(".capture.json")
