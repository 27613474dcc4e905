"""Taking captures into a job."""

from __future__ import annotations

import mmap
from collections import deque
from collections.abc import Iterator, Mapping
from concurrent.futures import Executor, Future, ThreadPoolExecutor
from contextlib import AbstractContextManager, nullcontext
from pathlib import Path

from pydantic import BaseModel, ConfigDict, TypeAdapter

from phasko.core.channels import RoleProposal, propose_roles
from phasko.core.channels.description import proposed_description
from phasko.core.documents import CaptureDescription, EngineProfile, parse_document
from phasko.core.errors import DataError, DocumentError, PhaskoError
from phasko.core.signals.recording import Samples
from phasko.formats import CaptureFiles, FileBytes, Table, format_of, memory_given_back, read_raw_capture
from phasko.formats.table import check_time_base, without_time
from phasko.jobs.captures.listed import ImportedCapture, summary_of_capture
from phasko.jobs.progress import Progress
from phasko.jobs.told import job_told
from phasko.store import Database, captures, jobs
from phasko.store.arriving import Arrival, NewCapture, arriving
from phasko.store.chunks import Chunk, encode_chunks, pack_file

__all__ = ["MOST_CHANNELS", "PROPOSED", "Proposed", "import_capture", "import_data_file", "import_from_disk"]


MOST_CHANNELS = 200
"""Of one capture. Beyond it nobody could say what each is, and storing them takes minutes."""
_AHEAD = 2
_LONG_FILE = 1 << 25
"""Bytes from which a file is stored while it is still read; shorter ones are read before anything is locked."""


class Proposed(BaseModel):
    """What was found when a file came without a description: a proposal per column, and how the file was read."""

    model_config = ConfigDict(frozen=True)
    roles: list[RoleProposal]
    notes: list[str]


PROPOSED = TypeAdapter(Proposed)


def import_capture(
    database: Database, job_id: int, files: CaptureFiles, progress: Progress | None = None
) -> ImportedCapture:
    """Reads a data file and its description and stores the capture: all of it, or nothing.

    Raises DocumentError, DataError, NotFoundError, ConflictError, and RefusedError when it was cancelled; each says
    that the job is as it was.
    """
    with _memory_of(files.data):
        return _stored_whole(database, job_id, files, progress or Progress())


def _stored_whole(database: Database, job_id: int, files: CaptureFiles, progress: Progress) -> ImportedCapture:
    with _job_as_it_was():
        _check_job(database, job_id)
        _check_names(files.description_name, files.data_name)
        described = parse_document(files.description, CaptureDescription, files.description_name)
        if described.data != files.data_name:
            raise DataError(
                f"describes the data file {described.data!r}, but {files.data_name!r} came with it",
                place=files.description_name,
            )
        raw = read_raw_capture(files)
        _check_channels(len(raw.columns), files.data_name)
        packed = pack_file(files.data)
        original = {
            "description": (files.description_name, pack_file(files.description)),
            "data": (files.data_name, packed),
        }
        progress.step("storing")
        with arriving(database, job_id, raw.name, packed.sha256) as arrival:
            if not arrival.already:
                arrival.add_files(original)
                _add_columns(arrival, raw.columns, progress)
                new = NewCapture(
                    name=raw.name,
                    description=raw.description,
                    start_s=raw.start_s,
                    interval_s=raw.interval_s,
                    sample_count=_length(raw.columns),
                    sha256=files.sha256,
                    confirmed=True,
                    proposals=Proposed(roles=[], notes=list(raw.notes)).model_dump_json() if raw.notes else "",
                    cut_off=raw.cut_off,
                )
                progress.keep()
                arrival.finish(new)
        return _arrived(database, arrival, progress)


def _check_channels(count: int, place: str) -> None:
    if count > MOST_CHANNELS:
        raise DataError(
            f"holds {count} channels; a capture has {MOST_CHANNELS} at most",
            place=place,
            remedy="Export the channels of the engine alone.",
        )


def _add_columns(arrival: Arrival, columns: Mapping[str, Samples], progress: Progress) -> None:
    for done, (column, samples) in enumerate(columns.items(), start=1):
        arrival.add_column(column, encode_chunks(samples))
        progress.step("storing", done / len(columns))


def _length(columns: Mapping[str, Samples]) -> int:
    return int(next(iter(columns.values())).size) if columns else 0


def _arrived(database: Database, arrival: Arrival, progress: Progress) -> ImportedCapture:
    with database.reading() as session:
        summary = summary_of_capture(captures.get_capture(session, arrival.capture_id))
    progress.step("done", 1.0)
    return summary


def import_data_file(
    database: Database,
    job_id: int,
    name: str,
    data: FileBytes,
    interval_s: float | None = None,
    progress: Progress | None = None,
) -> ImportedCapture:
    """Stores a data file that came alone: what each column is gets proposed from the signals, and waits for a person,
    unless the file was written here and holds its description.

    ``interval_s`` is needed where the file says nothing about time. Raises as ``import_capture``.
    """
    with _memory_of(data):
        return _stored_on_the_way(database, job_id, (name, data), interval_s, progress or Progress())


