"""One server per folder: the lock that it holds, and who holds it."""

from __future__ import annotations

import fcntl
import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from phasko.core.errors import ConflictError
from phasko.store.connections import explained

__all__ = ["folder_taken"]

_LOCK = "phasko.lock"


@contextmanager
def folder_taken(folder: Path, what: str) -> Iterator[None]:
    """Holds the folder for one process that serves it, restores it or upgrades it; ``what`` says so to others.

    The lock is the kernel's: it is gone with the process, however that ends. Raises ConflictError, naming the process
    that holds it, and StorageError where the folder cannot be written.
    """
    with explained(str(folder)):
        folder.mkdir(parents=True, exist_ok=True)
        number = os.open(folder / _LOCK, os.O_RDWR | os.O_CREAT, 0o600)
    try:
        try:
            fcntl.flock(number, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError as error:
            held = os.read(number, 200).decode("utf-8", errors="replace").strip() or "another process"
            raise ConflictError(
                f"This folder is in use: {held}", place=str(folder), remedy="Stop that one, or give another folder."
            ) from error
        os.ftruncate(number, 0)
        os.pwrite(number, f"process {os.getpid()} {what}".encode(), 0)
        yield
    finally:
        os.close(number)
