"""Known good captures of a kind of engine: what they say about its cams, and how hard its cylinders press."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.capture.steps import measure_capture
from phasko.core.compression import CompressionSize, compression_size, overall_problems, overall_size
from phasko.core.crank.segments import SegmentKind
from phasko.core.documents.engine import EngineProfile
from phasko.core.phase.reference import CamReference, KnownGood, references_from
from phasko.core.signals.recording import Recording

__all__ = ["KnownGoodCaptures", "known_good_captures", "measure_against"]


@dataclass(frozen=True, slots=True, eq=False)
class KnownGoodCaptures:
    """The references that known good captures give: each cam's edges by state, and the size of the compression."""

    cams: Mapping[tuple[str, SegmentKind], CamReference] = field(default_factory=dict)
    sizes: tuple[CompressionSize, ...] = ()


def known_good_captures(measured: Sequence[CaptureMeasurement], profile: EngineProfile) -> KnownGoodCaptures:
    """What measured captures of healthy engines of the kind say. They were measured against the profile alone."""
    good = [
        KnownGood(reading.cam.id, reading.segment, tuple(reading.relative.statistics.edge_means.tolist()))
        for capture in measured
        for reading in capture.cams
        if reading.relative is not None
        and reading.ambiguous_modulo_deg is None
        and reading.reference.source == "profile"
        and not reading.swapped
    ]
    sizes = [compression_size(one.compression, one.recording) for one in measured if one.compression is not None]
    return KnownGoodCaptures(references_from(good, profile), tuple(size for size in sizes if size is not None))


def measure_against(recording: Recording, profile: EngineProfile, good: KnownGoodCaptures) -> CaptureMeasurement:
    """One capture measured against known good ones: its cams where they have the same state, its compression's size."""
    capture = measure_capture(recording, profile, good.cams)
    if capture.compression is None or not good.sizes:
        return capture
    own = compression_size(capture.compression, capture.recording)
    overall = None if own is None else overall_size(own, good.sizes)
    if overall is None:
        return capture
    problems = (*capture.problems, *overall_problems(overall))
    return replace(capture, compression=replace(capture.compression, overall=overall), problems=problems)
