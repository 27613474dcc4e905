"""Stored captures: description, samples in chunks, original bytes."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session, undefer

from phasko.core.documents import CaptureDescription, parse_document
from phasko.core.documents.capture import ChannelDescription
from phasko.core.errors import DataError, DocumentError, NotFoundError
from phasko.core.signals.recording import Channel, Recording, Samples, scaled_samples
from phasko.store.chunks import (
    COARSE_BLOCK,
    LEVEL_BLOCK,
    decode_levels,
    decode_samples,
    unpack_file,
)
from phasko.store.models import Capture, CaptureFile, EngineVersion, Job, SampleChunk, utc_now

__all__ = [
    "Envelope",
    "captures_of",
    "confirm",
    "described",
    "get_capture",
    "keep_as_known_good",
    "known_good_captures",
    "load_envelope",
    "load_raw",
    "load_recording",
    "measurable_captures",
    "original_files",
    "remove_capture",
    "restore_capture",
    "set_description",
]


@dataclass(frozen=True, slots=True, eq=False)
class Envelope:
    """Step k of a channel (minimum, maximum) begins at ``start_s + k * step_s``; a step without samples is NaN."""

    start_s: float
    step_s: float
    levels: Samples


def captures_of(session: Session, job_id: int) -> Sequence[Capture]:
    """The captures of a job that were not removed, in the order of import."""
    kept = select(Capture).where(
        Capture.job_id == job_id, Capture.removed_at.is_(None), Capture.arrived_at.is_not(None)
    )
    return session.scalars(kept.order_by(Capture.id)).all()


def measurable_captures(session: Session, job_id: int) -> Sequence[Capture]:
    """Those of which somebody has said what the channels are, and whose description can be read."""
    return [one for one in captures_of(session, job_id) if one.confirmed_at is not None and _readable(one)]


def described(capture: Capture) -> CaptureDescription:
    """What is said about it. Raises DocumentError where that cannot be read."""
    return parse_document(capture.description, CaptureDescription, capture.name)


def _readable(capture: Capture) -> bool:
    try:
        described(capture)
    except DocumentError:
        return False
    return True


def get_capture(session: Session, capture_id: int) -> Capture:
    """Raises NotFoundError."""
    found = session.get(Capture, capture_id)
    if found is None or found.arrived_at is None:
        raise NotFoundError(f"There is no capture number {capture_id}")
    return found


def remove_capture(session: Session, capture_id: int) -> None:
    """Takes it out of the job; samples and files stay, so that it can come back."""
    get_capture(session, capture_id).removed_at = utc_now()


def restore_capture(session: Session, capture_id: int) -> None:
    get_capture(session, capture_id).removed_at = None


def set_description(session: Session, capture_id: int, description: CaptureDescription) -> Capture:
    """Replaces what is said about a capture; samples and original files stay. Raises NotFoundError."""
    capture = get_capture(session, capture_id)
    capture.description = description.model_dump_json(by_alias=True, exclude_none=True)
    return capture


def confirm(capture: Capture) -> None:
    """Somebody has said what the channels are: it is measured from now on."""
    capture.confirmed_at = capture.confirmed_at or utc_now()


def keep_as_known_good(capture: Capture, good: bool) -> None:
    """Keeps it as a capture of a sound engine, or no longer."""
    capture.known_good_at = (capture.known_good_at or utc_now()) if good else None


def known_good_captures(session: Session, engine_name: str, but_job_id: int | None) -> Sequence[Capture]:
    """Captures with an engine of that name that were kept as known good, oldest first; those of one job left out."""
    kept = (
        select(Capture)
        .join(Job, Job.id == Capture.job_id)
        .join(EngineVersion, EngineVersion.id == Job.engine_version_id)
        .where(
            EngineVersion.name == engine_name,
            Capture.job_id != (-1 if but_job_id is None else but_job_id),
            Capture.known_good_at.is_not(None),
            Capture.confirmed_at.is_not(None),
            Capture.removed_at.is_(None),
            Job.removed_at.is_(None),
        )
    )
    return [one for one in session.scalars(kept.order_by(Capture.id)).all() if _readable(one)]


def load_raw(session: Session, capture: Capture) -> tuple[CaptureDescription, dict[str, Samples]]:
    """The description, and every column as it stood in the file, before scale and offset."""
    description = parse_document(capture.description, CaptureDescription, capture.name)
    columns = {}
    for described in description.channels:
        rows = session.execute(
            select(SampleChunk.encoding, SampleChunk.scale, SampleChunk.data)
            .where(SampleChunk.capture_id == capture.id, SampleChunk.column == described.column)
            .order_by(SampleChunk.first_sample)
        ).all()
        with _whole(capture):
            samples = decode_samples([(e, s, d) for e, s, d in rows])
            if samples.size != capture.sample_count:
                raise ValueError(f"{samples.size} samples where {capture.sample_count} belong")
        columns[described.column] = samples
    return description, columns


def load_recording(session: Session, capture: Capture) -> Recording:
    """The recording as it was imported, after the scale and offset that its description gives now."""
    description, raw = load_raw(session, capture)
    channels = tuple(Channel(d, scaled_samples(raw[d.column], d)) for d in description.channels)
    return Recording(capture.name, description, capture.start_s, capture.interval_s, channels, cut_off=capture.cut_off)


def load_envelope(
    session: Session, capture: Capture, channel: ChannelDescription, from_s: float, to_s: float, points: int
) -> Envelope:
    """Minimum and maximum of a channel between two times, scaled, in at most about ``points`` steps.

    Reads the levels that just suffice; single samples only where so little is asked for.
    """
    first = min(max(0, int((from_s - capture.start_s) / capture.interval_s)), capture.sample_count)
    last = min(capture.sample_count, int(np.ceil((to_s - capture.start_s) / capture.interval_s)) + 1)
    if last <= first:
        return Envelope(capture.start_s, capture.interval_s, np.empty((0, 2), dtype=np.float32))
    share = (last - first) / points
    block = 1 if share < 2 * LEVEL_BLOCK else LEVEL_BLOCK if share < 2 * COARSE_BLOCK else COARSE_BLOCK
    what = SampleChunk.levels if block == LEVEL_BLOCK else SampleChunk.coarse_levels if block > 1 else SampleChunk.data
    rows = session.execute(
        select(SampleChunk.first_sample, SampleChunk.encoding, SampleChunk.scale, what)
        .where(
            SampleChunk.capture_id == capture.id,
            SampleChunk.column == channel.column,
            SampleChunk.first_sample < last,
            SampleChunk.first_sample + SampleChunk.sample_count > first,
        )
        .order_by(SampleChunk.first_sample)
    ).all()
    if not rows:
        raise NotFoundError(f"The capture has no column {channel.column}")
    start = int(rows[0][0])
    with _whole(capture):
        if block == 1:
            samples = decode_samples([(e, s, d) for _, e, s, d in rows])[first - start : last - start]
            table, origin = np.column_stack([samples, samples]), first
        else:
            skip = (first - start) // block
            table = decode_levels([levels for *_, levels in rows])[skip : skip + -(-(last - first) // block) + 1]
            origin = start + skip * block
    group = max(1, -(-len(table) // points))
    return Envelope(
        capture.start_s + origin * capture.interval_s,
        group * block * capture.interval_s,
        _scaled_levels(_grouped(table, group), channel),
    )


@contextmanager
def _whole(capture: Capture) -> Iterator[None]:
    """Raises DataError where what is stored of a capture cannot be unpacked."""
    try:
        yield
    except (RuntimeError, ValueError) as error:
        raise DataError(
            "The stored samples are damaged",
            place=capture.name.removesuffix(".capture.json"),
            kept="Everything else is as it was",
            remedy="Restore a backup, or import the file again; 'phasko check' names all that is damaged.",
        ) from error


def _grouped(table: Samples, group: int) -> Samples:
    if group == 1:
        return table
    starts = np.arange(0, len(table), group)
    low, high = np.fmin.reduceat(table[:, 0], starts), np.fmax.reduceat(table[:, 1], starts)
    return np.column_stack([low, high]).astype(np.float32)


def _scaled_levels(table: Samples, channel: ChannelDescription) -> Samples:
    """A negative scale makes the largest the smallest."""
    both = np.column_stack([scaled_samples(table[:, 0], channel), scaled_samples(table[:, 1], channel)])
    return np.ascontiguousarray(both if channel.scale > 0 else both[:, ::-1], dtype=np.float32)


def original_files(session: Session, capture_id: int) -> dict[str, tuple[str, bytes]]:
    """The files as they came, by role."""
    of = select(CaptureFile).where(CaptureFile.capture_id == capture_id).order_by(CaptureFile.id)
    found: dict[str, tuple[str, bytearray]] = {}
    for row in session.scalars(of.options(undefer(CaptureFile.data))):
        with _whole(get_capture(session, capture_id)):
            found.setdefault(row.role, (row.name, bytearray()))[1].extend(unpack_file(row.data))
    return {role: (name, bytes(data)) for role, (name, data) in found.items()}
