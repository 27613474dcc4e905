"""The whole job: measures every capture, joins them to one call, and writes the result document."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from phasko import __version__
from phasko.core import numbers
from phasko.core.breathing import manifold_results, pulse_results
from phasko.core.cam_result import cam_results
from phasko.core.documents.analysis import (
    Analysis,
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
from phasko.core.health import irregularities, signal_health
from phasko.core.ignition import ignition_results
from phasko.core.judgement import call
from phasko.core.learnt_result import learnt_result
from phasko.core.measure import CaptureMeasurement, measure_capture
from phasko.core.recording import Recording
from phasko.core.reference import CamReference, KnownGood, references_from
from phasko.core.seal import compression_result
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
        KnownGood(reading.cam.id, reading.segment, tuple(reading.relative.statistics.edge_means.tolist()))
        for recording in recordings
        for reading in measure_capture(recording, profile).cams
        if reading.relative is not None
        and reading.ambiguous_modulo_deg is None
        and reading.reference.source == "profile"
        and not reading.exchanged
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
        captures=[_capture_result(capture) for capture in measured],
        verdict=call(measured, profile),
        provenance=Provenance(
            software=f"phasko {__version__}",
            numbers=numbers.NUMBERS_VERSION,
            captures=[ProvenanceCapture(file=f, sha256=h) for f, h in zip(files, sha256s, strict=True)],
            engine_sha256=engine_sha256,
        ),
    )


def _capture_result(capture: CaptureMeasurement) -> CaptureResult:
    silent = [CamResult(cam=cam, segment=None, reference="none", state="no_signal") for cam in capture.silent_cams]
    return CaptureResult(
        file=capture.recording.file,
        usable=capture.usable,
        finding=phase_finding(capture, capture.engine),
        problems=list(capture.problems),
        segments=[SegmentResult(kind=s.kind, from_s=s.from_s, to_s=s.to_s) for s in capture.segments],
        crank=_crank_result(capture),
        cams=[result for reading in capture.cams for result in cam_results(reading, capture.engine)] + silent,
        counts=[
            CountResult(
                signal=c.signal,
                per_cycle=c.per_cycle,
                expected=c.expected,
                bad_windows=c.bad_windows,
                windows=c.windows,
            )
            for c in capture.counts
        ],
        irregularities=irregularities(capture),
        health=signal_health(capture),
        learnt=learnt_result(capture),
        filters=list(capture.filters),
        compression=compression_result(capture.compression, capture.engine),
        ignition=ignition_results(capture.firings),
        pulses=pulse_results(capture.pulses),
        manifolds=manifold_results(capture.manifolds),
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
    odd = [event for event in capture.events if event.signal == "crank"]
    return CrankResult(
        wheel=capture.wheel,
        matches_profile=capture.matches_profile,
        mean_rpm=clock.mean_rpm,
        revolutions=clock.turned_deg / 360.0,
        cycles=len(capture.cycles),
        missing_edges=sum(event.count for event in odd if event.kind == "missing"),
        extra_edges=sum(event.count for event in odd if event.kind == "extra"),
    )
