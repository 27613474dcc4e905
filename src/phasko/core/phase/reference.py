"""Known good captures as the reference: each cam's edges where a healthy engine of the kind has them."""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.crank.segments import SegmentKind
from phasko.core.documents.engine import Cam, EngineProfile
from phasko.core.uncertainty import t_factor

__all__ = ["CamReference", "KnownGood", "profile_references", "references_from"]


@dataclass(frozen=True, slots=True)
class CamReference:
    """What a cam is compared with: its edges, what they are called, and how far they may be wrong (95 %, deg).

    ``index_u95_deg`` is 0 for a known good capture: it was taken against the same kind of wheel.
    """

    cam: Cam
    source: str
    edges_u95_deg: float
    index_u95_deg: float

    @property
    def u95_deg(self) -> float:
        return math.hypot(self.edges_u95_deg, self.index_u95_deg)


@dataclass(frozen=True, slots=True)
class KnownGood:
    """One cam of one known good capture: mean deviation of each edge from the profile (``nan``: not seen)."""

    cam: str
    segment: SegmentKind
    edge_means_deg: tuple[float, ...]


def profile_references(profile: EngineProfile, known: Collection[str] | None = None) -> dict[str, CamReference]:
    """The profile itself as reference, by cam; 1 degree where it does not say how sure it is. Cams not among the
    ``known`` have edges that were only learnt: their source is ``none``."""
    default = numbers.DEFAULT_REFERENCE_U95_DEG.value
    index = default if profile.crank.index_u95_deg is None else profile.crank.index_u95_deg
    found = {}
    for cam in profile.cams:
        source = "profile" if known is None or cam.id in known else "none"
        edges = default if cam.edges_u95_deg is None else cam.edges_u95_deg
        found[cam.id] = CamReference(cam, source, edges, index)
    return found


def references_from(
    good: Sequence[KnownGood], profile: EngineProfile
) -> Mapping[tuple[str, SegmentKind], CamReference]:
    """References of known good captures, by cam and state: edges moved to where the good ones have them.

    With several, the half width is that of one more engine of the kind (prediction interval, t factor times
    s * sqrt(1 + 1/n)); one alone says nothing about its kind's spread, and 1 degree is assumed.
    """
    found: dict[tuple[str, SegmentKind], CamReference] = {}
    for cam in profile.cams:
        for kind in sorted({g.segment for g in good if g.cam == cam.id}):
            rows = np.array([g.edge_means_deg for g in good if g.cam == cam.id and g.segment == kind])
            whole = rows[np.isfinite(rows).all(axis=1)]
            if not whole.size:
                continue
            moved = whole.mean(axis=0)
            edges = [
                edge.model_copy(update={"deg": (edge.deg + float(shift)) % 720.0})
                for edge, shift in zip(cam.edges, moved, strict=True)
            ]
            u95 = _spread_u95(whole.mean(axis=1))
            found[cam.id, kind] = CamReference(cam.model_copy(update={"edges": edges}), "reference", u95, 0.0)
    return found


def _spread_u95(offsets: np.ndarray) -> float:
    if offsets.size < 2:
        return numbers.DEFAULT_REFERENCE_U95_DEG.value
    return t_factor(offsets.size - 1) * float(np.std(offsets, ddof=1)) * math.sqrt(1.0 + 1.0 / offsets.size)
