"""Reads one MDF file into plain arrays, as a process of its own: ``python -m phasko.readers.mdf IN OUT``."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

import numpy as np

from phasko.readers.limits import check_size
from phasko.readers.mdf_blocks import mend_cut_file
from phasko.readers.process import Outgoing, write_apart

__all__ = ["DESCRIPTION", "read_mdf"]

DESCRIPTION = "description.capture.json"
"""The attachment that holds the capture's description."""

_EMBEDDED = 1
"""Flag of an attachment whose content lies in the file (ASAM MDF 4.1, AT block, bit 0)."""


def read_mdf(path: Path, out: Outgoing) -> dict[str, Any]:
    """Units, description, what was left out and where the file was cut off; its series go to ``out``. Raises
    ValueError and DataError."""
    from asammdf import MDF

    mended = mend_cut_file(path)
    with MDF(path) as file:
        check_size(sum(int(g.channel_group.cycles_nr) * len(g.channels) for g in file.groups), path.stat().st_size, "")
        about = _largest_group(file, out, 0 if mended is None else mended.lost_bytes)
    return about | {"cut_off": None if mended is None else mended.words}


def _largest_group(file: Any, out: Outgoing, lost_bytes: int) -> dict[str, Any]:
    """The numeric channels on the time base of the largest group, that time first; one channel at a time."""
    bases = {index: np.asarray(file.get_master(index), dtype=np.float64) for index in range(len(file.groups))}
    held = [index for index, base in bases.items() if base.size and len(file.groups[index].channels) > 1]
    if not held:
        raise ValueError("it holds no numeric channels")
    largest = max(held, key=lambda index: bases[index].size)
    base = bases[largest]
    whole = _whole_records(file.groups[largest].channel_group, base.size, lost_bytes)
    out.add("time_s", [base[:whole]])
    units: dict[str, str] = {}
    left_out: list[str] = []
    for index in held:
        alike = bases[index].size == base.size and np.allclose(bases[index], base)
        for k, channel in enumerate(file.groups[index].channels):
            if k == file.masters_db.get(index):
                continue
            if not alike:
                left_out.append(channel.name)
                continue
            signal = file.get(channel.name, group=index, index=k)
            if signal.samples.ndim == 1 and signal.samples.dtype.kind in "fiub":
                name = channel.name if channel.name not in units else f"{channel.name} {len(units) + 2}"
                out.add(name, [signal.samples[:whole]])
                units[name] = str(signal.unit or "")
    if not units:
        raise ValueError("it holds no numeric channels")
    return {"units": units, "left_out": left_out, "description": _attached(file)}


def _whole_records(group: Any, count: int, lost_bytes: int) -> int:
    """How many records of a group are whole where so many bytes at the end of its data are lost."""
    record = int(group.samples_byte_nr) + int(getattr(group, "invalidation_bytes_nr", 0))
    return max(0, count - -(-lost_bytes // max(1, record)))


def _attached(file: Any) -> str | None:
    for index, block in enumerate(file.attachments):
        # One that is not inside the file would be read from the disk of whoever opens it.
        inside = bool(block.flags & _EMBEDDED)
        if inside and Path(str(block.file_name)).name == DESCRIPTION:
            content = file.extract_attachment(index=index)[0]
            return content if isinstance(content, str) else bytes(content).decode("utf-8", errors="replace")
    return None


if __name__ == "__main__":
    sys.exit(write_apart(read_mdf, sys.argv[1:]))
