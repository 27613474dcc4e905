"""Keeping engine profiles: the list, one profile with its versions, and a draft judged while it is written."""

from __future__ import annotations

import hashlib
from collections import Counter
from collections.abc import Sequence
from itertools import pairwise

from pydantic import BaseModel, ConfigDict, JsonValue

from phasko.core.documents import DocumentFault, EngineProfile, document_text, parse_document
from phasko.core.engine.drawing import EngineDrawing, engine_drawing
from phasko.core.engine.open_points import OpenPoint, open_points
from phasko.core.engine.profile_changes import ProfileChange, profile_changes
from phasko.core.engine.profile_faults import profile_faults
from phasko.core.engine.wheel import wheel_name
from phasko.core.errors import ConflictError, DocumentError
from phasko.store import Database, jobs
from phasko.store.models import EngineVersion

__all__ = [
    "DraftReading",
    "EngineJob",
    "EnginePage",
    "EngineRow",
    "EngineSummary",
    "EngineVersionRow",
    "engine_file",
    "engine_page",
    "engine_profile",
    "engine_rows",
    "engine_summary",
    "engines",
    "read_draft",
    "remove_engine",
    "save_engine",
]


class EngineSummary(BaseModel):
    """One engine profile as a list shows it."""

    model_config = ConfigDict(frozen=True)
    id: int
    name: str
    version: int


class EngineRow(EngineSummary):
    """One profile on the engines screen: what it is, how much of it is known, how many jobs use it. ``unreadable``: why
    it cannot be read; nothing else is known of it then."""

    cylinders: int | None = None
    layout: str | None = None
    wheel: str | None = None
    cams: int | None = None
    open_points: int | None = None
    jobs: int
    unreadable: str | None = None


class EngineVersionRow(BaseModel):
    """One stored version, and what it changed against the one before it."""

    model_config = ConfigDict(frozen=True)
    id: int
    version: int
    created_at: str
    changes: list[ProfileChange]


class EngineJob(BaseModel):
    """A job that is read with one version of the profile."""

    model_config = ConfigDict(frozen=True)
    id: int
    vehicle: str
    version: int


class DraftReading(BaseModel):
    """A profile as far as it is written: its faults, or its drawing and what else would allow more."""

    model_config = ConfigDict(frozen=True)
    faults: list[DocumentFault]
    drawing: EngineDrawing | None
    open_points: list[OpenPoint]


class EnginePage(BaseModel):
    """One version of a profile as the file has it, all versions under its name, and the jobs that use any of them."""

    model_config = ConfigDict(frozen=True)
    engine: EngineSummary
    document: dict[str, JsonValue]
    reading: DraftReading
    versions: list[EngineVersionRow]
    jobs: list[EngineJob]


def save_engine(database: Database, document: bytes, place: str, made_from: int | None = None) -> EngineSummary:
    """Checks a profile and stores it, as it is written, as the newest version under its name; learnt edges that were
    written for another index are moved to the new one. Raises DocumentError, and OutdatedError where it was
    ``made_from`` a version after which another one was stored."""
    profile = parse_document(document, EngineProfile, place)
    text = document_text(document, place)
    if (moved := profile.moved_with_index()) is not profile:
        profile, text = moved, moved.model_dump_json(by_alias=True, exclude_none=True, exclude_unset=True, indent=1)
    with database.transaction() as session:
        stored = jobs.store_engine(session, profile.name, text, hashlib.sha256(text.encode()).hexdigest(), made_from)
        return engine_summary(stored)


def engines(database: Database) -> list[EngineSummary]:
    """The newest version of every profile, by name."""
    with database.reading() as session:
        return [engine_summary(version) for version in jobs.newest_engines(session)]


def engine_rows(database: Database) -> list[EngineRow]:
    """The newest version of every profile with what the engines screen says about it, by name."""
    with database.reading() as session:
        used = Counter(job.engine_version.name for job in jobs.all_jobs(session))
        return [_row(version, used[version.name]) for version in jobs.newest_engines(session)]


