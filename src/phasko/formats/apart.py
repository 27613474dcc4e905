"""Reading by a process of its own: a library may take any memory, or crash, over a file that is not what it claims."""

from __future__ import annotations

import json
import resource
import subprocess
import sys
import tempfile
import warnings
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any

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
_ABOUT = "about.json"


def read_apart(module: str, what: str, data: FileBytes, place: str) -> tuple[dict[str, Any], Arrays]:
    """What ``python -m module IN OUT`` makes of a file: its notes, and its arrays by name. Raises DataError where the
    process finds no such file (its last words are told), takes too long, or ends by itself.

    The arrays lie in files that are mapped and have no name any more: they take no memory of this process but what is
    looked at, and are gone with the last look."""
    with tempfile.TemporaryDirectory() as folder:
        path, out = Path(folder) / "in", Path(folder) / "out"
        out.mkdir()
        with path.open("wb") as file:
            for first in range(0, len(data), _PIECE_BYTES):
                file.write(data[first : first + _PIECE_BYTES])
        command = [sys.executable, "-m", module, str(path), str(out)]
        try:
            ended = subprocess.run(command, capture_output=True, timeout=_LONGEST_S, check=False)
        except subprocess.TimeoutExpired as error:
            raise DataError(f"cannot be read as {what}: it takes too long", place=place) from error
        if ended.returncode != 0 or not (out / _ABOUT).exists():
            said = ended.stderr.decode("utf-8", errors="replace").strip().rsplit("\n", 1)[-1][:160]
            text = f"cannot be read as {what}: {said or 'the reader ended'}"
            raise DataError(text, place=place, remedy="Was the file cut off?")
        about: dict[str, Any] = json.loads((out / _ABOUT).read_text(encoding="utf-8"))
        return about, {name: _mapped(out / str(k), kind) for k, (name, kind) in enumerate(about["arrays"])}


def _mapped(path: Path, kind: str) -> NDArray[Any]:
    """An array of a file; empty ones cannot be mapped."""
    return np.asarray(np.memmap(path, kind, mode="r")) if path.stat().st_size else np.empty(0, dtype=kind)


class Outgoing:
    """Arrays on their way out of that process, block by block: none of them is ever in its memory whole."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self.arrays: list[tuple[str, str]] = []

    def add(self, name: str, blocks: Iterable[NDArray[Any]]) -> None:
        """One series, of any number of blocks: samples as they are used, in float32; times need all their digits."""
        kind = "float64" if is_time_name(name.rsplit("/", 1)[-1]) else "float32"
        with (self._folder / str(len(self.arrays))).open("wb") as file:
            for block in blocks:
                with np.errstate(all="ignore"):
                    np.ascontiguousarray(block, dtype=kind).tofile(file)
        self.arrays.append((name, kind))


def write_apart(read: Callable[[Path, Outgoing], dict[str, Any]], arguments: list[str]) -> int:
    """The other end, inside that process: notes and arrays of the file IN into the folder OUT; 0, or 1 and the reason
    as the last line of standard error. Memory is limited, and a crash leaves no core file."""
    source, target = arguments
    resource.setrlimit(resource.RLIMIT_AS, (_MEMORY_BYTES, _MEMORY_BYTES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    warnings.simplefilter("ignore")
    try:
        out = Outgoing(Path(target))
        about = read(Path(source), out)
        (Path(target) / _ABOUT).write_text(json.dumps(about | {"arrays": out.arrays}), encoding="utf-8")
    except MemoryError:
        print("it unpacks to more than memory should hold", file=sys.stderr)
        return 1
    except Exception as error:  # whatever a broken file makes the library do ends here, in words
        print(f"{error}" or type(error).__name__, file=sys.stderr)
        return 1
    return 0
