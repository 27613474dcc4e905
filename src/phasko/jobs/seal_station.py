"""What a person says about a capture on the Seal station: span, cylinder taken out, kept as known good."""

from __future__ import annotations

import json

from pydantic import BaseModel, ConfigDict

from phasko.core import numbers
from phasko.core.compression import inferred_order
from phasko.core.documents import CaptureDescription, EngineProfile, parse_document
from phasko.core.errors import DocumentError, RefusedError
from phasko.core.words import count_words
from phasko.jobs.analysing import analyse_stored_job
from phasko.jobs.captures import ImportedCapture, change_description
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.measured import measured_as
from phasko.jobs.opening import JobSummary, put_engine
from phasko.store import Database, captures, jobs

__all__ = ["FiringOrderView", "firing_order", "save_firing_order", "set_span", "set_taken_out"]


class FiringOrderView(BaseModel):
    """The firing order as captures with a cylinder taken out tell it, beside the profile's; ``None`` where not told."""

    model_config = ConfigDict(frozen=True)
    captures: int
    order: list[int | None]
    profile_order: list[int]
    complete: bool
    contradicts: bool
    conflicts: list[str]


def firing_order(database: Database, job_id: int) -> FiringOrderView:
    """Raises NotFoundError."""
    with database.reading() as session:
        version = jobs.get_job(session, job_id).engine_version
        taken = {
            capture.id: parse_document(capture.description, CaptureDescription, capture.name).taken_out
            for capture in captures.measurable_captures(session, job_id)
        }
    profile = parse_document(version.document, EngineProfile, version.name)
    analysed = analyse_stored_job(database, job_id)
    results = dict(zip(analysed.capture_ids, analysed.analysis.captures, strict=True)) if analysed else {}
    told = [
        (out, results[number].compression) for number, out in taken.items() if out is not None and number in results
    ]
    found = inferred_order(told, profile)
    return FiringOrderView(
        captures=len(told),
        order=list(found.order),
        profile_order=profile.firing_order,
        complete=found.complete,
        contradicts=found.contradicts,
        conflicts=list(found.conflicts),
    )


def save_firing_order(database: Database, job_id: int) -> JobSummary:
    """A new version of the profile with the firing order that was found; the job moves to it. Raises NotFoundError, and
    RefusedError while the order is not complete."""
    found = firing_order(database, job_id)
    if not found.complete or found.conflicts:
        raise RefusedError(
            "The firing order is not complete",
            kept="The profile is as it was",
            remedy="Record one more capture with another cylinder taken out.",
        )
    with database.reading() as session:
        version = jobs.get_job(session, job_id).engine_version
        document, name = json.loads(version.document), version.name
    document["firing_order"] = found.order
    saved = save_engine(database, json.dumps(document, indent=1).encode(), name)
    return put_engine(database, job_id, saved.id)


def set_span(
    database: Database, capture_id: int, from_s: float | None, to_s: float | None, made_from: int | None = None
) -> ImportedCapture:
    """The stretch from which sealing is judged; both ``None``: the settled cycles again. Raises NotFoundError,
    DocumentError for a stretch that ends before it begins, RefusedError for one from which nothing can be judged, and
    OutdatedError where somebody has set another one since: it is then as it was."""
    if from_s is not None and to_s is not None and to_s <= from_s:
        raise DocumentError("ends before it begins", place="the stretch", kept="It is as it was")
    if from_s is not None or to_s is not None:
        _check_span(database, capture_id, from_s, to_s)
    return change_description(database, capture_id, {"seal_from_s": from_s, "seal_to_s": to_s}, made_from)


def _check_span(database: Database, capture_id: int, from_s: float | None, to_s: float | None) -> None:
    with database.reading() as session:
        capture = captures.get_capture(session, capture_id)
        described = parse_document(capture.description, CaptureDescription, capture.name)
        begins, ends = capture.start_s, capture.start_s + capture.sample_count * capture.interval_s
    trial = measured_as(database, capture_id, described.model_copy(update={"seal_from_s": from_s, "seal_to_s": to_s}))
    if trial.compression is not None or trial.compression_whole is None:
        return
    low, high = begins if from_s is None else from_s, ends if to_s is None else to_s
    whole = trial.compression_whole.cycles.cycles
    inside = sum(low <= cycle.from_s and cycle.to_s <= high for cycle in whole)
    needed = numbers.COMPRESSION_CYCLES_LEAST.value
    lie = "lies one whole cranking cycle" if inside == 1 else f"lie {count_words(inside)} whole cranking cycles"
    raise RefusedError(
        f"From {low:.2f} to {high:.2f} s {lie}; sealing needs {needed:.0f}",
        place="the stretch",
        kept="It is as it was",
        remedy=f"Cranking that can be judged lies from {whole[0].from_s:.2f} to {whole[-1].to_s:.2f} s.",
    )


def set_taken_out(
    database: Database, capture_id: int, cylinder: int | None, made_from: int | None = None
) -> ImportedCapture:
    """Which cylinder was taken out on purpose. Raises NotFoundError, DocumentError for one the engine lacks, and
    OutdatedError where somebody has said another one since."""
    with database.reading() as session:
        capture = captures.get_capture(session, capture_id)
        version = jobs.get_job(session, capture.job_id).engine_version
    profile = parse_document(version.document, EngineProfile, version.name)
    if cylinder is not None and cylinder not in profile.firing_tdc_deg:
        raise DocumentError(f"this engine has no cylinder {cylinder}", place="taken out", kept="It is as it was")
    return change_description(database, capture_id, {"taken_out": cylinder}, made_from)
