"""Opens the workshop's file, brings it to the newest layout, and hands out short transactions."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.orm import Session, sessionmaker

__all__ = ["Database"]

FILE_NAME = "phasko.sqlite3"


class Database:
    """One SQLite file. Reading and writing happen in transactions that end with the ``with`` block."""

    def __init__(self, folder: Path) -> None:
        """Opens or makes ``folder/phasko.sqlite3`` and upgrades it."""
        folder.mkdir(parents=True, exist_ok=True)
        self.path = folder / FILE_NAME
        self._engine = create_engine(f"sqlite:///{self.path}", connect_args={"timeout": 30})
        event.listen(self._engine, "connect", _prepare_connection)
        _upgrade(self._engine)
        self._sessions = sessionmaker(self._engine, expire_on_commit=False)

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        """One transaction: all of it is stored, or, after any error, nothing."""
        with self._sessions.begin() as session:
            yield session

    def close(self) -> None:
        self._engine.dispose()


def _prepare_connection(connection: Any, record: Any) -> None:  # noqa: ARG001
    """Rollback journal, full safety: a kill in the middle of an import leaves the state before it."""
    cursor = connection.cursor()
    cursor.execute("PRAGMA page_size = 32768")  # of a new file: its large rows are written in fewer pieces
    cursor.execute("PRAGMA foreign_keys = ON")
    cursor.execute("PRAGMA synchronous = FULL")
    cursor.close()


def _upgrade(engine: Engine) -> None:
    config = Config()
    config.set_main_option("script_location", "phasko.store:migrations")
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")
