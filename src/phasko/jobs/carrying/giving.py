"""Writes jobs with everything that belongs to them into one archive of open files."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from sqlalchemy.orm import Session

from phasko.core.errors import PhaskoError
from phasko.formats.archive import (
    ArchivedCapture,
    ArchivedDrive,
    ArchivedEngine,
    ArchivedJob,
    ArchivedLook,
    ArchivedPhoto,
    ArchiveWriter,
    Manifest,
)
from phasko.jobs.analysing import analyse_stored_job
from phasko.jobs.exporting import original_data
from phasko.jobs.handing_over import made_hand_over
from phasko.jobs.handing_over.workshop_name import workshop_name
from phasko.jobs.told import job_document, readable_looks
from phasko.store import Database, captures, jobs, looks, photos
from phasko.store.models import Capture, EngineVersion, Job

__all__ = ["export_jobs"]

Heard = Callable[[int, int], None]


def export_jobs(
    database: Database, target: Path, job_ids: Sequence[int] | None = None, heard: Heard | None = None
) -> int:
    """Writes those jobs, or all that were not taken out with every engine profile, to ``target``; returns how many.
    One job alone brings its hand-over along, too. Raises NotFoundError, StorageError; a half-written archive is
    removed."""
    with database.reading() as session:
        chosen = list(job_ids) if job_ids is not None else [job.id for job in jobs.all_jobs(session)]
        found = [jobs.get_job(session, one) for one in chosen]
        versions = jobs.all_engine_versions(session) if job_ids is None else _of_jobs(session, found)
        shop = workshop_name(session).model_dump(exclude_defaults=True) if job_ids is None else {}
    with ArchiveWriter.at(target) as writer:
        paths = _engines(writer, versions)
        listed = []
        for number, job_id in enumerate(chosen, start=1):
            if heard is not None:
                heard(number - 1, len(chosen))
            listed.append(_job(database, writer, job_id, f"jobs/{number:05d}", paths))
            if job_ids is not None and len(chosen) == 1:
                for form in ("json", "html"):
                    name, content = made_hand_over(database, job_id, form)
                    writer.put(f"jobs/{number:05d}/{name}", content)
        if heard is not None:
            heard(len(chosen), len(chosen))
        engines = [ArchivedEngine(name=one.name, path=paths[one.id], created_at=one.created_at) for one in versions]
        writer.finish(Manifest(workshop=shop, engines=engines, jobs=listed))
    return len(chosen)


def _of_jobs(session: Session, found: Sequence[Job]) -> list[EngineVersion]:
    wanted = sorted({job.engine_version_id for job in found})
    return [jobs.engine_version(session, one) for one in wanted]


def _engines(writer: ArchiveWriter, versions: Sequence[EngineVersion]) -> dict[int, str]:
    """The path of every profile by the number of its version."""
    return {
        one.id: writer.put(f"engines/{number:04d}-version-{one.version}.json", one.document.encode())
        for number, one in enumerate(versions, start=1)
    }


def _job(database: Database, writer: ArchiveWriter, job_id: int, folder: str, engines: dict[int, str]) -> ArchivedJob:
    document = job_document(database, job_id)
    told = document.model_dump_json(by_alias=True, exclude_none=True, indent=1)
    result = _result(database, job_id)
    with database.reading() as session:
        job = jobs.get_job(session, job_id)
        own = captures.captures_of(session, job_id)
        rows = {row.id: row for row in looks.looks_of(session, job_id)}
        noted = [rows[n].created_at for n, _ in readable_looks([(row.id, row.document) for row in rows.values()])]
        carried = [
            _capture(session, writer, capture, f"{folder}/captures/{number:03d}")
            for number, capture in enumerate(own, start=1)
        ]
        drives = [
            ArchivedDrive(
                file=writer.put_named(f"{folder}/road-tests/{number:03d}", road.name, road.data),
                created_at=road.created_at,
            )
            for number, road in enumerate(looks.road_tests_of(session, job_id), start=1)
        ]
        pictures = [
            ArchivedPhoto(
                path=writer.put(f"{folder}/photos/{number:03d}.jpg", photos.get_photo(session, one.id).data),
                name=one.name,
                station=one.station,
                caption=one.caption,
                created_at=one.created_at,
            )
            for number, one in enumerate(photos.photos_of(session, job_id), start=1)
        ]
        return ArchivedJob(
            vehicle=job.vehicle.name,
            make_model=job.vehicle.make_model,
            complaint=job.complaint,
            codes=job.codes,
            engine=engines[job.engine_version_id],
            document=writer.put(f"{folder}/job.json", told.encode()),
            result=writer.put(f"{folder}/result.json", result) if result is not None else None,
            created_at=job.created_at,
            sample=job.sample,
            simulated_car=job.simulated_car,
            looks=[ArchivedLook(created_at=one) for one in noted],
            captures=carried,
            drives=drives,
            photos=pictures,
        )


def _result(database: Database, job_id: int) -> bytes | None:
    """The result document; ``None`` where there is none, or something of the job cannot be read: the job is carried
    all the same."""
    try:
        analysed = analyse_stored_job(database, job_id)
    except PhaskoError:
        return None
    return analysed.analysis.model_dump_json(by_alias=True, indent=1).encode() if analysed is not None else None


def _capture(session: Session, writer: ArchiveWriter, capture: Capture, folder: str) -> ArchivedCapture:
    files = captures.original_files(session, capture.id)
    name, data = original_data(session, capture, files)
    came = files.get("description")
    said = capture.description
    if "data" not in files:
        said = (
            captures.described(capture)
            .model_copy(update={"data": name})
            .model_dump_json(by_alias=True, exclude_none=True)
        )
    return ArchivedCapture(
        name=capture.name,
        data=writer.put_named(folder, name, data),
        description=writer.put(f"{folder}/said.capture.json", said.encode()),
        came_with=writer.put_named(f"{folder}/came-with", came[0], came[1]) if came is not None else None,
        sha256=capture.sha256,
        data_sha256=capture.data_sha256,
        created_at=capture.created_at,
        confirmed_at=capture.confirmed_at,
        known_good_at=capture.known_good_at,
        cut_off=capture.cut_off,
        proposals=capture.proposals,
    )
