"""How connections to the workshop's file behave, and what SQLite's errors mean in words."""

from __future__ import annotations

import errno
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from sqlalchemy import Connection, Engine, event
from sqlalchemy.exc import DBAPIError, IntegrityError

from phasko.core.errors import DiskFullError, NotFoundError, StorageError

__all__ = ["READS", "WAIT_S", "explained", "prepare_engine"]

WAIT_S = 30.0
"""So long a writer waits for the one before it."""

READS = {"phasko_reads": True}
"""The execution option of a connection that only reads."""

_FULL = ("database or disk is full", "no space left")


def prepare_engine(engine: Engine) -> Engine:
    """The same engine, whose transactions begin where they are begun: one that writes takes the write lock at once, so
    that it never fails half way because another was quicker; one that reads never waits."""
    event.listen(engine, "connect", _prepare_connection)
    event.listen(engine, "begin", _begin)
    return engine


def _prepare_connection(connection: Any, record: Any) -> None:  # noqa: ARG001
    """Write-ahead log, full safety: readers see the state before a write until it is done, and so does a start after a
    kill."""
    # The driver's own notion of when a transaction begins leaves changes of layout outside of it.
    connection.isolation_level = None
    cursor = connection.cursor()
    cursor.execute("PRAGMA page_size = 32768")  # of a new file: its large rows are written in fewer pieces
    cursor.execute("PRAGMA journal_mode = WAL")
    cursor.execute("PRAGMA foreign_keys = ON")
    cursor.execute("PRAGMA secure_delete = ON")  # what is erased is overwritten
    cursor.execute("PRAGMA synchronous = FULL")
    cursor.execute("PRAGMA journal_size_limit = 67108864")
    cursor.close()


def _begin(connection: Connection) -> None:
    reads = connection.get_execution_options().get("phasko_reads", False)
    connection.exec_driver_sql("BEGIN" if reads else "BEGIN IMMEDIATE")


@contextmanager
def explained(place: str) -> Iterator[None]:
    """Turns what the disk and SQLite raise into our own errors; a broken constraint is the caller's to explain. Raises
    StorageError, DiskFullError, and NotFoundError for a number that SQLite cannot hold."""
    try:
        yield
    except IntegrityError:
        raise
    except DBAPIError as error:
        raise _in_words(str(error.orig), place) from error
    except sqlite3.Error as error:
        raise _in_words(str(error), place) from error
    except OverflowError as error:
        if "SQLite INTEGER" not in str(error):
            raise
        raise NotFoundError("Nothing is stored under so large a number") from error
    except OSError as error:
        if error.errno == errno.ENOSPC:
            raise _in_words(_FULL[0], place) from error
        raise StorageError(
            f"cannot be written or read: {error.strerror}", place=place, remedy="Look at the folder's rights and disk."
        ) from error


def _in_words(said: str, place: str) -> StorageError:
    lower = said.lower()
    if any(words in lower for words in _FULL):
        return DiskFullError(
            "The disk is full", place=place, kept="Everything that was stored before is whole", remedy="Make room."
        )
    words = {
        "file is not a database": ("is no database", "Give another folder, or restore a backup."),
        "malformed": ("is damaged", "Restore the last backup."),
        "readonly": ("may only be read", "Look at the rights of the file and its folder."),
        "unable to open": ("cannot be opened", "Look at the rights of the file and its folder."),
        "locked": ("is in use by another program", "Close the other program, then try again."),
        "disk i/o error": ("cannot be read or written", "Look at the disk."),
    }
    for sign, (what, remedy) in words.items():
        if sign in lower:
            return StorageError(f"The workshop's file {what}", place=place, kept="Nothing was changed", remedy=remedy)
    return StorageError(f"The workshop's file: {said[:200]}", place=place, kept="Nothing was changed")