def engine_profile(database: Database, engine_id: int) -> EngineProfile:
    """One stored version of a profile. Raises NotFoundError."""
    with database.reading() as session:
        return _profile(jobs.engine_version(session, engine_id))


def engine_file(database: Database, engine_id: int) -> tuple[str, str]:
    """File name and text of a stored version, as it was written. Raises NotFoundError."""
    with database.reading() as session:
        version = jobs.engine_version(session, engine_id)
        kept = "".join(c if c.isalnum() or c in ".-" else "-" for c in version.name.lower()).strip("-") or "engine"
        return f"{kept}.engine.json", version.document


def engine_page(database: Database, engine_id: int) -> EnginePage:
    """Everything the screen of one profile shows. Raises NotFoundError."""
    with database.reading() as session:
        version = jobs.engine_version(session, engine_id)
        versions = jobs.engine_versions(session, version.name)
        users = jobs.jobs_with(session, version.name)
        profile = _profile(version)
        return EnginePage(
            engine=engine_summary(version),
            document=profile.model_dump(mode="json", by_alias=True, exclude_none=True, exclude_unset=True),
            reading=_reading(profile),
            versions=_version_rows(versions),
            jobs=[EngineJob(id=j.id, vehicle=j.vehicle.name, version=j.engine_version.version) for j in users],
        )


def remove_engine(database: Database, engine_id: int) -> None:
    """Removes a profile with all its versions. Raises NotFoundError, and ConflictError while any job, also one that was
    taken out, is read with it."""
    with database.transaction() as session:
        version = jobs.engine_version(session, engine_id)
        users = jobs.jobs_with(session, version.name)
        if users:
            out = sum(job.removed_at is not None for job in users)
            words = f"{len(users)} {'job is' if len(users) == 1 else 'jobs are'} read with it"
            raise ConflictError(
                f"{words}{f', {out} of them taken out' if out else ''}",
                place=version.name,
                kept="Nothing was removed",
                remedy="Read those jobs with another engine, or erase them first.",
            )
        jobs.forget_engine(session, version.name)


def read_draft(document: dict[str, JsonValue]) -> DraftReading:
    """A draft while it is written: every fault at its field, or the drawing. Stores nothing."""
    faults = profile_faults(document)
    if faults:
        return DraftReading(faults=faults, drawing=None, open_points=[])
    return _reading(EngineProfile.model_validate(document).moved_with_index())


def engine_summary(version: EngineVersion) -> EngineSummary:
    return EngineSummary(id=version.id, name=version.name, version=version.version)


def _profile(version: EngineVersion) -> EngineProfile:
    return parse_document(version.document, EngineProfile, version.name)


def _readable_profile(version: EngineVersion) -> EngineProfile | None:
    try:
        return _profile(version)
    except DocumentError:
        return None


def _reading(profile: EngineProfile) -> DraftReading:
    return DraftReading(faults=[], drawing=engine_drawing(profile), open_points=open_points(profile))


def _row(version: EngineVersion, jobs_using: int) -> EngineRow:
    summary = engine_summary(version).model_dump()
    try:
        profile = _profile(version)
    except DocumentError as error:
        # One profile that cannot be read must not hide the others.
        return EngineRow(**summary, jobs=jobs_using, unreadable=error.what)
    wheel = profile.crank.wheel
    return EngineRow(
        **summary,
        cylinders=profile.cylinders,
        layout=profile.layout,
        wheel=None if wheel is None else wheel_name(wheel),
        cams=len(profile.cams),
        open_points=len(open_points(profile)),
        jobs=jobs_using,
    )


def _version_rows(newest_first: Sequence[EngineVersion]) -> list[EngineVersionRow]:
    profiles = [_readable_profile(version) for version in newest_first]
    changes = [profile_changes(before, after) if before and after else [] for after, before in pairwise(profiles)]
    return [
        EngineVersionRow(id=version.id, version=version.version, created_at=version.created_at, changes=made)
        for version, made in zip(newest_first, [*changes, []], strict=True)
    ]
