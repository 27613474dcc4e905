"""Everything of a job that the search finds it by, read again whenever anything of it changed."""

from __future__ import annotations

from collections.abc import Iterator

from pydantic import BaseModel
from sqlalchemy.orm import Session

from phasko.core.errors import DocumentError
from phasko.jobs.logbook.heads import read_head
from phasko.jobs.told import job_told, readable_looks
from phasko.store import Database, captures, jobs, looks, photos, results
from phasko.store.logbook import JobWords, jobs_to_index, put_words
from phasko.store.models import Job

__all__ = ["index_jobs"]

_AT_ONCE = 200


def index_jobs(database: Database) -> int:
    """Brings the search up to date with what changed since; returns how many jobs were read. In short transactions:
    others may write between them."""
    done = 0
    while True:
        with database.transaction() as session:
            numbers = jobs_to_index(session, _AT_ONCE)
            for number in numbers:
                put_words(session, number, _words(session, jobs.get_job(session, number)))
        done += len(numbers)
        if len(numbers) < _AT_ONCE:
            return done


def _words(session: Session, job: Job) -> JobWords:
    newest = results.newest_result(session, job.id)
    head = read_head(newest.head) if newest is not None else None
    finding = [head.finding, head.leader, head.called_before] if head is not None else []
    return JobWords(
        vehicle=f"{job.vehicle.name} {job.vehicle.make_model}",
        engine=job.engine_version.name,
        complaint=job.complaint,
        codes=job.codes,
        finding=" ".join(one for one in finding if one),
        words="\n".join(_told(session, job)),
    )


def _told(session: Session, job: Job) -> Iterator[str]:
    """Free words of everything else: what was told, seen, photographed, driven, and the names of captures."""
    yield from (job.holder, job.waiting_for)
    try:
        yield from _texts(job_told(job))
    except DocumentError:
        yield job.told
    for _, look in readable_looks([(row.id, row.document) for row in looks.looks_of(session, job.id)]):
        yield f"{look.question.replace('_', ' ')} {look.note}"
    yield from looks.road_test_names(session, job.id)
    for photo in photos.photos_of(session, job.id):
        yield photo.caption
    for capture in captures.captures_of(session, job.id):
        yield capture.name.removesuffix(".capture.json")
        try:
            said = captures.described(capture)
        except DocumentError:
            continue
        yield from (said.title, *(mark.text for mark in said.marks))


def _texts(document: BaseModel) -> Iterator[str]:
    """Every piece of text in a document, in whatever entry."""
    for name in type(document).model_fields:
        yield from _of(getattr(document, name))


def _of(value: object) -> Iterator[str]:
    match value:
        case str():
            # Entries such as ``chain_jumped`` are searched for as people write them.
            yield value.replace("_", " ")
        case BaseModel():
            yield from _texts(value)
        case list() | tuple():
            for one in value:
                yield from _of(one)
        case dict():
            for one in value.values():
                yield from _of(one)
