"""One bank's cam against the other's, for engines whose own reference is not known."""

from __future__ import annotations

import math
from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.angles import wrap_cycle
from phasko.core.cycle.pattern import fit_pattern
from phasko.core.documents.engine import CamEdge, EngineProfile

__all__ = ["BankDifference", "PlacedCam", "compare_banks"]


@dataclass(frozen=True, slots=True)
class PlacedCam:
    """Where a cam's edges stand in the clock's own frame, and the 95 % half width of their common place (deg)."""

    cam: str
    segment: str
    edges: tuple[CamEdge, ...]
    u95_deg: float
    reference_u95_deg: float | None


@dataclass(frozen=True, slots=True)
class BankDifference:
    """How late ``cam`` is against ``other`` (deg), after their nominal spacing. ``from_profile``: that spacing is the
    profile's; else it is the nearest firing step between the banks. The other bank is assumed to be right."""

    cam: str
    other: str
    segment: str
    offset_deg: float
    u95_deg: float
    total_u95_deg: float
    from_profile: bool


def compare_banks(
    placed: Sequence[PlacedCam], profile: EngineProfile, known: Collection[str]
) -> tuple[BankDifference, ...]:
    """Differences between like cams of two banks, own minus the other's, each pair once per segment. ``known`` are the
    cams whose edges in ``profile`` are the engine's, not just what was seen."""
    found = []
    for one in placed:
        for other in placed:
            mine, theirs = profile.cam(one.cam), profile.cam(other.cam)
            if mine is None or theirs is None or one.segment != other.segment:
                continue
            if mine.bank >= theirs.bank or mine.shaft != theirs.shaft:
                continue
            difference = _difference(one, other, profile, known)
            if difference is not None:
                found.append(difference)
    return tuple(found)


def _difference(
    one: PlacedCam, other: PlacedCam, profile: EngineProfile, known: Collection[str]
) -> BankDifference | None:
    mine, theirs = profile.cam(one.cam), profile.cam(other.cam)
    assert mine is not None and theirs is not None
    apart = _shift(one.edges, other.edges)
    if apart is None:
        return None
    listed = mine.id in known and theirs.id in known
    nominal = _shift(tuple(mine.edges), tuple(theirs.edges)) if listed else None
    default = numbers.DEFAULT_REFERENCE_U95_DEG.value
    half_widths = [default if u is None else u for u in (one.reference_u95_deg, other.reference_u95_deg)]
    spacing_u95 = math.hypot(*half_widths) if nominal is not None else math.hypot(default, default)
    steps = [nominal] if nominal is not None else _firing_steps(mine.bank, theirs.bank, profile)
    offsets = [wrap_cycle(apart - step) for step in steps]
    if not offsets:
        return None
    offset = min(offsets, key=abs)
    u95 = math.hypot(one.u95_deg, other.u95_deg)
    return BankDifference(
        cam=one.cam,
        other=other.cam,
        segment=one.segment,
        offset_deg=offset,
        u95_deg=u95,
        total_u95_deg=math.hypot(u95, spacing_u95),
        from_profile=nominal is not None,
    )


def _shift(edges: tuple[CamEdge, ...], reference: tuple[CamEdge, ...]) -> float | None:
    """How much later ``edges`` come than ``reference``; ``None`` where the patterns differ."""
    if len(edges) != len(reference):
        return None
    angles = np.array([edge.deg for edge in edges])
    rising = np.array([edge.kind == "rising" for edge in edges])
    fit = fit_pattern(angles, rising, list(reference))
    return None if fit is None or fit.cost > numbers.PATTERN_MAX_COST.value else fit.shift_deg


def _firing_steps(bank: int, other: int, profile: EngineProfile) -> list[float]:
    """Angles by which cylinders of one bank fire after cylinders of the other."""
    tdc = profile.firing_tdc_deg
    members = {b.bank: b.cylinders for b in profile.banks}
    return sorted({(tdc[a] - tdc[b]) % 720.0 for a in members.get(bank, []) for b in members.get(other, [])})
