"""Reading by a process of its own: a library may take any memory, or crash, over a file that is not what it claims."""

from __future__ import annotations

import json
import resource
import subprocess
import sys
import tempfile
import warnings
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from phasko.core.errors import DataError
from phasko.formats.table import FileBytes

__all__ = ["Arrays", "read_apart", "write_apart"]

Arrays = dict[str, NDArray[Any]]

_LONGEST_S = 300.0
_MEMORY_BYTES = 6 << 30


def read_apart(module: str, what: str, data: FileBytes, place: str) -> tuple[dict[str, Any], Arrays]:
    """What ``python -m module IN OUT`` makes of a file: its notes, and its arrays by name. Raises DataError where the
    process finds no such file (its last words are told), takes too long, or ends by itself."""
    with tempfile.TemporaryDirectory() as folder:
        path, out = Path(folder) / "in", Path(folder) / "out.npz"
        path.write_bytes(data[:])
        command = [sys.executable, "-m", module, str(path), str(out)]
        try:
            ended = subprocess.run(command, capture_output=True, timeout=_LONGEST_S, check=False)
        except subprocess.TimeoutExpired as error:
            raise DataError(f"cannot be read as {what}: it takes too long", place=place) from error
        if ended.returncode != 0 or not out.exists():
            said = ended.stderr.decode("utf-8", errors="replace").strip().rsplit("\n", 1)[-1][:160]
            text = f"cannot be read as {what}: {said or 'the reader ended'}"
            raise DataError(text, place=place, remedy="Was the file cut off?")
        with np.load(out) as found:
            about: dict[str, Any] = json.loads(str(found["about"]))
            return about, {name: found[f"s{k}"] for k, name in enumerate(about["names"])}


def write_apart(read: Callable[[Path], tuple[dict[str, Any], Arrays]], arguments: list[str]) -> int:
    """The other end, inside that process: notes and arrays of the file IN to OUT; 0, or 1 and the reason as the last
    line of standard error. Memory is limited, and a crash leaves no core file."""
    source, target = arguments
    resource.setrlimit(resource.RLIMIT_AS, (_MEMORY_BYTES, _MEMORY_BYTES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    warnings.simplefilter("ignore")
    try:
        about, series = read(Path(source))
        said = json.dumps(about | {"names": list(series)})
        arrays = {f"s{k}": values for k, values in enumerate(series.values())}
        np.savez(target, about=np.array(said), **arrays)  # type: ignore[arg-type]
    except Exception as error:  # whatever a broken file makes the library do ends here, in words
        print(f"{error}" or type(error).__name__, file=sys.stderr)
        return 1
    return 0
