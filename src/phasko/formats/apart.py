"""Reading by a process of its own: a library may take any memory, or crash, over a file that is not what it claims."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from typing import Any, BinaryIO

import numpy as np
from numpy.typing import NDArray

from phasko.core.errors import DataError
from phasko.formats.table import FileBytes
from phasko.readers.process import LENGTH_BYTES

__all__ = ["Arrays", "read_apart"]

Arrays = dict[str, NDArray[Any]]

_LONGEST_S = 300.0
_PIECE_BYTES = 1 << 24


def read_apart(module: str, what: str, data: FileBytes, place: str) -> tuple[dict[str, Any], Arrays]:
    """What ``python -m module IN OUT`` makes of a file: its notes, and its arrays by name. Raises DataError where the
    process finds no such file (its last words are told), takes too long, or ends by itself.

    What goes in and comes out lies in files without a name, so that no kill leaves any. The arrays are mapped: they
    take no memory of this process but what is looked at, and are gone with the last look."""
    with tempfile.TemporaryFile() as source, tempfile.TemporaryFile() as target:
        for first in range(0, len(data), _PIECE_BYTES):
            source.write(data[first : first + _PIECE_BYTES])
        source.flush()
        both = (source.fileno(), target.fileno())
        command = [sys.executable, "-m", module, f"/proc/self/fd/{both[0]}", str(both[1])]
        try:
            ended = subprocess.run(command, capture_output=True, timeout=_LONGEST_S, check=False, pass_fds=both)
        except subprocess.TimeoutExpired as error:
            raise DataError(f"cannot be read as {what}: it takes too long", place=place) from error
        about = _about(target) if ended.returncode == 0 else None
        if about is None:
            said = ended.stderr.decode("utf-8", errors="replace").strip().rsplit("\n", 1)[-1][:160]
            text = f"cannot be read as {what}: {said or 'the reader ended'}"
            raise DataError(text, place=place, remedy="Was the file cut off?")
        return about, {name: _mapped(target, *where) for name, *where in about["arrays"]}


def _about(target: BinaryIO) -> dict[str, Any] | None:
    """The notes behind the arrays, before their own length; ``None`` where the process did not come so far."""
    size = target.seek(0, os.SEEK_END)
    if size < LENGTH_BYTES:
        return None
    target.seek(size - LENGTH_BYTES)
    length = int.from_bytes(target.read(LENGTH_BYTES), "little")
    target.seek(size - LENGTH_BYTES - length)
    found: dict[str, Any] = json.loads(target.read(length))
    return found


def _mapped(target: BinaryIO, kind: str, begins: int, count: int) -> NDArray[Any]:
    """An array of the file; empty ones cannot be mapped."""
    if not count:
        return np.empty(0, dtype=kind)
    return np.asarray(np.memmap(target, kind, mode="r", offset=begins, shape=(count,)))
