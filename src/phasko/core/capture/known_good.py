"""Known good captures of a kind of engine: what they say about its cams, and how hard its cylinders compress."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace

from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.capture.steps import measure_capture
from phasko.core.compression import CompressionSize, compression_size, overall_problems, overall_size
from phasko.core.crank.segments import SegmentKind, measured_kinds
from phasko.core.documents.analysis import Problem
from phasko.core.documents.capture import CaptureDescription
from phasko.core.documents.engine import EngineProfile
from phasko.core.phase.reference import CamReference, KnownGood, references_from, run_state, unlike
from phasko.core.signals.recording import Recording

__all__ = ["KnownGoodCaptures", "known_good_captures", "measure_against"]


@dataclass(frozen=True, slots=True, eq=False)
class KnownGoodCaptures:
    """What known good captures say: each cam's edges with the state they were taken in, and the size of the
    compression."""

    cams: tuple[KnownGood, ...] = ()
    sizes: tuple[CompressionSize, ...] = ()

    def references(
        self, description: CaptureDescription, profile: EngineProfile
    ) -> Mapping[tuple[str, SegmentKind], CamReference]:
        """The references for a capture of that state, by cam and segment."""
        states = {kind: run_state(description, kind) for kind in measured_kinds}
        return references_from(self.cams, profile, states)


def known_good_captures(measured: Sequence[CaptureMeasurement], allowed: Collection[str] = ()) -> KnownGoodCaptures:
    """What measured captures of healthy engines of the kind say. They were measured against the profile alone. Those
    whose file is among the ``allowed`` a person compares with whatever their state."""
    good = [
        KnownGood(
            cam=reading.cam.id,
            state=run_state(capture.recording.description, reading.segment),
            edge_means_deg=tuple(reading.relative.statistics.edge_means.tolist()),
            u95_deg=reading.relative.offset.u95,
            name=capture.recording.file.removesuffix(".capture.json"),
            how=None if (said := capture.recording.description.known_good) is None else said.how,
            allowed=capture.recording.file in allowed,
        )
        for capture in measured
        for reading in capture.cams
        if reading.relative is not None
        and reading.ambiguous_modulo_deg is None
        and reading.reference.source == "profile"
        and not reading.swapped
    ]
    sizes = [compression_size(one.compression, one.recording) for one in measured if one.compression is not None]
    return KnownGoodCaptures(tuple(good), tuple(size for size in sizes if size is not None))


def measure_against(recording: Recording, profile: EngineProfile, good: KnownGoodCaptures) -> CaptureMeasurement:
    """One capture measured against known good ones: its cams where they have the same state, its compression's size."""
    capture = measure_capture(recording, profile, good.references(recording.description, profile))
    refused = tuple(_refused(capture, good))
    capture = replace(capture, problems=(*capture.problems, *refused))
    if capture.compression is None or not good.sizes:
        return capture
    own = compression_size(capture.compression, capture.recording)
    overall = None if own is None else overall_size(own, good.sizes)
    if overall is None:
        return capture
    problems = (*capture.problems, *overall_problems(overall))
    return replace(capture, compression=replace(capture.compression, overall=overall), problems=problems)


def _refused(capture: CaptureMeasurement, good: KnownGoodCaptures) -> list[Problem]:
    """Known good captures that were left out because of their state, and those that are compared with all the same;
    said once each, where the cam has no known good of its own state."""
    found: dict[str, Problem] = {}
    for reading in capture.cams:
        own = run_state(capture.recording.description, reading.segment)
        of_cam = [g for g in good.cams if g.cam == reading.cam.id]
        alike = {g.name for g in of_cam if not unlike(own, g.state, reading.cam)}
        same_segment = {g.name for g in of_cam if g.state.segment == own.segment}
        for one in of_cam:
            other_segment = one.state.segment != own.segment and one.name in same_segment
            if one.name in alike or other_segment:
                continue
            differs = " and ".join(unlike(own, one.state, reading.cam))
            if one.name in reading.reference.names:
                text = f"{one.name} was recorded {differs}: it is compared with all the same, and the range is wider."
                found[one.name] = Problem(code="reference_of_another_state", channel=None, text=text)
            elif one.name not in found:
                text = f"{one.name} was recorded {differs}: cams need not stand alike, so it is not compared with."
                found[one.name] = Problem(code="reference_refused", channel=None, text=text)
    return list(found.values())