def _stored_on_the_way(
    database: Database, job_id: int, came: tuple[str, FileBytes], interval_s: float | None, progress: Progress
) -> ImportedCapture:
    name, data = came
    with _job_as_it_was():
        profile = _check_job(database, job_id)
        _check_names(name)
        # Hashing, recognising and encoding need little of the interpreter: they run beside reading and storing. The
        # bytes of a file are stored while its last rows are still read; what turns out to be no recording leaves
        # nothing.
        with ThreadPoolExecutor(3) as beside:
            reading = beside.submit(_read, data, name, interval_s)
            file = beside.submit(pack_file, data).result()
            if len(data) < _LONG_FILE:
                reading.result()
            progress.step("storing")
            with arriving(database, job_id, f"{_stem(name)}.capture.json", file.sha256) as arrival:
                if not arrival.already:
                    arrival.add_files({"data": (name, file)})
                    table, interval = reading.result()
                    progress.step("recognising")
                    describing = beside.submit(_described, table, interval, name, profile)
                    for done, (column, chunks) in enumerate(_encoded(beside, table.columns), start=1):
                        arrival.add_column(column, chunks)
                        progress.step("storing", done / len(table.columns))
                    description, proposals = describing.result()
                    if proposals and _repaired(database, job_id):
                        description = description.model_copy(update={"repair": "after"})
                    new = NewCapture(
                        name=f"{_stem(name)}.capture.json",
                        description=description,
                        start_s=table.start_s,
                        interval_s=interval,
                        sample_count=_length(table.columns),
                        sha256=file.sha256,
                        confirmed=not proposals,
                        proposals=proposals,
                        cut_off=table.cut_off,
                    )
                    progress.keep()
                    arrival.finish(new)
            return _arrived(database, arrival, progress)


def _memory_of(data: FileBytes) -> AbstractContextManager[None]:
    """A long file leaves nothing of its own behind."""
    return memory_given_back() if len(data) >= _LONG_FILE else nullcontext()


def _read(data: FileBytes, name: str, interval_s: float | None) -> tuple[Table, float]:
    """The table and its interval, told by the file or given. Raises DataError without either."""
    table = format_of(data, name).read(data, name)
    _check_channels(len(table.columns), name)
    interval = table.interval_s if table.interval_s is not None else interval_s
    if interval is None:
        raise without_time(name)
    check_time_base(table.start_s, interval, name)
    return table, interval


def _encoded(beside: Executor, columns: Mapping[str, Samples]) -> Iterator[tuple[str, list[Chunk]]]:
    """Every column's chunks, in order; only the next one is encoded while one is stored."""
    waiting: deque[tuple[str, Future[list[Chunk]]]] = deque()
    for column, samples in columns.items():
        waiting.append((column, beside.submit(_all_chunks, samples)))
        if len(waiting) > _AHEAD:
            column_done, chunks = waiting.popleft()
            yield column_done, chunks.result()
    while waiting:
        column_done, chunks = waiting.popleft()
        yield column_done, chunks.result()


def _all_chunks(samples: Samples) -> list[Chunk]:
    return list(encode_chunks(samples))


def _described(table: Table, interval_s: float, name: str, profile: EngineProfile) -> tuple[CaptureDescription, str]:
    """What is said about a file that came alone, and the proposals behind it as JSON; none where the file holds its
    own description."""
    inside = _description_inside(table, name)
    if inside is not None:
        return inside, ""
    roles = propose_roles(table.columns, table.units, table.start_s, interval_s, profile)
    proposed = Proposed(roles=roles, notes=list(table.notes))
    told = interval_s if table.interval_s is None else None
    return proposed_description(roles, table.units, name, told), proposed.model_dump_json()


def import_from_disk(
    database: Database, job_id: int, path: Path, interval_s: float | None = None, progress: Progress | None = None
) -> ImportedCapture:
    """The same for a file that lies on this machine's disk, which is mapped instead of read. Raises DataError too when
    it cannot be opened."""
    try:
        with path.open("rb") as file:
            if path.stat().st_size == 0:
                raise DataError("is empty", place=path.name)
            with mmap.mmap(file.fileno(), 0, access=mmap.ACCESS_READ) as mapped:
                return import_data_file(database, job_id, path.name, mapped, interval_s, progress)
    except OSError as error:
        raise DataError(f"cannot be opened: {error.strerror}", place=path.name) from error


class _job_as_it_was:  # noqa: N801 - reads like a statement
    """Adds to every error that nothing was changed."""

    def __enter__(self) -> None:
        return None

    def __exit__(self, kind: object, error: BaseException | None, trace: object) -> None:
        if isinstance(error, PhaskoError) and not error.kept:
            error.kept = "The job is as it was"


def _check_job(database: Database, job_id: int) -> EngineProfile:
    with database.reading() as session:
        version = jobs.get_job(session, job_id).engine_version
        return parse_document(version.document, EngineProfile, version.name)


def _repaired(database: Database, job_id: int) -> bool:
    """Whether a repair was noted: what comes after that, and does not say otherwise, is of the engine after it."""
    with database.reading() as session:
        return job_told(jobs.get_job(session, job_id)).repair is not None


def _description_inside(table: Table, name: str) -> CaptureDescription | None:
    """The description that an earlier export wrote into the file, where it fits the columns; else ``None``."""
    if table.description is None:
        return None
    try:
        found = parse_document(table.description, CaptureDescription, name)
    except DocumentError:
        return None
    if not all(channel.column in table.columns for channel in found.channels):
        return None
    return found.model_copy(update={"data": name})


def _check_names(*names: str) -> None:
    """Raises DataError for a name that no disk could hold."""
    for name in names:
        if len(name) > _LONGEST_NAME:
            raise DataError(f"has a name of {len(name)} letters", place=f"{name[:40]} ...", remedy="Shorten it.")


_LONGEST_NAME = 255


def _stem(name: str) -> str:
    return Path(name).stem or name
