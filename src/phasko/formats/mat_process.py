"""Reads one level 5 MAT file into plain arrays, as a process of its own: ``python -m phasko.formats.mat_process``."""

from __future__ import annotations

import json
import resource
import sys
import warnings
from collections.abc import Iterator
from typing import Any

import numpy as np
from numpy.typing import NDArray

from phasko.formats.series import columns_of

__all__ = ["main"]

_MEMORY_BYTES = 6 << 30


def main(source: str, target: str) -> int:
    """0 and the arrays in ``target``, or 1 and the reason as the last line of standard error."""
    resource.setrlimit(resource.RLIMIT_AS, (_MEMORY_BYTES, _MEMORY_BYTES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    warnings.simplefilter("ignore")
    from scipy.io import loadmat

    try:
        found = loadmat(source, squeeze_me=True, struct_as_record=False)
        series: dict[str, NDArray[Any]] = {}
        scalars: dict[str, float] = {}
        for name, values in _leaves({key: value for key, value in found.items() if not key.startswith("__")}):
            if values.dtype.kind not in "fiub":
                continue
            if values.size == 1:
                scalars[name.rsplit(".", 1)[-1]] = float(np.ravel(values)[0])
            series |= dict(columns_of(name, values))
        about = {"names": list(series), "scalars": {key: value for key, value in scalars.items() if np.isfinite(value)}}
        arrays = {f"s{k}": values for k, values in enumerate(series.values())}
        np.savez(target, about=np.array(json.dumps(about)), **arrays)  # type: ignore[arg-type]
    except Exception as error:  # whatever a broken file makes the library do ends here, in words
        print(f"{error}" or type(error).__name__, file=sys.stderr)
        return 1
    return 0


def _leaves(variables: dict[str, object], before: str = "", depth: int = 0) -> Iterator[tuple[str, NDArray[Any]]]:
    for key, value in variables.items():
        if hasattr(value, "_fieldnames") and depth < 3:
            fields = {name: getattr(value, name) for name in value._fieldnames}
            yield from _leaves(fields, f"{before}{key}.", depth + 1)
        elif isinstance(value, (np.ndarray, np.generic, int, float)):
            yield f"{before}{key}", np.asarray(value)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1], sys.argv[2]))
