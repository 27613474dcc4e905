"""What was found and done, how a job was closed, who has it: changes of its document, and what follows from them."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime

from phasko.core.call.minutes import minutes_done
from phasko.core.call.repaired import before_repair
from phasko.core.documents.analysis import Verdict
from phasko.core.documents.job import JobDocument
from phasko.core.documents.repair import Called, CalledFault, Cause, Closing, Note, Repair
from phasko.core.errors import DocumentError, RefusedError
from phasko.core.evidence import JobEvidence
from phasko.jobs.analysing import JobAnalysis, analyse_stored_job, job_evidence
from phasko.jobs.told import Told, tell, told_document
from phasko.store import Database

__all__ = ["add_note", "close_job", "hand_to", "note_repair", "reopen_job"]


def note_repair(database: Database, job_id: int, repair: Repair, made_from: int | None = None) -> Told:
    """What was found on opening, replaced, and done since. Raises NotFoundError, DocumentError, OutdatedError."""
    return _changed(database, job_id, made_from, lambda _: {"repair": repair})


def close_job(database: Database, job_id: int, cause: Cause, why: str, by: str, made_from: int | None = None) -> Told:
    """Closes a job with its cause confirmed, refuted or unknown. The call as it stood before the repair is kept beside
    it. Raises NotFoundError, RefusedError for a cause where nothing was called, OutdatedError."""
    analysed = analyse_stored_job(database, job_id)
    verdict = _stated(analysed) if analysed is not None else None
    if verdict is None and cause != "unknown":
        raise RefusedError(
            f"Nothing was measured or looked at, so no cause can be {cause}",
            kept="The job is open as it was",
            remedy="Close it with cause unknown, or record something first.",
        )
    called = _called(database, job_id, analysed, verdict) if analysed is not None and verdict is not None else None
    closing = Closing(cause=cause, at=_now(), by=by, why=why.strip(), called=called)
    return _changed(database, job_id, made_from, lambda _: {"closing": closing})


def reopen_job(database: Database, job_id: int, made_from: int | None = None) -> Told:
    """Opens a closed job again; how it was closed is kept as a note. Raises NotFoundError, OutdatedError."""

    def opened(told: JobDocument) -> dict[str, object]:
        closing = told.closing
        if closing is None:
            return {}
        words = f"Opened again. It had been closed on {closing.at.date().isoformat()}, cause {closing.cause}."
        note = Note(text=f"{words} {closing.why}".strip(), at=_now(), by=database.who)
        return {"closing": None, "notes": [*told.notes, note]}

    return _changed(database, job_id, made_from, opened)


def add_note(database: Database, job_id: int, text: str, by: str) -> Told:
    """Adds a note; those of others stay. Raises NotFoundError, and DocumentError for one without words."""
    if not text.strip():
        raise DocumentError("A note needs words", place="text", kept="The notes are as they were")
    note = Note(text=text.strip(), at=_now(), by=by)
    return _changed(database, job_id, None, lambda told: {"notes": [*told.notes, note]})


def hand_to(database: Database, job_id: int, holder: str, waiting_for: str) -> Told:
    """Who has it from now on, and what it waits for. Raises NotFoundError."""
    return _changed(database, job_id, None, lambda _: {"holder": holder.strip(), "waiting_for": waiting_for.strip()})


def _changed(
    database: Database, job_id: int, made_from: int | None, with_what: Callable[[JobDocument], dict[str, object]]
) -> Told:
    """Keeps the document with those entries; a change of somebody else's between reading and keeping is refused, not
    overwritten."""
    told = told_document(database, job_id)
    document = told.document.model_copy(update=with_what(told.document))
    return tell(database, job_id, document, told.version if made_from is None else made_from)


def _now() -> datetime:
    return datetime.now(UTC).replace(microsecond=0)


def _stated(analysed: JobAnalysis) -> Verdict | None:
    """The call before the repair; ``None`` where nothing was measured or seen."""
    analysis = analysed.analysis
    before = analysis.before_repair
    verdict = before.verdict if before is not None and before.verdict.measured else analysis.verdict
    return verdict if verdict.measured and verdict.faults else None


def _called(database: Database, job_id: int, analysed: JobAnalysis, verdict: Verdict) -> Called:
    evidence: JobEvidence = before_repair(job_evidence(database, job_id))
    source = analysed.analysis.provenance
    return Called(
        faults=[
            CalledFault(fault=one.fault, title=one.title[:300], probability=one.probability, besides=bool(one.besides))
            for one in verdict.faults[:60]
        ],
        teardown=verdict.teardown,
        undecided=verdict.undecided,
        software=source.label,
        numbers=source.numbers,
        minutes=minutes_done(evidence),
    )
