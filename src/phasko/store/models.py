"""The tables of the workshop's one file."""

from __future__ import annotations

from datetime import UTC, datetime

from sqlalchemy import ForeignKey, Index, LargeBinary, String, Text, UniqueConstraint, text
from sqlalchemy.orm import DeclarativeBase, Mapped, deferred, mapped_column, relationship

__all__ = [
    "AccessToken",
    "Attempt",
    "Base",
    "Capture",
    "CaptureFile",
    "EngineVersion",
    "Job",
    "LogEntry",
    "Look",
    "MadeCar",
    "Person",
    "Photo",
    "Result",
    "RoadTest",
    "SampleChunk",
    "Vehicle",
    "WorkshopSetting",
    "utc_now",
]


def utc_now() -> str:
    """The moment, as it is stored everywhere."""
    return datetime.now(UTC).isoformat(timespec="seconds")


class Base(DeclarativeBase):
    pass


class Vehicle(Base):
    __tablename__ = "vehicles"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(120))
    make_model: Mapped[str] = mapped_column(String(200), default="")


class EngineVersion(Base):
    """One version of an engine profile, never changed: a correction is a new version under the same name."""

    __tablename__ = "engine_versions"
    __table_args__ = (UniqueConstraint("name", "version"), UniqueConstraint("name", "sha256"))
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(200), index=True)
    version: Mapped[int]
    sha256: Mapped[str] = mapped_column(String(64))
    document: Mapped[str] = mapped_column(Text)
    created_at: Mapped[str] = mapped_column(String(32), default=utc_now)


class Job(Base):
    __tablename__ = "jobs"
    id: Mapped[int] = mapped_column(primary_key=True)
    vehicle_id: Mapped[int] = mapped_column(ForeignKey("vehicles.id"))
    engine_version_id: Mapped[int] = mapped_column(ForeignKey("engine_versions.id"))
    complaint: Mapped[str] = mapped_column(Text, default="")
    codes: Mapped[str] = mapped_column(Text, default="")
    told: Mapped[str] = mapped_column(Text, default="", server_default="")
    """What a person knows beside the captures, as JSON of the public job document; empty: nothing beyond complaint and
    codes. Looks and drives are kept one by one."""
    simulated_car: Mapped[str] = mapped_column(Text, default="", server_default="")
    """What the simulated instruments find before them, as JSON; empty: a sound engine of the job's kind."""
    created_at: Mapped[str] = mapped_column(String(32), default=utc_now)
    removed_at: Mapped[str | None] = mapped_column(String(32), default=None)
    version: Mapped[int] = mapped_column(default=1, server_default="1")
    """Counts the changes; one that was made from an older version is refused."""
    holder: Mapped[str] = mapped_column(String(60), default="", server_default="")
    """Who has it. This and the next four stand in ``told`` too; here lists read them."""
    waiting_for: Mapped[str] = mapped_column(String(200), default="", server_default="")
    repaired_at: Mapped[str | None] = mapped_column(String(32), default=None)
    closed_at: Mapped[str | None] = mapped_column(String(32), default=None)
    cause: Mapped[str | None] = mapped_column(String(16), default=None)
    """How it was closed: confirmed, refuted, unknown."""
    sample: Mapped[bool] = mapped_column(default=False, server_default="0")
    """Made as sample data; nothing is learnt from it."""
    indexed: Mapped[bool] = mapped_column(default=False, server_default="0")
    """Whether the search knows it as it is; triggers of the file set it back."""
    vehicle: Mapped[Vehicle] = relationship(lazy="joined")
    engine_version: Mapped[EngineVersion] = relationship(lazy="joined")


