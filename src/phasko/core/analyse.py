"""The whole job: measures every capture, joins them to one call, and writes the result document."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from phasko import __version__
from phasko.core import numbers
from phasko.core.chain import pitches_of
from phasko.core.documents.analysis import (
    Analysis,
    CamEdgeResult,
    CamResult,
    CaptureResult,
    CountResult,
    CrankResult,
    Provenance,
    ProvenanceCapture,
    SegmentResult,
)
from phasko.core.documents.engine import EngineProfile
from phasko.core.finding import phase_finding
from phasko.core.judgement import call
from phasko.core.measure import CamReading, CaptureMeasurement, measure_capture
from phasko.core.recording import Recording
from phasko.core.reference import CamReference, KnownGood, references_from
from phasko.core.segments import SegmentKind

__all__ = ["HashedCapture", "analyse_job", "known_good", "result_document"]


@dataclass(frozen=True, slots=True, eq=False)
class HashedCapture:
    """A recording with the hash of the files it came from."""

    recording: Recording
    sha256: str


def known_good(
    recordings: Sequence[Recording], profile: EngineProfile
) -> Mapping[tuple[str, SegmentKind], CamReference]:
    """What known good captures of the same engine type say about its cams."""
    good = [
        KnownGood(reading.cam.id, reading.segment, tuple(reading.offset.statistics.edge_means.tolist()))
        for recording in recordings
        for reading in measure_capture(recording, profile).cams
        if reading.offset is not None and reading.ambiguous_modulo_deg is None
    ]
    return references_from(good, profile)


def analyse_job(
    captures: Sequence[HashedCapture],
    profile: EngineProfile,
    engine_sha256: str,
    references: Sequence[Recording] = (),
) -> Analysis:
    """Measures each capture, against known good ``references`` where there are any, and makes one call from all."""
    good = known_good(references, profile)
    measured = [measure_capture(capture.recording, profile, good) for capture in captures]
    return result_document(measured, profile, [capture.sha256 for capture in captures], engine_sha256)


def result_document(
    measured: Sequence[CaptureMeasurement], profile: EngineProfile, sha256s: Sequence[str], engine_sha256: str
) -> Analysis:
    """The result document of captures that are measured already."""
    files = [capture.recording.file for capture in measured]
    return Analysis(
        captures=[_capture_result(capture, profile) for capture in measured],
        verdict=call(measured, profile),
        provenance=Provenance(
            software=f"phasko {__version__}",
            numbers=numbers.NUMBERS_VERSION,
            captures=[ProvenanceCapture(file=f, sha256=h) for f, h in zip(files, sha256s, strict=True)],
            engine_sha256=engine_sha256,
        ),
    )


def _capture_result(capture: CaptureMeasurement, profile: EngineProfile) -> CaptureResult:
    silent = [CamResult(cam=cam, segment=None, reference="none", state="no_signal") for cam in capture.silent_cams]
    return CaptureResult(
        file=capture.recording.file,
        usable=capture.usable,
        finding=phase_finding(capture, profile),
        problems=list(capture.problems),
        segments=[SegmentResult(kind=s.kind, from_s=s.from_s, to_s=s.to_s) for s in capture.segments],
        crank=_crank_result(capture),
        cams=[_cam_result(reading, profile) for reading in capture.cams] + silent,
        counts=_counts(capture, profile),
    )


def _crank_result(capture: CaptureMeasurement) -> CrankResult | None:
    clock = capture.clock
    if clock is None:
        if capture.matches_profile is None:
            return None
        return CrankResult(
            wheel=capture.wheel,
            matches_profile=False,
            mean_rpm=None,
            revolutions=None,
            cycles=None,
            missing_edges=0,
            extra_edges=0,
        )
    odd = [o for o in clock.teeth.irregularities if clock.usable_at(o.time_s)]
    return CrankResult(
        wheel=capture.wheel,
        matches_profile=capture.matches_profile,
        mean_rpm=clock.mean_rpm,
        revolutions=clock.turned_deg / 360.0,
        cycles=len(capture.cycles),
        missing_edges=sum(o.count for o in odd if o.kind == "missing"),
        extra_edges=sum(o.count for o in odd if o.kind == "extra"),
    )


def _counts(capture: CaptureMeasurement, profile: EngineProfile) -> list[CountResult]:
    """Counted teeth of the crank wheel per cycle, against what the profile says."""
    clock = capture.clock
    if clock is None or clock.turned_deg < 720.0:
        return []
    teeth = clock.teeth.teeth
    odd = clock.teeth.irregularities
    seen = int(np.count_nonzero(clock.teeth.tooth_number >= 0)) + sum(o.count for o in odd if o.kind == "extra")
    windows = math.floor(clock.turned_deg / 720.0)
    bad = {math.floor((o.time_s - capture.recording.start_s) / max(clock.turning_s, 1e-9) * windows) for o in odd}
    per_cycle = round(seen / (clock.turned_deg / 720.0), 2)
    expected = len(profile.crank.wheel.angles_deg) * 2
    assert expected == 2 * teeth
    return [CountResult(signal="crank", per_cycle=per_cycle, expected=expected, bad_windows=len(bad), windows=windows)]


def _cam_result(reading: CamReading, profile: EngineProfile) -> CamResult:
    offset = reading.offset
    if offset is None:
        return CamResult(
            cam=reading.cam.id,
            segment=reading.segment,
            reference="none",
            missing_edges=reading.missing_edges,
            extra_edges=reading.extra_edges,
        )
    value = offset.offset.value
    counted = pitches_of(value, profile.drive, reading.cam.id)
    return CamResult(
        cam=reading.cam.id,
        segment=reading.segment,
        reference=reading.reference.source,
        offset_deg=value,
        offset_u95_deg=offset.offset.u95,
        total_u95_deg=offset.total_u95_deg,
        cycle_spread_deg=offset.spread_deg,
        trend_deg_per_s=offset.trend_deg_per_s,
        cycles=offset.offset.cycles_used,
        pitches=None if counted is None else counted.pitches,
        pitch_stage=None if counted is None else counted.stage,
        ambiguous_modulo_deg=reading.ambiguous_modulo_deg,
        state=offset.state,
        missing_edges=reading.missing_edges,
        extra_edges=reading.extra_edges,
        edges=_edges(reading, profile),
    )


def _edges(reading: CamReading, profile: EngineProfile) -> list[CamEdgeResult]:
    assert reading.offset is not None
    means = reading.offset.statistics.edge_means
    found = []
    for i, edge in enumerate(reading.cam.edges):
        if not np.isfinite(means[i]):
            continue
        measured = (edge.deg + float(means[i])) % 720.0
        found.append(
            CamEdgeResult(
                edge=i,
                kind=edge.kind,
                measured_deg=measured,
                reference_deg=edge.deg,
                delta_deg=float(means[i]),
                teeth_from_gap=_teeth_from_gap(measured, profile),
            )
        )
    return found


def _teeth_from_gap(measured_deg: float, profile: EngineProfile) -> float | None:
    """Wheel teeth between the index tooth and the edge, missing ones counted, two decimals."""
    pitch, index = profile.crank.wheel.pitch_deg, profile.crank.index_deg
    if pitch is None or index is None:
        return None
    return round(((measured_deg - index) % 360.0) / pitch, 2)
