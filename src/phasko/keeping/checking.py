"""Whether a workshop's file is whole: its structure, what belongs together, and the originals by their hashes."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import closing
from dataclasses import dataclass
from hashlib import sha256
from pathlib import Path

from phasko.core.errors import NotFoundError
from phasko.store.chunks import decode_samples, unpack_file
from phasko.store.connections import explained
from phasko.store.database import FILE_NAME

__all__ = ["Finding", "check_file", "check_workshop"]


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing that is not as it should be, in words, with the capture it concerns."""

    words: str
    capture_id: int | None = None


def check_workshop(folder: Path) -> list[Finding]:
    """Everything that is wrong with the folder's workshop; nothing is changed, and a server may be running. Raises
    NotFoundError without one, StorageError for a file that is no database."""
    path = folder / FILE_NAME
    if not path.is_file():
        raise NotFoundError("There is no workshop in this folder", remedy=f"Give the folder with {FILE_NAME}.")
    return check_file(path)


def check_file(path: Path) -> list[Finding]:
    """The same for any workshop's file."""
    with explained(path.name), closing(sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True)) as file:
        broken = [str(said) for (said,) in file.execute("PRAGMA integrity_check(20)") if said != "ok"]
        if broken:
            return [Finding(f"The file is damaged: {said}") for said in broken]
        return [*_loose_rows(file), *_captures(file)]


def _loose_rows(file: sqlite3.Connection) -> Iterator[Finding]:
    for table, row, parent, _ in file.execute("PRAGMA foreign_key_check"):
        yield Finding(f"Row {row} of {table} belongs to no row of {parent}")


def _captures(file: sqlite3.Connection) -> Iterator[Finding]:
    has = {str(row[1]) for row in file.execute("PRAGMA table_info(captures)")}
    if "data_sha256" not in has:
        return  # a file of the first layout names no hashes
    arrived = "arrived_at IS NOT NULL" if "arrived_at" in has else "1"
    rows = file.execute(f"SELECT id, name, data_sha256, sample_count FROM captures WHERE {arrived}").fetchall()
    for number, name, hashed, count in rows:
        yield from _originals(file, int(number), str(name), str(hashed))
        yield from _samples(file, int(number), str(name), int(count))


def _originals(file: sqlite3.Connection, number: int, name: str, hashed: str) -> Iterator[Finding]:
    digest, found = sha256(), False
    of = "SELECT data FROM capture_files WHERE capture_id = ? AND role = 'data' ORDER BY id"
    try:
        for (packed,) in file.execute(of, (number,)):
            digest.update(unpack_file(packed))
            found = True
    except (RuntimeError, ValueError) as error:
        yield Finding(f"The original file of {name} cannot be unpacked: {error}", number)
        return
    if not found:
        yield Finding(f"The original file of {name} is missing", number)
    elif hashed and digest.hexdigest() != hashed:
        yield Finding(f"The original file of {name} is not what was imported: its hash differs", number)


def _samples(file: sqlite3.Connection, number: int, name: str, count: int) -> Iterator[Finding]:
    """Every column has all samples in a row, and every chunk holds what it says."""
    at: dict[str, int] = {}
    of = (
        'SELECT "column", first_sample, sample_count, encoding, scale, data FROM sample_chunks WHERE capture_id = ? '
        'ORDER BY "column", first_sample'
    )
    for column, first, size, encoding, scale, data in file.execute(of, (number,)):
        if int(first) != at.get(column, 0):
            yield Finding(f"Samples of {name}, column {column}, are missing from number {at.get(column, 0)} on", number)
        at[column] = int(first) + int(size)
        try:
            held = decode_samples([(encoding, scale, data)]).size
        except (RuntimeError, ValueError) as error:
            yield Finding(f"Samples of {name}, column {column}, cannot be unpacked: {error}", number)
            continue
        if held != size:
            yield Finding(f"Samples of {name}, column {column}: {held} where {size} belong", number)
    for column, end in at.items():
        if end != count:
            yield Finding(f"Samples of {name}, column {column}, end at {end} of {count}", number)
    if not at and count:
        yield Finding(f"The samples of {name} are missing", number)
