"""What several commands share: exit codes, the workshop's folder, a passphrase from the terminal."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, TypeAlias

from phasko.core.errors import DataError, NotFoundError, RefusedError

if TYPE_CHECKING:
    from phasko.store import Database

__all__ = ["EXIT_FAULTS", "EXIT_UNREADABLE", "ROLES", "Commands", "add_data", "asked_twice", "stored", "write"]

EXIT_FAULTS = 1
EXIT_UNREADABLE = 2
ROLES = ("lead", "technician", "reader")

Commands: TypeAlias = "argparse._SubParsersAction[argparse.ArgumentParser]"
"""To which a room adds its own."""


def add_data(command: argparse.ArgumentParser) -> None:
    """Where the workshop is."""
    command.add_argument("--data", type=Path, default=Path("phasko-data"), metavar="DIR")


@contextmanager
def stored(folder: Path) -> Iterator[Database]:
    """A workshop that is there already. Raises NotFoundError where there is none: nothing is made by looking."""
    from phasko.store import Database
    from phasko.store.database import FILE_NAME

    if not (folder / FILE_NAME).is_file():
        raise NotFoundError("There is no workshop in this folder", place=str(folder), remedy="Give it with --data.")
    with closing(Database(folder)) as database:
        yield database


def write(path: Path, content: bytes) -> None:
    """Raises DataError where it cannot be written."""
    try:
        path.write_bytes(content)
    except OSError as error:
        raise DataError(f"cannot be written: {error.strerror}", place=str(path)) from error


def asked_twice() -> str:
    """A passphrase from the terminal, or one line where there is none. Raises RefusedError where the two differ."""
    if not sys.stdin.isatty():
        return sys.stdin.readline().rstrip("\n")
    from getpass import getpass

    first = getpass("Passphrase: ")
    if getpass("Once more: ") != first:
        raise RefusedError("The two differ", kept="The passphrase is as it was")
    return first
