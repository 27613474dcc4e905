"""A capture on its way into the workshop's file: piece by piece, in short transactions, seen by nobody before it is
whole."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from sqlalchemy import and_, delete, func, insert, select, update
from sqlalchemy.orm import Session

from phasko.core.documents import CaptureDescription
from phasko.core.errors import ConflictError
from phasko.store.audit import note
from phasko.store.chunks import Chunk, PackedFile
from phasko.store.database import Database
from phasko.store.models import Capture, CaptureFile, SampleChunk, utc_now

__all__ = ["Arrival", "NewCapture", "arriving", "forget_capture", "forget_halves", "keep_cut_recordings"]

_BATCH_BYTES = 4 << 20
"""About so much is written at once: the write lock is held for some hundredths of a second."""


@dataclass(frozen=True, slots=True, eq=False)
class NewCapture:
    """What is known of a capture when all of it is there. ``confirmed`` when a description came along; else
    ``proposals`` wait."""

    name: str
    description: CaptureDescription
    start_s: float
    interval_s: float
    sample_count: int
    sha256: str
    confirmed: bool
    proposals: str = ""
    cut_off: str | None = None


class Arrival:
    """The place that a capture fills. ``number``: the hash by which its data are known. ``already``: the number of the
    same recording, which the job had before and which was brought back instead."""

    def __init__(self, database: Database, capture_id: int, already: bool, number: str) -> None:
        self.capture_id = capture_id
        self.number = number
        self.already = already
        self._database = database
        self._done = already

    def add_files(self, files: Mapping[str, tuple[str, PackedFile]]) -> None:
        """The original bytes by role, under their names."""
        for role, (name, packed) in files.items():
            pieces = ({"role": role, "name": name, "data": piece} for piece in packed.pieces())
            self._store(CaptureFile, pieces)

    def add_column(self, column: str, chunks: Iterable[Chunk]) -> None:
        """The samples of one column."""
        self._store(SampleChunk, (_row(column, chunk) for chunk in chunks))

    def describe(self, name: str, description: CaptureDescription, interval_s: float) -> None:
        """What is known of a recording that still runs: with that, what a kill leaves of it is kept."""
        with self._database.transaction() as session:
            session.execute(
                update(Capture)
                .where(Capture.id == self.capture_id)
                .values(
                    name=name,
                    description=description.model_dump_json(by_alias=True, exclude_none=True),
                    interval_s=interval_s,
                )
            )

    def add_piece(self, columns: Mapping[str, Chunk]) -> None:
        """The next piece of every column, all of them or none."""
        with self._database.transaction() as session:
            rows = [_row(column, chunk) | {"capture_id": self.capture_id} for column, chunk in columns.items()]
            session.execute(insert(SampleChunk), rows)

    def finish(self, new: NewCapture) -> None:
        """Makes it a capture of its job, with everything that was stored of it."""
        with self._database.transaction() as session:
            session.execute(
                update(Capture)
                .where(Capture.id == self.capture_id)
                .values(
                    name=new.name,
                    sha256=new.sha256,
                    description=new.description.model_dump_json(by_alias=True, exclude_none=True),
                    start_s=new.start_s,
                    interval_s=new.interval_s,
                    sample_count=new.sample_count,
                    proposals=new.proposals,
                    cut_off=new.cut_off,
                    confirmed_at=utc_now() if new.confirmed else None,
                    arrived_at=utc_now(),
                )
            )
            job_id = session.scalar(select(Capture.job_id).where(Capture.id == self.capture_id))
            note(session, "added", f"capture {self.capture_id}", job_id=job_id, capture_id=self.capture_id)
        self._done = True

    def give_up(self) -> None:
        """Leaves nothing of one that was not finished."""
        if not self._done:
            forget_capture(self._database, self.capture_id)

    def _store(self, table: type[CaptureFile] | type[SampleChunk], rows: Iterable[dict[str, Any]]) -> None:
        """Rows are made outside of any transaction and written batch by batch."""
        batch: list[dict[str, Any]] = []
        held = 0
        for row in rows:
            batch.append(row | {"capture_id": self.capture_id})
            held += len(row["data"])
            if held >= _BATCH_BYTES:
                self._write(table, batch)
                batch, held = [], 0
        self._write(table, batch)

    def _write(self, table: type[CaptureFile] | type[SampleChunk], batch: list[dict[str, Any]]) -> None:
        if batch:
            with self._database.transaction() as session:
                session.execute(insert(table), batch)


def _row(column: str, chunk: Chunk) -> dict[str, Any]:
    return {
        "column": column,
        "first_sample": chunk.first_sample,
        "sample_count": chunk.sample_count,
        "encoding": chunk.encoding,
        "scale": chunk.scale,
        "levels": chunk.levels,
        "coarse_levels": chunk.coarse_levels,
        "data": chunk.data,
    }


@contextmanager
def arriving(database: Database, job_id: int, name: str, data_sha256: str) -> Iterator[Arrival]:
    """A place for a recording in a job; whatever ends the block before ``finish`` leaves nothing of it.

    A recording that was taken out of the job comes back instead. Raises ConflictError for one that the job has, or
    that is just arriving.
    """
    with database.transaction() as session:
        same = session.scalar(select(Capture).where(Capture.job_id == job_id, Capture.data_sha256 == data_sha256))
        if same is not None:
            found = Arrival(database, _brought_back(same), already=True, number=data_sha256)
        else:
            found = Arrival(database, _begin(session, job_id, name, data_sha256), already=False, number=data_sha256)
    try:
        yield found
    finally:
        found.give_up()


def _brought_back(same: Capture) -> int:
    if same.arrived_at is None:
        raise ConflictError("This capture is being imported at this moment", kept="Nothing was stored twice")
    if same.removed_at is None:
        known = json.loads(same.description).get("title") or same.name.removesuffix(".capture.json")
        raise ConflictError(f"This capture is already in the job, as {known}", kept="Nothing was stored twice")
    same.removed_at = None
    return same.id


def _begin(session: Session, job_id: int, name: str, data_sha256: str) -> int:
    nothing = Capture(
        job_id=job_id,
        name=name,
        sha256=data_sha256,
        data_sha256=data_sha256,
        description="",
        start_s=0.0,
        interval_s=1.0,
        sample_count=0,
    )
    session.add(nothing)
    session.flush()
    return nothing.id


def keep_cut_recordings(database: Database) -> int:
    """Makes captures of recordings that a kill cut off, with what had been received of them; how many there were. Only
    for the one that serves the folder: nothing may be recorded."""
    ends = func.min(SampleChunk.first_sample + SampleChunk.sample_count)
    last = (
        select(SampleChunk.capture_id, SampleChunk.column, func.max(SampleChunk.first_sample).label("first"))
        .group_by(SampleChunk.capture_id, SampleChunk.column)
        .subquery()
    )
    newest = (
        select(SampleChunk.capture_id, ends.label("samples"))
        .join(
            last,
            and_(
                SampleChunk.capture_id == last.c.capture_id,
                SampleChunk.column == last.c.column,
                SampleChunk.first_sample == last.c.first,
            ),
        )
        .group_by(SampleChunk.capture_id)
        .subquery()
    )
    with database.transaction() as session:
        cut = session.execute(
            select(Capture, newest.c.samples)
            .join(newest, newest.c.capture_id == Capture.id)
            .where(Capture.arrived_at.is_(None), Capture.description != "")
        ).all()
        for capture, samples in cut:
            capture.sample_count = samples
            capture.cut_off = f"The server ended while it was recorded; {samples * capture.interval_s:.1f} s were kept"
            capture.confirmed_at = capture.arrived_at = utc_now()
            note(session, "added", f"capture {capture.id}", job_id=capture.job_id, capture_id=capture.id)
    return len(cut)


def forget_halves(database: Database) -> int:
    """Removes what a kill left of captures that never arrived; how many there were. Only for the one that serves the
    folder: nothing may be arriving."""
    with database.reading() as session:
        halves = session.scalars(select(Capture.id).where(Capture.arrived_at.is_(None))).all()
    for capture_id in halves:
        forget_capture(database, capture_id)
    return len(halves)


def forget_capture(database: Database, capture_id: int) -> None:
    """Removes one that nobody sees, piece by piece, so that others can write between."""
    for table in (SampleChunk, CaptureFile):
        own = select(table.id).where(table.capture_id == capture_id).limit(_ROWS_AT_ONCE)
        while True:
            with database.transaction() as session:
                some = session.scalars(own).all()
                session.execute(delete(table).where(table.id.in_(some)))
            if len(some) < _ROWS_AT_ONCE:
                break
    with database.transaction() as session:
        session.execute(delete(Capture).where(Capture.id == capture_id))


_ROWS_AT_ONCE = 16
"""Of about a mebibyte each at most."""
