"""Reads an archive of jobs back, whole: each job all of it or nothing, none twice."""

from __future__ import annotations

import hashlib
from collections.abc import Callable

from pydantic import BaseModel, ConfigDict
from sqlalchemy import update

from phasko.core.documents import EngineProfile, parse_document
from phasko.core.documents.job import JobDocument
from phasko.core.errors import PhaskoError
from phasko.formats import CaptureFiles, FileBytes, read_raw_capture
from phasko.formats.archive import ArchivedCapture, ArchivedEngine, ArchivedJob, ArchiveReader, opened_archive
from phasko.jobs.handing_over.photos import photo_bytes
from phasko.jobs.handing_over.workshop_name import WorkshopName, name_workshop, named_workshop
from phasko.jobs.told import keep_status, kept_document
from phasko.store import Database, captures, jobs, looks, photos
from phasko.store.arriving import NewCapture, arriving
from phasko.store.chunks import encode_chunks, pack_file
from phasko.store.erasing import erase_job
from phasko.store.models import Capture
from phasko.store.photos import NewPhoto

__all__ = ["TakenIn", "import_jobs"]

Heard = Callable[[int, int], None]


class TakenIn(BaseModel):
    """What an archive brought: new jobs by number, how many were here already, and those that could not be read, each
    with its reason."""

    model_config = ConfigDict(frozen=True)
    job_ids: list[int]
    already: int
    refused: list[str]


def import_jobs(database: Database, name: str, data: FileBytes, heard: Heard | None = None) -> TakenIn:
    """Takes every job of an archive in that is not here yet. One that cannot be read is left out whole and named; the
    others come. Raises DataError where the archive itself cannot be read."""
    with opened_archive(data, name) as archive:
        manifest = archive.manifest
        engines = {one.path: _engine(database, archive, one) for one in manifest.engines}
        _name(database, manifest.workshop)
        here = _here(database)
        made: list[int] = []
        refused: list[str] = []
        already = 0
        for number, one in enumerate(manifest.jobs):
            if heard is not None:
                heard(number, len(manifest.jobs))
            if _key(one) in here:
                already += 1
                continue
            try:
                made.append(_job(database, archive, one, engines))
            except PhaskoError as error:
                refused.append(f"{one.vehicle}: {error.one_line()}")
        if heard is not None:
            heard(len(manifest.jobs), len(manifest.jobs))
    return TakenIn(job_ids=made, already=already, refused=refused)


def _name(database: Database, workshop: dict[str, str]) -> None:
    """The workshop's name comes along where this one has none."""
    if workshop and not named_workshop(database).name:
        name_workshop(database, WorkshopName.model_validate(workshop))


def _engine(database: Database, archive: ArchiveReader, one: ArchivedEngine) -> int:
    """The number of that version here; stored where it is not."""
    document = archive.document(one.path)
    parse_document(document, EngineProfile, one.name)
    with database.transaction() as session:
        text = document.decode()
        stored = jobs.store_engine(session, one.name, text, hashlib.sha256(document).hexdigest())
        stored.created_at = one.created_at
        return stored.id


def _key(one: ArchivedJob) -> str:
    """By which a job is known again: when it was opened, of what, with which recordings."""
    return "\n".join([one.created_at, one.vehicle, *sorted(c.data_sha256 for c in one.captures)])


def _here(database: Database) -> set[str]:
    with database.reading() as session:
        return {
            "\n".join(
                [
                    job.created_at,
                    job.vehicle.name,
                    *sorted(capture.data_sha256 for capture in captures.captures_of(session, job.id)),
                ]
            )
            for job in jobs.all_jobs(session)
        }


def _job(database: Database, archive: ArchiveReader, one: ArchivedJob, engines: dict[str, int]) -> int:
    """All of one job, or nothing of it."""
    document = parse_document(archive.document(one.document), JobDocument, one.document)
    with database.transaction() as session:
        job = jobs.add_job(session, one.vehicle, one.make_model, one.complaint, one.codes, engines.get(one.engine, -1))
        job.created_at, job.sample, job.simulated_car = one.created_at, one.sample, one.simulated_car
        job.told = kept_document(document)
        keep_status(job, document)
        for look, noted in zip(document.looks, one.looks, strict=False):
            row = looks.add_look(session, job.id, look.model_dump_json(exclude_none=True))
            row.created_at = noted.created_at
        job_id = job.id
    try:
        for capture in one.captures:
            _capture(database, archive, job_id, capture)
        _beside(database, archive, job_id, one)
    # Stopping the server in the middle must not leave half a job either.
    except BaseException:
        _forget(database, job_id)
        raise
    return job_id


def _forget(database: Database, job_id: int) -> None:
    with database.transaction() as session:
        jobs.remove_job(session, job_id)
    erase_job(database, job_id)


def _capture(database: Database, archive: ArchiveReader, job_id: int, one: ArchivedCapture) -> None:
    data, said = archive.data(one.data.path), archive.document(one.description)
    raw = read_raw_capture(CaptureFiles(one.name, said, one.data.name, data))
    files = {"data": (one.data.name, pack_file(data))}
    if one.came_with is not None:
        came = archive.document(one.came_with.path)
        files = {"description": (one.came_with.name, pack_file(came)), **files}
    with arriving(database, job_id, one.name, one.data_sha256) as arrival:
        arrival.add_files(files)
        for column, samples in raw.columns.items():
            arrival.add_column(column, encode_chunks(samples))
        arrival.finish(
            NewCapture(
                name=one.name,
                description=raw.description,
                start_s=raw.start_s,
                interval_s=raw.interval_s,
                sample_count=int(next(iter(raw.columns.values())).size) if raw.columns else 0,
                sha256=one.sha256,
                confirmed=one.confirmed_at is not None,
                proposals=one.proposals,
                cut_off=one.cut_off,
            )
        )
    with database.transaction() as session:
        session.execute(
            update(Capture)
            .where(Capture.id == arrival.capture_id)
            .values(
                created_at=one.created_at,
                confirmed_at=one.confirmed_at,
                known_good_at=one.known_good_at,
                description=said.decode(),
            )
        )


def _beside(database: Database, archive: ArchiveReader, job_id: int, one: ArchivedJob) -> None:
    """Drives and photos. A photo is looked at as any other that comes in."""
    for drive in one.drives:
        data = archive.data(drive.file.path)
        with database.transaction() as session:
            road = looks.add_road_test(session, job_id, drive.file.name, hashlib.sha256(data).hexdigest(), data)
            road.created_at = drive.created_at
    for photo in one.photos:
        taken = photo_bytes(archive.data(photo.path), photo.name, again=True)
        with database.transaction() as session:
            new = NewPhoto(
                station=photo.station,
                caption=photo.caption,
                name=photo.name,
                sha256=hashlib.sha256(taken.data).hexdigest(),
                width=taken.width,
                height=taken.height,
                data=taken.data,
            )
            photos.add_photo(session, job_id, new).created_at = photo.created_at
