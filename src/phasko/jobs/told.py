"""What a person knows of a job beside its captures, as the public job document: read in, kept, written out."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from pydantic import ValidationError

from phasko.core.call.told_words import check_told
from phasko.core.documents import EngineProfile, parse_document
from phasko.core.documents.job import Code, Complaint, JobDocument, Look
from phasko.core.errors import DocumentError
from phasko.store import Database, jobs, looks
from phasko.store.audit import check_version
from phasko.store.models import Job

__all__ = [
    "Told",
    "job_document",
    "job_told",
    "keep_status",
    "kept_document",
    "readable_looks",
    "tell",
    "told_document",
]


@dataclass(frozen=True, slots=True)
class Told:
    """A job's document, and the version of the job of which it is."""

    document: JobDocument
    version: int


def job_document(database: Database, job_id: int) -> JobDocument:
    """The whole document of a stored job, with what was seen and the names of its drives. Raises NotFoundError."""
    with database.reading() as session:
        told = job_told(jobs.get_job(session, job_id))
        seen = readable_looks([(row.id, row.document) for row in looks.looks_of(session, job_id)])
        drives = [road.name for road in looks.road_tests_of(session, job_id)]
    return told.model_copy(update={"looks": [look for _, look in seen], "road_tests": drives})


def told_document(database: Database, job_id: int) -> Told:
    """The same with the job's version. Raises NotFoundError."""
    with database.reading() as session:
        version = jobs.get_job(session, job_id).version
    return Told(job_document(database, job_id), version)


def job_told(job: Job) -> JobDocument:
    """What was told of a job, without looks and drives, which are kept one by one."""
    kept = _kept(job.told) if job.told else JobDocument.model_validate(_EMPTY)
    complaint = kept.complaint or (Complaint(text=job.complaint) if job.complaint else None)
    codes = kept.codes or [Code(code=code) for code in job.codes.split()]
    return kept.model_copy(update={"complaint": complaint, "codes": codes})


def readable_looks(stored: Iterable[tuple[int, str]]) -> list[tuple[int, Look]]:
    """What was seen, from (number, document); one that an older version left unreadable takes no other down."""
    found = []
    for number, document in stored:
        try:
            found.append((number, Look.model_validate_json(document)))
        except ValidationError:
            continue
    return found


def _kept(told: str) -> JobDocument:
    """Raises DocumentError, with what to do, for what an older version left unreadable."""
    try:
        return parse_document(told, JobDocument, "what was told of this job")
    except DocumentError as error:
        error.kept, error.remedy = "It is stored as it was", "Tell it anew, or restore a backup."
        raise


_EMPTY = {"schema": "phasko.job/1"}
_ENTRIES = {name.replace("_", " ") for name in JobDocument.model_fields}


def kept_document(document: JobDocument) -> str:
    """What is kept of a job's document, as JSON: looks and drives are kept one by one."""
    bare = document.model_copy(update={"looks": [], "road_tests": []})
    return bare.model_dump_json(by_alias=True, exclude_none=True)


def keep_status(job: Job, document: JobDocument) -> None:
    """How far the job is, where lists read it."""
    job.holder, job.waiting_for = document.holder.strip(), document.waiting_for.strip()
    repair, closing = document.repair, document.closing
    job.repaired_at = repair.done_at.isoformat() if repair is not None and repair.done_at is not None else None
    job.closed_at = closing.at.isoformat() if closing is not None else None
    job.cause = closing.cause if closing is not None else None


def tell(database: Database, job_id: int, document: JobDocument, made_from: int | None = None) -> Told:
    """Keeps what was told, in place of what was told before; looks and drives stay as they are. Raises NotFoundError,
    DocumentError for a word that does not belong there, and OutdatedError where it was written over an older version
    of the job."""
    with database.transaction() as session:
        job = jobs.get_job(session, job_id)
        check_version(session, job, made_from, _ENTRIES)
        profile = parse_document(job.engine_version.document, EngineProfile, job.engine_version.name)
        check_told(document, profile, "what was told")
        # The board and the head of the job show complaint and codes without reading the document.
        # What a document does not speak of stays as it is.
        if "complaint" in document.model_fields_set:
            job.complaint = document.complaint.text if document.complaint is not None else ""
        if "codes" in document.model_fields_set:
            job.codes = " ".join(code.code for code in document.codes)
        keep_status(job, document)
        job.told = kept_document(document)
    return told_document(database, job_id)
