"""Reads one MDF file into plain arrays, as a process of its own: ``python -m phasko.formats.mdf_process IN OUT``."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from phasko.formats.apart import Arrays, write_apart
from phasko.formats.mdf_blocks import mend_cut_file
from phasko.formats.table import check_size

__all__ = ["DESCRIPTION", "read_mdf"]

DESCRIPTION = "description.capture.json"
"""The attachment that holds the capture's description."""

_EMBEDDED = 1
"""Flag of an attachment whose content lies in the file (ASAM MDF 4.1, AT block, bit 0)."""


def read_mdf(path: Path) -> tuple[dict[str, Any], Arrays]:
    """(units, description and what was left out, the series) of a file."""
    from asammdf import MDF

    mended = mend_cut_file(path)
    with MDF(path) as file:
        about, series = _largest_group(file, path.stat().st_size)
        if mended is None:
            return about | {"cut_off": None}, series
        whole = _whole_records(file, series, mended.lost_bytes)
        return about | {"cut_off": mended.words}, {name: values[:whole] for name, values in series.items()}


def _whole_records(file: Any, series: Arrays, lost_bytes: int) -> int:
    """How many records of the largest group are whole where so many bytes at the end of its data are lost."""
    count = next(iter(series.values())).size
    if not lost_bytes:
        return count
    group = max(file.groups, key=lambda g: int(g.channel_group.cycles_nr)).channel_group
    record = int(group.samples_byte_nr) + int(getattr(group, "invalidation_bytes_nr", 0))
    return max(0, count - -(-lost_bytes // max(1, record)))


def _largest_group(file: Any, size: int) -> tuple[dict[str, Any], Arrays]:
    """The numeric channels on the time base of the largest group, that time first."""
    groups: list[tuple[NDArray[np.float64], dict[str, NDArray[Any]], dict[str, str]]] = []
    check_size(sum(int(g.channel_group.cycles_nr) * len(g.channels) for g in file.groups), size, "")
    for index, group in enumerate(file.groups):
        series: dict[str, NDArray[Any]] = {}
        units: dict[str, str] = {}
        stamps: NDArray[np.float64] = np.zeros(0)
        for k, channel in enumerate(group.channels):
            if k == file.masters_db.get(index):
                continue
            signal = file.get(channel.name, group=index, index=k)
            if signal.samples.ndim == 1 and signal.samples.dtype.kind in "fiub":
                series[channel.name], units[channel.name] = signal.samples, str(signal.unit or "")
                stamps = np.asarray(signal.timestamps, dtype=np.float64)
        if series:
            groups.append((stamps, series, units))
    if not groups:
        raise ValueError("it holds no numeric channels")
    base = max((stamps for stamps, _, _ in groups), key=len)
    together: dict[str, NDArray[Any]] = {"time_s": base}
    named: dict[str, str] = {}
    left_out: list[str] = []
    for stamps, series, units in groups:
        if stamps.size != base.size or not np.allclose(stamps, base):
            left_out += list(series)
            continue
        for name, samples in series.items():
            unlike = name if name not in together else f"{name} {len(together) + 1}"
            together[unlike], named[unlike] = samples, units[name]
    return {"units": named, "left_out": left_out, "description": _attached(file)}, together


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
