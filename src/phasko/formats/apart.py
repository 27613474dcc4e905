"""Reading by a process of its own: a library may take any memory, or crash, over a file that is not what it claims."""

from __future__ import annotations

import ctypes
import json
import os
import resource
import signal
import subprocess
import sys
import tempfile
import warnings
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any, BinaryIO

import numpy as np
from numpy.typing import NDArray

from phasko.core.errors import DataError
from phasko.formats.csv.header import is_time_name
from phasko.formats.table import FileBytes

__all__ = ["Arrays", "Outgoing", "read_apart", "write_apart"]

Arrays = dict[str, NDArray[Any]]

_LONGEST_S = 300.0
_MEMORY_BYTES = 2 << 30
_PIECE_BYTES = 1 << 24
_DIE_WITH_PARENT = 1
"""PR_SET_PDEATHSIG of prctl(2)."""
_LENGTH_BYTES = 8


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
    if size < _LENGTH_BYTES:
        return None
    target.seek(size - _LENGTH_BYTES)
    length = int.from_bytes(target.read(_LENGTH_BYTES), "little")
    target.seek(size - _LENGTH_BYTES - length)
    found: dict[str, Any] = json.loads(target.read(length))
    return found


def _mapped(target: BinaryIO, kind: str, begins: int, count: int) -> NDArray[Any]:
    """An array of the file; empty ones cannot be mapped."""
    if not count:
        return np.empty(0, dtype=kind)
    return np.asarray(np.memmap(target, kind, mode="r", offset=begins, shape=(count,)))


class Outgoing:
    """Arrays on their way out of that process, block by block: none of them is ever in its memory whole."""

    def __init__(self, file: BinaryIO) -> None:
        self._file = file
        self.arrays: list[tuple[str, str, int, int]] = []

    def add(self, name: str, blocks: Iterable[NDArray[Any]]) -> None:
        """One series, of any number of blocks: samples as they are used, in float32; times need all their digits."""
        kind = "float64" if is_time_name(name.rsplit("/", 1)[-1]) else "float32"
        begins, count = self._file.tell(), 0
        for block in blocks:
            with np.errstate(all="ignore"):
                piece = np.ascontiguousarray(block, dtype=kind)
            self._file.write(piece.data)
            count += piece.size
        self.arrays.append((name, kind, begins, count))


def write_apart(read: Callable[[Path, Outgoing], dict[str, Any]], arguments: list[str]) -> int:
    """The other end, inside that process: notes and arrays of the file IN into the open file OUT; 0, or 1 and the
    reason as the last line of standard error. Memory is limited, a crash leaves no core file, and the process ends
    with the one that started it."""
    source, target = arguments
    ctypes.CDLL(None).prctl(_DIE_WITH_PARENT, signal.SIGKILL)
    resource.setrlimit(resource.RLIMIT_AS, (_MEMORY_BYTES, _MEMORY_BYTES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    warnings.simplefilter("ignore")
    try:
        with os.fdopen(int(target), "wb") as file:
            out = Outgoing(file)
            about = json.dumps(read(Path(source), out) | {"arrays": out.arrays}).encode()
            file.write(about + len(about).to_bytes(_LENGTH_BYTES, "little"))
    except MemoryError:
        print("it unpacks to more than memory should hold", file=sys.stderr)
        return 1
    except Exception as error:  # whatever a broken file makes the library do ends here, in words
        print(f"{error}" or type(error).__name__, file=sys.stderr)
        return 1
    return 0
