"""Reads one MDF file into plain arrays, as a process of its own: ``python -m phasko.formats.mdf_process IN OUT``."""

from __future__ import annotations

import json
import resource
import sys
import warnings
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from phasko.formats.table import check_size

__all__ = ["main"]

_DESCRIPTION = "description.capture.json"
_MEMORY_BYTES = 6 << 30


def main(source: str, target: str) -> int:
    """0 and the arrays in ``target``, or 1 and the reason as the last line of standard error."""
    resource.setrlimit(resource.RLIMIT_AS, (_MEMORY_BYTES, _MEMORY_BYTES))
    warnings.simplefilter("ignore")
    from asammdf import MDF

    try:
        with MDF(source) as file:
            arrays, about = _largest_group(file, Path(source).stat().st_size)
        np.savez(target, about=np.array(json.dumps(about)), **arrays)  # type: ignore[arg-type]
    except Exception as error:  # whatever a broken file makes the library do ends here, in words
        print(f"{error}" or type(error).__name__, file=sys.stderr)
        return 1
    return 0


def _largest_group(file: Any, size: int) -> tuple[dict[str, NDArray[Any]], dict[str, Any]]:
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
    about = {"names": list(together), "units": named, "left_out": left_out, "description": _attached(file)}
    return {f"s{k}": samples for k, samples in enumerate(together.values())}, about


def _attached(file: Any) -> str | None:
    for index, block in enumerate(file.attachments):
        if Path(str(block.file_name)).name == _DESCRIPTION:
            content = file.extract_attachment(index=index)[0]
            return content if isinstance(content, str) else bytes(content).decode("utf-8", errors="replace")
    return None


if __name__ == "__main__":
    sys.exit(main(sys.argv[1], sys.argv[2]))
