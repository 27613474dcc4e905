"""The whole job: measures every capture, joins them to one call, and writes the result document."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from phasko import __version__
from phasko.code_hash import code_hash
from phasko.core import numbers
from phasko.core.breathing import manifold_results, pulse_results
from phasko.core.call import call
from phasko.core.call.repaired import after_repair, before_repair, evidence_now
from phasko.core.capture.between import repair_pairs
from phasko.core.capture.contradictions import contradiction_problems, contradictions
from phasko.core.capture.cylinder_finding import felt_words
from phasko.core.capture.headline import job_finding, phase_finding
from phasko.core.capture.health import irregularities, signal_health
from phasko.core.capture.known_good import known_good_captures, measure_against
from phasko.core.capture.learnt import learnt_result
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.capture.steps import measure_capture
from phasko.core.compression import compression_result, sealing_words, taken_out_problems, worst
from phasko.core.cylinder import IndexOffset, pressure_results
from phasko.core.documents.analysis import (
    Analysis,
    CamResult,
    CaptureResult,
    CountResult,
    CrankResult,
    Problem,
    Provenance,
    ProvenanceCapture,
    RoadTestResult,
    SegmentResult,
)
from phasko.core.documents.engine import EngineProfile, TypicalFailure
from phasko.core.documents.job import JobDocument
from phasko.core.documents.repair_results import BeforeRepair
from phasko.core.evidence import JobEvidence
from phasko.core.ignition import ignition_results
from phasko.core.injection import injection_results
from phasko.core.looks import Look, look_results
from phasko.core.phase.result import cam_results
from phasko.core.phasers import phaser_results
from phasko.core.signals.recording import Recording
from phasko.core.standards import (
    chain_of,
    conditions_of,
    elongation_of,
    happened_then,
    moved_together,
    slack_of,
    standards_of,
    standards_said,
)

__all__ = ["Beside", "HashedCapture", "analyse_job", "result_document"]


@dataclass(frozen=True, slots=True, eq=False)
class Beside:
    """What a job knows besides its captures: looked at and listened to, driven, told; and what its ``workshop`` finds
    more or less often than others."""

    looks: tuple[Look, ...] = ()
    roads: tuple[RoadTestResult, ...] = ()
    told: JobDocument | None = None
    workshop: tuple[TypicalFailure, ...] = ()

    @property
    def every_look(self) -> tuple[Look, ...]:
        """Those noted and those of the job document."""
        return (*self.looks, *(self.told.looks if self.told is not None else ()))


@dataclass(frozen=True, slots=True, eq=False)
class HashedCapture:
    """A recording with the hash of the files it came from."""

    recording: Recording
    sha256: str


def analyse_job(
    captures: Sequence[HashedCapture],
    profile: EngineProfile,
    engine_sha256: str,
    references: Sequence[Recording] = (),
    beside: Beside | None = None,
) -> Analysis:
    """Measures each capture, against known good ``references`` where there are any, and makes one call from all and
    what was seen and driven ``beside``."""
    compare = beside.told.compare if beside is not None and beside.told is not None else None
    chosen = [r for r in references if compare is None or r.file not in compare.left_out]
    allowed = compare.allowed if compare is not None else ()
    good = known_good_captures([measure_capture(recording, profile) for recording in chosen], allowed)
    measured = [measure_against(capture.recording, profile, good) for capture in captures]
    return result_document(measured, profile, [capture.sha256 for capture in captures], engine_sha256, beside)


def result_document(
    measured: Sequence[CaptureMeasurement],
    profile: EngineProfile,
    sha256s: Sequence[str],
    engine_sha256: str,
    beside: Beside | None = None,
) -> Analysis:
    """The result document of captures that are measured already."""
    files = [capture.recording.file for capture in measured]
    disagree = contradictions(measured)
    beside = beside or Beside()
    job = JobEvidence(profile, measured, beside.every_look, beside.roads, beside.told, beside.workshop)
    # What was recorded after a repair is another engine than before; the call is about how it is now.
    now = evidence_now(job)
    current = now.captures
    return Analysis(
        captures=[
            _with_standards(
                _capture_result(capture, contradiction_problems(disagree, number)), measured[: number + 1], beside
            )
            for number, capture in enumerate(measured)
        ],
        verdict=call(now),
        road_tests=list(beside.roads),
        looks=look_results(beside.every_look, profile),
        finding=job_finding(current, profile),
        sealing=_sealing(current, profile),
        felt=felt_words(current),
        elongation=elongation_of(current, profile),
        conditions=conditions_of(measured, profile),
        before_repair=_before_repair(job),
        provenance=Provenance(
            software=f"phasko {__version__}",
            numbers=numbers.NUMBERS_VERSION,
            code=code_hash(),
            captures=[ProvenanceCapture(file=f, sha256=h) for f, h in zip(files, sha256s, strict=True)],
            engine_sha256=engine_sha256,
        ),
    )


def _before_repair(job: JobEvidence) -> BeforeRepair | None:
    """The call as it stood, and each capture that was taken again beside the one it repeats; ``None`` where nothing is
    known from after a repair, or nothing was measured or seen before it."""
    before = before_repair(job)
    if after_repair(job) is None or not (before.captures or before.looks or before.roads):
        return None
    after = [c for c in job.captures if c.recording.description.repair == "after"]
    finding = job_finding(before.captures, job.profile)
    return BeforeRepair(
        verdict=call(before),
        finding=finding.text if finding is not None else None,
        pairs=repair_pairs(before.captures, after, job.profile),
    )


def _with_standards(result: CaptureResult, until: Sequence[CaptureMeasurement], beside: Beside) -> CaptureResult:
    """The last of the captures ``until`` now, beside everything there is to compare it with."""
    *earlier, capture = until
    told = beside.told
    rows = standards_of(capture, earlier, told.figures if told is not None else ())
    limit = told.limit.cam_deg if told is not None and told.limit is not None else None
    return result.model_copy(
        update={
            "standards": rows,
            "standards_said": standards_said(rows, capture.engine),
            "chain": chain_of(capture, limit),
            "slack": slack_of(capture),
            "together": moved_together(capture, elongation_of([capture], capture.engine)),
            "cams": [_with_step(cam, capture) for cam in result.cams],
        }
    )


def _with_step(cam: CamResult, capture: CaptureMeasurement) -> CamResult:
    """With what else happened when the cam stepped."""
    if cam.step is None:
        return cam
    then = happened_then(capture, cam.step.time_s)
    return cam.model_copy(update={"step": cam.step.model_copy(update={"happened": then})})


def _sealing(captures: Sequence[CaptureMeasurement], profile: EngineProfile) -> str | None:
    every = [c for one in captures for c in (one.compression, one.compression_whole) if c is not None]
    if not every:
        return None
    lowest = min(every, key=lambda c: 1.0 if (low := worst(c, profile)) is None else low.relative)
    return sealing_words(lowest, profile)


def _capture_result(capture: CaptureMeasurement, beside: Sequence[Problem]) -> CaptureResult:
    compression = compression_result(capture.compression, capture.engine)
    taken_out = capture.recording.description.taken_out
    silent = [CamResult(cam=cam, segment=None, reference="none", state="no_signal") for cam in capture.silent_cams]
    return CaptureResult(
        file=capture.recording.file,
        usable=capture.usable,
        finding=phase_finding(capture, capture.engine),
        problems=[*capture.problems, *beside, *taken_out_problems(taken_out, compression, capture.engine)],
        segments=[SegmentResult(kind=s.kind, from_s=s.from_s, to_s=s.to_s) for s in capture.segments],
        crank=_crank_result(capture),
        cams=[_from_tdc(c, capture.index) for r in capture.cams for c in cam_results(r, capture.engine)] + silent,
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
        compression=compression,
        ignition=ignition_results(capture.firings),
        injection=injection_results(capture.injections),
        cylinder_pressure=pressure_results(capture.felt),
        phasers=phaser_results(capture.sweeps, capture.engine),
        pulses=pulse_results(capture.pulses),
        manifolds=manifold_results(capture.manifolds),
    )


def _from_tdc(cam: CamResult, index: IndexOffset | None) -> CamResult:
    """The cam against the pistons instead of the wheel, where these were felt."""
    if index is None or cam.offset_deg is None or cam.total_u95_deg is None or cam.reference.startswith("bank:"):
        return cam
    measured = {
        "offset_from_tdc_deg": cam.offset_deg + index.offset_deg,
        "offset_from_tdc_u95_deg": math.hypot(cam.total_u95_deg, index.u95_deg),
    }
    return cam.model_copy(update=measured)


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
    index = capture.index
    return CrankResult(
        wheel=capture.wheel,
        matches_profile=capture.matches_profile,
        mean_rpm=clock.mean_rpm,
        revolutions=clock.turned_deg / 360.0,
        cycles=len(capture.cycles),
        missing_edges=sum(event.count for event in odd if event.kind != "extra"),
        extra_edges=sum(event.count for event in odd if event.kind == "extra"),
        index_offset_deg=None if index is None else index.offset_deg,
        index_offset_u95_deg=None if index is None else index.u95_deg,
        index_offset_source=None if index is None else index.source,
    )
