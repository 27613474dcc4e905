"""Stored captures: description, samples in chunks, original bytes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import UTC, datetime

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import select
from sqlalchemy.orm import Session, undefer

from phasko.core.documents import CaptureDescription, parse_document
from phasko.core.errors import ConflictError, NotFoundError
from phasko.core.recording import Channel, Recording
from phasko.store.chunks import LEVEL_BLOCK, decode_levels, decode_samples, encode_chunks, pack_file, unpack_file
from phasko.store.models import Capture, CaptureFile, SampleChunk

__all__ = [
    "add_capture",
    "captures_of",
    "get_capture",
    "load_envelope",
    "load_recording",
    "original_files",
    "remove_capture",
    "restore_capture",
    "set_description",
]


def add_capture(
    session: Session, job_id: int, recording: Recording, sha256: str, files: Mapping[str, tuple[str, bytes]]
) -> Capture:
    """Stores everything of one capture; ``files`` maps role to (name, original bytes). Raises ConflictError."""
    same = session.scalar(select(Capture).where(Capture.job_id == job_id, Capture.sha256 == sha256))
    if same is not None and same.removed_at is None:
        raise ConflictError(f"This capture is already in the job, as {same.name}", kept="Nothing was stored twice")
    if same is not None:
        same.removed_at = None
        return same
    capture = Capture(
        job_id=job_id,
        name=recording.file,
        sha256=sha256,
        description=recording.description.model_dump_json(by_alias=True, exclude_none=True),
        start_s=recording.start_s,
        interval_s=recording.interval_s,
        sample_count=recording.sample_count,
    )
    session.add(capture)
    session.flush()
    for role, (name, data) in files.items():
        session.add(CaptureFile(capture_id=capture.id, role=role, name=name, data=pack_file(data)))
    for channel in recording.channels:
        for chunk in encode_chunks(channel.samples):
            session.add(
                SampleChunk(
                    capture_id=capture.id,
                    column=channel.name,
                    first_sample=chunk.first_sample,
                    sample_count=chunk.sample_count,
                    encoding=chunk.encoding,
                    scale=chunk.scale,
                    levels=chunk.levels,
                    data=chunk.data,
                )
            )
    session.flush()
    return capture


def captures_of(session: Session, job_id: int) -> Sequence[Capture]:
    """The captures of a job that were not removed, in the order of import."""
    kept = select(Capture).where(Capture.job_id == job_id, Capture.removed_at.is_(None))
    return session.scalars(kept.order_by(Capture.id)).all()


def get_capture(session: Session, capture_id: int) -> Capture:
    """Raises NotFoundError."""
    found = session.get(Capture, capture_id)
    if found is None:
        raise NotFoundError(f"There is no capture number {capture_id}")
    return found


def remove_capture(session: Session, capture_id: int) -> None:
    """Takes it out of the job; samples and files stay, so that it can come back."""
    get_capture(session, capture_id).removed_at = datetime.now(UTC).isoformat(timespec="seconds")


def restore_capture(session: Session, capture_id: int) -> None:
    get_capture(session, capture_id).removed_at = None


def set_description(session: Session, capture_id: int, description: CaptureDescription) -> Capture:
    """Replaces what is said about a capture; samples and original files stay. Raises NotFoundError."""
    capture = get_capture(session, capture_id)
    capture.description = description.model_dump_json(by_alias=True, exclude_none=True)
    return capture


def load_recording(session: Session, capture: Capture) -> Recording:
    """The recording exactly as it was imported, after scale and offset."""
    description = parse_document(capture.description, CaptureDescription, capture.name)
    channels = []
    for described in description.channels:
        rows = session.execute(
            select(SampleChunk.encoding, SampleChunk.scale, SampleChunk.data)
            .where(SampleChunk.capture_id == capture.id, SampleChunk.column == described.column)
            .order_by(SampleChunk.first_sample)
        ).all()
        channels.append(Channel(described, decode_samples([(e, s, d) for e, s, d in rows])))
    return Recording(capture.name, description, capture.start_s, capture.interval_s, tuple(channels))


def load_envelope(
    session: Session, capture: Capture, column: str, from_s: float, to_s: float, points: int
) -> NDArray[np.float64]:
    """(n, 3) time, minimum, maximum of a column between two times, at most about ``points`` rows.

    Reads only the min/max levels unless so little is asked for that single samples are wanted.
    """
    first = max(0, int((from_s - capture.start_s) / capture.interval_s))
    last = min(capture.sample_count, int(np.ceil((to_s - capture.start_s) / capture.interval_s)) + 1)
    if last <= first:
        return np.empty((0, 3))
    rows = session.scalars(
        select(SampleChunk)
        .where(
            SampleChunk.capture_id == capture.id,
            SampleChunk.column == column,
            SampleChunk.first_sample < last,
            SampleChunk.first_sample + SampleChunk.sample_count > first,
        )
        .order_by(SampleChunk.first_sample)
        .options(undefer(SampleChunk.levels))
    ).all()
    if not rows:
        raise NotFoundError(f"The capture has no column {column}")
    start = rows[0].first_sample
    fine = (last - first) / points < 2 * LEVEL_BLOCK
    if fine:
        samples = decode_samples([(r.encoding, r.scale, r.data) for r in rows])[first - start : last - start]
        table, block, origin = np.column_stack([samples, samples]), 1, first
    else:
        table = decode_levels([r.levels for r in rows])
        skip = (first - start) // LEVEL_BLOCK
        table = table[skip : skip + -(-(last - first) // LEVEL_BLOCK) + 1]
        block, origin = LEVEL_BLOCK, start + skip * LEVEL_BLOCK
    return _thinned(table, capture, origin, block, points)


def _thinned(table: NDArray[np.float32], capture: Capture, origin: int, block: int, points: int) -> NDArray[np.float64]:
    group = max(1, -(-len(table) // points))
    starts = np.arange(0, len(table), group)
    low = np.fmin.reduceat(table[:, 0], starts)
    high = np.fmax.reduceat(table[:, 1], starts)
    times = capture.start_s + (origin + starts * block) * capture.interval_s
    rows = np.column_stack([times, low, high]).astype(np.float64)
    return rows[np.isfinite(rows).all(axis=1)]


def original_files(session: Session, capture_id: int) -> dict[str, tuple[str, bytes]]:
    """The files as they came, by role."""
    rows = session.scalars(
        select(CaptureFile).where(CaptureFile.capture_id == capture_id).options(undefer(CaptureFile.data))
    ).all()
    return {row.role: (row.name, unpack_file(row.data)) for row in rows}
