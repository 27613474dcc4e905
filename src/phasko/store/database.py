"""Opens the workshop's file, brings it to the newest layout, and hands out short transactions."""

from __future__ import annotations

import copy
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

from sqlalchemy import create_engine
from sqlalchemy.orm import Session, sessionmaker

from phasko.store.audit import NOBODY, keep_log
from phasko.store.connections import READS, WAIT_S, explained, prepare_engine
from phasko.store.upgrading import upgrade_file

__all__ = ["FILE_NAME", "Database"]

FILE_NAME = "phasko.sqlite3"


class Database:
    """One SQLite file. Reading and writing happen in transactions that end with the ``with`` block."""

    def __init__(self, folder: Path) -> None:
        """Opens or makes ``folder/phasko.sqlite3`` and upgrades it. Raises StorageError where that is not possible;
        the file is then as it was."""
        self.path = folder / FILE_NAME
        with explained(str(folder)):
            folder.mkdir(parents=True, exist_ok=True)
            _only_ours(self.path)
        upgrade_file(self.path)
        self._engine = prepare_engine(create_engine(f"sqlite:///{self.path}", connect_args={"timeout": WAIT_S}))
        self._sessions = keep_log(sessionmaker(self._engine, expire_on_commit=False))
        self._reading = sessionmaker(self._engine.execution_options(**READS), expire_on_commit=False, autoflush=False)

    who = NOBODY

    def by(self, who: str) -> Database:
        """The same file, with everything that is changed through it put down to that person."""
        theirs = copy.copy(self)
        theirs.who = who
        return theirs

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        """One transaction that may write: all of it is stored, or, after any error, nothing. Others that write wait."""
        with explained(self.path.name), self._sessions.begin() as session:
            session.info["who"] = self.who
            yield session

    @contextmanager
    def reading(self) -> Iterator[Session]:
        """The file as it stands at this moment; nobody waits for it, and nothing of it is stored."""
        with explained(self.path.name), self._reading() as session:
            yield session

    def write_back(self) -> None:
        """Brings the journal into the file and empties it: what was erased stands in neither."""
        with explained(self.path.name), closing(self._engine.raw_connection()) as connection:
            connection.cursor().execute("PRAGMA wal_checkpoint(TRUNCATE)")

    def close(self) -> None:
        self._engine.dispose()


def _only_ours(path: Path) -> None:
    """The file belongs to its owner alone: what a customer told stands in it."""
    if path.exists():
        path.chmod(0o600)
