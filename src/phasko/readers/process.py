"""The reader's side of a file that is read by a process of its own: limits, and the arrays on their way out."""

from __future__ import annotations

import ctypes
import json
import os
import resource
import signal
import sys
import warnings
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any, BinaryIO

import numpy as np
from numpy.typing import NDArray

from phasko.readers.time_names import is_time_name

__all__ = ["LENGTH_BYTES", "Outgoing", "write_apart"]

LENGTH_BYTES = 8
"""At the end of the file OUT: the length of the notes before it."""

_MEMORY_BYTES = 2 << 30
_DIE_WITH_PARENT = 1
"""PR_SET_PDEATHSIG of prctl(2)."""


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
            file.write(about + len(about).to_bytes(LENGTH_BYTES, "little"))
    except MemoryError:
        print("it unpacks to more than memory should hold", file=sys.stderr)
        return 1
    except Exception as error:  # whatever a broken file makes the library do ends here, in words
        print(f"{error}" or type(error).__name__, file=sys.stderr)
        return 1
    return 0
