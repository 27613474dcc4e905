"""Geometry of the timing drive: pitches, and how late an elongated chain makes a cam."""

from __future__ import annotations

import math
from dataclasses import dataclass

from phasko.core import numbers
from phasko.core.documents.engine import Drive, EngineProfile

__all__ = [
    "PitchCount",
    "assumed_pitches_deg",
    "chain_mm_per_deg",
    "elongation_at_limit",
    "elongation_lateness_deg",
    "pitch_stages_deg",
    "pitches_of",
    "sprocket_diameter_mm",
]


@dataclass(frozen=True, slots=True)
class PitchCount:
    """An offset in chain pitches of one stage (``None`` when the drive has only one)."""

    pitches: float
    stage: int | None


def pitch_stages_deg(drive: Drive | None, cam: str) -> tuple[float, ...]:
    """Crank degrees of one pitch in each stage between the crank and that cam; empty when not known.

    One pitch turns a sprocket of z teeth by 360/z degrees; on the crank sprocket that is 360/z crank degrees.
    """
    if drive is None:
        return ()
    if cam in drive.pitch_crank_deg:
        return tuple(drive.pitch_crank_deg[cam])
    return (360.0 / drive.crank_sprocket_teeth,) if drive.crank_sprocket_teeth else ()


def assumed_pitches_deg() -> tuple[float, ...]:
    """Pitches of all usual crank sprockets, for an engine whose sprocket is not known."""
    fewest, most = (int(entry.value) for entry in numbers.SPROCKET_TEETH_UNKNOWN)
    return tuple(360.0 / teeth for teeth in range(fewest, most + 1))


def pitches_of(offset_deg: float, drive: Drive | None, cam: str) -> PitchCount | None:
    """The offset in pitches; with several stages, of the stage in which it is nearest to a whole number (not zero)."""
    stages = pitch_stages_deg(drive, cam)
    if not stages:
        return None
    counts = [offset_deg / pitch for pitch in stages]
    best = min(range(len(stages)), key=lambda i: abs(counts[i] - round(counts[i])) + (round(counts[i]) == 0))
    return PitchCount(counts[best], best if len(stages) > 1 else None)


def chain_mm_per_deg(drive: Drive | None, cam: str) -> float | None:
    """Millimetres of chain that run past for one crank degree; ``None`` without the chain's pitch or the sprocket.

    One tooth takes up one pitch of chain, so z teeth take up z times the pitch in a turn.
    """
    stages = pitch_stages_deg(drive, cam)
    if drive is None or drive.pitch_mm is None or not stages:
        return None
    return drive.pitch_mm / stages[0]


def sprocket_diameter_mm(pitch_mm: float, teeth: float) -> float:
    """Pitch circle of a sprocket on which each link lies as a chord: p / sin(180/z) (ISO 606:2015, annex on sprockets;
    from memory)."""
    return pitch_mm / math.sin(math.pi / teeth)


def elongation_lateness_deg(drive: Drive | None, cam: str, percent: float) -> float:
    """How late (crank degrees, positive) an elongation in percent makes that cam: e/100 * free links * pitch."""
    stages = pitch_stages_deg(drive, cam)
    pitch = stages[0] if stages else 360.0 / (0.5 * sum(entry.value for entry in numbers.SPROCKET_TEETH_UNKNOWN))
    links = drive.free_links.get(cam) if drive else None
    return percent / 100.0 * (numbers.FREE_LINKS_UNKNOWN.value if links is None else links) * pitch


def elongation_at_limit(profile: EngineProfile) -> float | None:
    """The elongation (percent) at which the first cam stands beyond its limit; ``None`` without a cam to measure, or
    where no chain survives so long."""
    per_percent = [
        cam.tolerance_deg / late
        for cam in profile.cams
        if cam.edges and (late := elongation_lateness_deg(profile.drive, cam.id, 1.0)) > 0.0
    ]
    first = min(per_percent, default=None)
    return None if first is None else min(first, numbers.STRETCH_MAX_PERCENT.value)
