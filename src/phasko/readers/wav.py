"""Reads one WAV file into plain samples, as a process of its own: ``python -m phasko.readers.wav``."""

from __future__ import annotations

import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from phasko.readers.limits import check_size
from phasko.readers.process import Outgoing, write_apart

__all__ = ["read_wav"]

_BLOCK = 1 << 18


def read_wav(path: Path, out: Outgoing) -> dict[str, Any]:
    """Rate (samples a second) and number of channels of a file; its samples go to ``out``, frame by frame. Raises
    DataError for one that claims more than it can hold."""
    import soundfile

    with path.open("rb") as opened, soundfile.SoundFile(opened) as file:
        check_size(file.frames * file.channels, path.stat().st_size, "")
        out.add("samples", _blocks(file))
        return {"rate": float(file.samplerate), "channels": int(file.channels)}


def _blocks(file: Any) -> Iterator[NDArray[np.float32]]:
    rows = max(1, _BLOCK // file.channels)
    while (block := file.read(frames=rows, dtype="float32", always_2d=True)).shape[0]:
        yield block.ravel()


if __name__ == "__main__":
    sys.exit(write_apart(read_wav, sys.argv[1:]))
