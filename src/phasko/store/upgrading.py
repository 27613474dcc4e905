"""Brings the workshop's file to the newest layout: on a copy, which takes the place of the file only when it is whole.

A kill at any moment leaves either the file as it was or the new one. The file as it was stays in ``backups``.
"""

from __future__ import annotations

import itertools
import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy import Engine, create_engine
from sqlalchemy.exc import SQLAlchemyError

from phasko.core.errors import PhaskoError, StorageError
from phasko.store.connections import explained, prepare_engine

__all__ = [
    "at_row",
    "backup_name",
    "copy_of_file",
    "layout_of",
    "newest_layout",
    "put_in_place",
    "upgrade_file",
]

BACKUPS = "backups"
_KEPT = 5
"""So many copies from before an upgrade are kept; older ones are removed."""


def upgrade_file(path: Path) -> None:
    """Makes the file where there is none, and brings an older one to the newest layout.

    Raises StorageError where it cannot be opened or upgraded; the file is then as it was.
    """
    newest = newest_layout()
    copy = path.with_name(f"{path.name}.upgrade")
    _forget(copy)
    here = layout_of(path) if path.exists() else None
    if here == newest:
        return
    if here is not None and here not in _layouts():
        raise StorageError(
            f"This workshop's file was written by a newer version (layout {here}, this one knows {newest})",
            place=path.name,
            kept="The file is as it was",
            remedy="Start the newer version, or give another folder.",
        )
    if path.exists():
        kept = backup_name(path.parent, f"before-upgrade-from-{here or 'empty'}")
        copy_of_file(path, kept)
        copy_of_file(path, copy)
        _keep_few(kept.parent)
    _upgrade_copy(copy, path.name)
    put_in_place(copy, path)


def layout_of(path: Path) -> str | None:
    """The layout's number that the file records; ``None`` for one without tables. Raises StorageError for a file that
    is no database of ours."""
    with explained(path.name), closing(sqlite3.connect(path)) as connection:
        tables = {str(name) for (name,) in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
        if not tables:
            return None
        if "alembic_version" not in tables:
            raise StorageError(
                "is a database, but no workshop's file", place=path.name, remedy="Give the folder of a workshop."
            )
        row = connection.execute("SELECT version_num FROM alembic_version").fetchone()
        return None if row is None else str(row[0])


def newest_layout() -> str:
    """The number of the layout that this version writes."""
    return _layouts()[-1]


def _layouts() -> list[str]:
    """The numbers of all layouts, the oldest first: every step's file begins with its own."""
    return sorted(path.name[:4] for path in (Path(__file__).parent / "migrations" / "versions").glob("[0-9]*.py"))


def copy_of_file(source: Path, target: Path) -> None:
    """A whole copy of a database that others may be using, by SQLite's own backup; there only when it is complete and
    on the disk. Raises StorageError."""
    part = target.with_name(f"{target.name}.part")
    with explained(target.name):
        target.parent.mkdir(exist_ok=True)
        _forget(part)
        part.touch(mode=0o600)
        with closing(sqlite3.connect(source)) as old, closing(sqlite3.connect(part)) as new:
            old.backup(new)
    _on_the_disk(part)
    part.replace(target)


@contextmanager
def at_row(table: str, number: int, name: str) -> Iterator[None]:
    """Names the row at which a step of an upgrade fails."""
    try:
        yield
    except (ValueError, KeyError, TypeError, AttributeError) as error:
        raise StorageError(
            f"Number {number} of {table} ({name}) cannot be read: {error}",
            kept="The file is as it was, and the version before opens it",
            remedy="Take that one out with the version before, or have the file repaired.",
        ) from error


def _upgrade_copy(copy: Path, place: str) -> None:
    """Step by step; each step and its record share one transaction."""
    # Most starts find the newest layout, and Alembic takes a tenth of a start to load.
    from alembic import command
    from alembic.config import Config
    from alembic.util import CommandError

    copy.touch(mode=0o600)
    engine = prepare_engine(create_engine(f"sqlite:///{copy}"))
    config = Config()
    config.set_main_option("script_location", "phasko.store:migrations")
    try:
        with explained(place), engine.connect() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, "head")
        _check_copy(engine)
    except PhaskoError:
        _forget(copy)
        raise
    except (SQLAlchemyError, CommandError) as error:
        _forget(copy)
        raise StorageError(f"cannot be upgraded: {error}", place=place, kept="The file is as it was") from error
    finally:
        engine.dispose()


def _check_copy(engine: Engine) -> None:
    from alembic.migration import MigrationContext

    with engine.connect() as connection:
        wrong = connection.exec_driver_sql("PRAGMA foreign_key_check").first()
        if MigrationContext.configure(connection).get_current_revision() != newest_layout() or wrong is not None:
            raise StorageError("The upgraded copy is not whole", kept="The file is as it was")


def put_in_place(copy: Path, path: Path) -> None:
    """The copy takes the place of the file, whole or not at all. Nothing of the old file's journal may be applied to
    the new one: it was written back when its last connection closed. Raises StorageError while another has it open."""
    with explained(path.name):
        if path.with_name(f"{path.name}-wal").exists():
            _forget(copy)
            raise StorageError(
                "The workshop's file is in use by another program",
                place=path.name,
                kept="The file is as it was",
                remedy="Close the other program, then start again.",
            )
        _on_the_disk(copy)
        copy.replace(path)
        _folder_on_the_disk(path.parent)


def backup_name(folder: Path, why: str) -> Path:
    """A name among the folder's backups that nothing has yet."""
    stamp = datetime.now(UTC).strftime("%Y%m%d-%H%M%S")
    names = (f"{why}-{stamp}{'' if k == 1 else f'-{k}'}.sqlite3" for k in itertools.count(1))
    return next(path for path in (folder / BACKUPS / name for name in names) if not path.exists())


def _keep_few(folder: Path) -> None:
    old = sorted(folder.glob("before-upgrade-*.sqlite3"), key=lambda p: p.stat().st_mtime)
    for path in old[:-_KEPT]:
        path.unlink(missing_ok=True)
    for part in folder.glob("*.part"):
        part.unlink(missing_ok=True)


def _forget(path: Path) -> None:
    for ending in ("", "-wal", "-shm", "-journal"):
        path.with_name(path.name + ending).unlink(missing_ok=True)


def _on_the_disk(path: Path) -> None:
    with path.open("rb+") as file:
        os.fsync(file.fileno())


def _folder_on_the_disk(folder: Path) -> None:
    number = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(number)
    finally:
        os.close(number)
