"""Reading by a process of its own: a library may take any memory, or crash, over a file that is not what it claims."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from phasko.core.errors import DataError
from phasko.formats.table import FileBytes

__all__ = ["read_apart"]

_LONGEST_S = 300.0


def read_apart(module: str, what: str, data: FileBytes, place: str) -> tuple[dict[str, Any], dict[str, NDArray[Any]]]:
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
