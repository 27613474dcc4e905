"""Slack of a chain from the scatter of its cams: what swings together, and what one strand swings by itself."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from phasko.core import numbers
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.standards_results import SlackResult
from phasko.core.engine.drawing import drive_loops
from phasko.core.engine.timing_drive import chain_mm_per_deg
from phasko.core.phase.reading import CamReading
from phasko.core.uncertainty import NORMAL_95
from phasko.core.words import cam_name, drive_word, lower_first

__all__ = ["slack_of"]

_LEAST_CYCLES = 4


def slack_of(capture: CaptureMeasurement) -> list[SlackResult]:
    """Every chain of which two cams were read over enough cycles, in each segment.

    The loaded strand runs from the crank to the first cam: when it slackens all cams of the chain are late together in
    the same cycle. What only one cam does is in the strands beside it. So the covariance of the cams over the cycles is
    the loaded strand's share, and what is left of each cam's variance its own strand's. A phaser that may be driven
    moves its cam by itself, and says nothing of any strand.
    """
    found = []
    for loop in drive_loops(capture.engine):
        for segment in ("cranking", "running"):
            read = [
                r
                for r in capture.cams
                if r.cam.id in loop.around and r.segment == segment and r.relative is not None and not r.swapped
            ]
            read = [r for r in read if not _driven(r, capture)]
            made = _slack(read, segment, capture.engine)
            if made is not None:
                found.append(made)
    return found


def _driven(reading: CamReading, capture: CaptureMeasurement) -> bool:
    about = capture.recording.description.phasers
    return reading.cam.phaser is not None and reading.segment == "running" and about in ("active", "unknown")


def _slack(read: Sequence[CamReading], segment: str, engine: EngineProfile) -> SlackResult | None:
    if len(read) < 2:
        return None
    cycles = set.intersection(*(set(_cycles(r)) for r in read))
    per_deg = chain_mm_per_deg(engine.drive, read[0].cam.id)
    if len(cycles) < _LEAST_CYCLES or per_deg is None:
        return None
    values = np.array([[_cycles(r)[cycle] for cycle in sorted(cycles)] for r in read])
    covariance = np.cov(values)
    pairs = covariance[np.triu_indices(len(read), 1)]
    together = max(0.0, float(pairs.mean()))
    scale = 2.0 * NORMAL_95 * per_deg
    own = {r.cam.id: scale * float(np.sqrt(max(0.0, covariance[i, i] - together))) for i, r in enumerate(read)}
    shared = scale * together**0.5
    return SlackResult(
        cams=[r.cam.id for r in read],
        segment=segment,
        cycles=len(cycles),
        together_mm=shared,
        own_mm=own,
        words=_words(shared, own, read, engine),
    )


def _cycles(reading: CamReading) -> dict[int, float]:
    assert reading.relative is not None
    stats = reading.relative.statistics
    return dict(zip(stats.cycle_numbers.tolist(), stats.cycle_values.tolist(), strict=True))


def _words(together_mm: float, own_mm: dict[str, float], read: Sequence[CamReading], engine: EngineProfile) -> str:
    """Which strand swings, where it is more than a tight one does."""
    word = drive_word(engine)
    tight = numbers.STRAND_SWINGS_MM.value
    loosest = max(read, key=lambda r: own_mm[r.cam.id])
    most = own_mm[loosest.cam.id]
    if max(together_mm, most) <= tight:
        return f"The {word} runs tight: its cams swing by less than {tight:g} mm from cycle to cycle."
    if together_mm >= most:
        return (
            f"All cams of the {word} swing together by {together_mm:.1f} mm: the loaded strand from the crank "
            "slackens. Its tensioner and oil feed first."
        )
    name = lower_first(cam_name(loosest.cam, engine))
    return (
        f"Only the {name} swings, by {most:.1f} mm: the unloaded strand beside it, its phaser's lock or its bolt, not "
        "the strand from the crank."
    )