class Capture(Base):
    """One capture without its samples, which lie in a table of their own so that lists stay fast."""

    __tablename__ = "captures"
    __table_args__ = (
        Index("ix_captures_job", "job_id", "removed_at"),
        Index("ux_captures_recording", "job_id", "data_sha256", unique=True, sqlite_where=text("data_sha256 <> ''")),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id"))
    name: Mapped[str] = mapped_column(String(200))
    sha256: Mapped[str] = mapped_column(String(64))
    description: Mapped[str] = mapped_column(Text)
    start_s: Mapped[float]
    interval_s: Mapped[float]
    sample_count: Mapped[int]
    data_sha256: Mapped[str] = mapped_column(String(64), default="")
    """Of the data file alone, by which the same recording is known again whatever its description."""
    proposals: Mapped[str] = mapped_column(Text, default="")
    """What was proposed from the signals when the file came without a description, as JSON; else empty."""
    confirmed_at: Mapped[str | None] = mapped_column(String(32), default=None)
    """When a person, or the description that came along, said what the channels are; measured only from then on."""
    created_at: Mapped[str] = mapped_column(String(32), default=utc_now)
    removed_at: Mapped[str | None] = mapped_column(String(32), default=None)
    known_good_at: Mapped[str | None] = mapped_column(String(32), default=None)
    """When somebody kept it as a capture of a sound engine, with which others of its kind are compared."""
    arrived_at: Mapped[str | None] = mapped_column(String(32), default=None)
    """When the last of it was stored; until then nobody sees it, and the next start forgets it."""
    cut_off: Mapped[str | None] = mapped_column(String(300), default=None)
    """Where its file ended before it should, in words."""
    version: Mapped[int] = mapped_column(default=1, server_default="1")
    """Counts the changes; one that was made from an older version is refused."""


class CaptureFile(Base):
    """The original bytes of a capture's files, so that a reader improved later can read them again. A large file lies
    in several rows, in the order of their ids."""

    __tablename__ = "capture_files"
    id: Mapped[int] = mapped_column(primary_key=True)
    capture_id: Mapped[int] = mapped_column(ForeignKey("captures.id"), index=True)
    role: Mapped[str] = mapped_column(String(16))
    name: Mapped[str] = mapped_column(String(200))
    data: Mapped[bytes] = deferred(mapped_column(LargeBinary))


class SampleChunk(Base):
    """About a mebibyte of one column as it stood in the file, before scale and offset: compressed samples, and minimum
    and maximum of every fine and coarse block of them."""

    __tablename__ = "sample_chunks"
    __table_args__ = (Index("ix_chunks_place", "capture_id", "column", "first_sample"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    capture_id: Mapped[int] = mapped_column(ForeignKey("captures.id"))
    column: Mapped[str] = mapped_column(String(120))
    first_sample: Mapped[int]
    sample_count: Mapped[int]
    encoding: Mapped[str] = mapped_column(String(8))
    scale: Mapped[float] = mapped_column(default=1.0)
    levels: Mapped[bytes] = deferred(mapped_column(LargeBinary))
    coarse_levels: Mapped[bytes] = deferred(mapped_column(LargeBinary))
    data: Mapped[bytes] = deferred(mapped_column(LargeBinary))


class Look(Base):
    """One thing that was looked at or listened to, as JSON."""

    __tablename__ = "looks"
    __table_args__ = (Index("ix_looks_job", "job_id", "removed_at"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id"))
    document: Mapped[str] = mapped_column(Text)
    created_at: Mapped[str] = mapped_column(String(32), default=utc_now)
    removed_at: Mapped[str | None] = mapped_column(String(32), default=None)


class RoadTest(Base):
    """A scan tool's log, byte for byte as it came."""

    __tablename__ = "road_tests"
    __table_args__ = (Index("ix_road_tests_job", "job_id", "removed_at"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id"))
    name: Mapped[str] = mapped_column(String(200))
    sha256: Mapped[str] = mapped_column(String(64))
    data: Mapped[bytes] = deferred(mapped_column(LargeBinary))
    created_at: Mapped[str] = mapped_column(String(32), default=utc_now)
    removed_at: Mapped[str | None] = mapped_column(String(32), default=None)


class Result(Base):
    """One result, never changed; ``key`` is the hash over everything it depends on, ``rests`` over the same without the
    ``software`` and its ``numbers`` that made it (empty: made by a version that did not keep it)."""

    __tablename__ = "results"
    __table_args__ = (Index("ix_results_newest", "job_id", "id"), Index("ix_results_rests", "job_id", "rests"))
    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id"), index=True)
    key: Mapped[str] = mapped_column(String(64), unique=True)
    document: Mapped[str] = mapped_column(Text)
    rests: Mapped[str] = mapped_column(String(64), default="", server_default="")
    software: Mapped[str] = mapped_column(String(40), default="", server_default="")
    numbers: Mapped[str] = mapped_column(String(64), default="", server_default="")
    standing: Mapped[bool] = mapped_column(default=True, server_default="1")
    """Whether it is shown; what a newer version found waits until somebody takes it over."""
    head: Mapped[str] = mapped_column(Text, default="", server_default="")
    """What lists show of it, as JSON; empty: stored by a version that had no heads."""
    created_at: Mapped[str] = mapped_column(String(32), default=utc_now)


class Photo(Base):
    """A picture at one station of a job, resized, without anything the camera wrote beside it."""

    __tablename__ = "photos"
    __table_args__ = (Index("ix_photos_job", "job_id", "removed_at"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id"))
    station: Mapped[str] = mapped_column(String(20))
    caption: Mapped[str] = mapped_column(String(300), default="", server_default="")
    name: Mapped[str] = mapped_column(String(200))
    sha256: Mapped[str] = mapped_column(String(64))
    width: Mapped[int]
    height: Mapped[int]
    data: Mapped[bytes] = deferred(mapped_column(LargeBinary, nullable=False))
    created_at: Mapped[str] = mapped_column(String(32), default=utc_now)
    removed_at: Mapped[str | None] = mapped_column(String(32), default=None)


class Attempt(Base):
    """One attempt at a practice car or at a lesson, with the job that it is done in. ``car`` is what is hidden: nobody
    is told before the attempt has ended."""

    __tablename__ = "attempts"
    __table_args__ = (
        Index("ix_attempts_person", "person", "ended_at"),
        Index("ix_attempts_class", "class_name", "number"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id"), unique=True)
    kind: Mapped[str] = mapped_column(String(12))
    """``blind``, ``made`` (by hand) or ``lesson``."""
    person: Mapped[str] = mapped_column(String(60))
    class_name: Mapped[str] = mapped_column(String(60), default="", server_default="")
    """The seed that a class shares."""
    number: Mapped[int] = mapped_column(default=0, server_default="0")
    """Which of the class's cars, from 1."""
    topic: Mapped[str] = mapped_column(String(20))
    lesson: Mapped[str] = mapped_column(String(30), default="", server_default="")
    car: Mapped[str] = mapped_column(Text)
    steps: Mapped[str] = mapped_column(Text, default="[]", server_default="[]")
    """What was done in it, in order, with its minutes, as JSON."""
    outcome: Mapped[str] = mapped_column(Text, default="", server_default="")
    points: Mapped[float | None] = mapped_column(default=None)
    begun_at: Mapped[str] = mapped_column(String(32), default=utc_now)
    ended_at: Mapped[str | None] = mapped_column(String(32), default=None)


class MadeCar(Base):
    """A practice car that somebody made by hand: whoever of that class takes this number gets it."""

    __tablename__ = "made_cars"
    __table_args__ = (UniqueConstraint("class_key", "number", name="uq_made_cars_class"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    class_key: Mapped[str] = mapped_column(String(60))
    """The class's name without its capitals."""
    number: Mapped[int]
    made_by: Mapped[str] = mapped_column(String(60))
    car: Mapped[str] = mapped_column(Text)
    made_at: Mapped[str] = mapped_column(String(32), default=utc_now)


class WorkshopSetting(Base):
    """One setting of the whole workshop, as JSON under its name."""

    __tablename__ = "workshop_settings"
    name: Mapped[str] = mapped_column(String(40), primary_key=True)
    document: Mapped[str] = mapped_column(Text)


class Person(Base):
    """Somebody who may sign in."""

    __tablename__ = "people"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(60, collation="NOCASE"), unique=True)
    role: Mapped[str] = mapped_column(String(16))
    passphrase_hash: Mapped[str] = mapped_column(String(200))
    created_at: Mapped[str] = mapped_column(String(32), default=utc_now)
    changed_at: Mapped[str] = mapped_column(String(32), default=utc_now)


class AccessToken(Base):
    """With which a program may come in, until then; the token itself is not kept."""

    __tablename__ = "access_tokens"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(60, collation="NOCASE"), unique=True)
    role: Mapped[str] = mapped_column(String(16))
    token_sha256: Mapped[str] = mapped_column(String(64), unique=True)
    ends_at: Mapped[str | None] = mapped_column(String(32), default=None)
    created_at: Mapped[str] = mapped_column(String(32), default=utc_now)


class LogEntry(Base):
    """One line of who did what. Nothing a customer told stands in it; the file refuses to change or remove it."""

    __tablename__ = "log_entries"
    __table_args__ = (Index("ix_log_job", "job_id", "version"), Index("ix_log_capture", "capture_id", "version"))
    id: Mapped[int] = mapped_column(primary_key=True)
    at: Mapped[str] = mapped_column(String(32), default=utc_now)
    who: Mapped[str] = mapped_column(String(60))
    did: Mapped[str] = mapped_column(String(40))
    what: Mapped[str] = mapped_column(String(200))
    job_id: Mapped[int | None] = mapped_column(default=None)
    capture_id: Mapped[int | None] = mapped_column(default=None)
    fields: Mapped[str] = mapped_column(Text, default="")
    """Which entries were changed, one a line."""
    version: Mapped[int | None] = mapped_column(default=None)
    """Of the job or capture, after the change."""
