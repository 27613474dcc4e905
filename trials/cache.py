"""Results of slow functions, kept on disk between test runs and shared by all workers.

A result is found again by the name of the function, its arguments, and a hash of the code that it depends on: the
module of the function and everything that this module imports, directly or not, with the versions of all packages. When
any of that changes, the result is made anew; nothing is ever declared by hand, so nothing can be forgotten.

Examples
--------
>>> from trials.cache import cached_on_disk
>>> @cached_on_disk
... def recorded(seed: int) -> float:
...     return 0.5 * seed
>>> recorded(3)
1.5
"""

from __future__ import annotations

import dataclasses
import functools
import hashlib
import os
import pickle
import sys
import time
from collections.abc import Callable, Iterable, Mapping
from enum import Enum
from pathlib import Path
from typing import Any, ParamSpec, TypeVar

import grimp
import numpy as np
from numcodecs.zstd import Zstd
from pydantic import BaseModel

__all__ = ["cache_folder", "cached_on_disk", "code_of", "forget_old_entries", "hash_of_arguments", "hash_of_modules"]

P = ParamSpec("P")
R = TypeVar("R")

ROOT = Path(__file__).resolve().parents[1]
PACKAGES = ("phasko", "trials")
LOCK = ROOT / "requirements-check.lock"
LARGEST_BYTES = 6 << 30
OLDEST_S = 21 * 86400.0
_PACKER = Zstd(level=1)


def cache_folder() -> Path:
    """The folder of all entries: ``PHASKO_TEST_CACHE``, else below the user's cache folder. Another clone of the same
    code finds the same entries there."""
    chosen = os.environ.get("PHASKO_TEST_CACHE")
    if chosen:
        return Path(chosen)
    return Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "phasko-tests"


def cached_on_disk(function: Callable[P, R]) -> Callable[P, R]:
    """Keep the results of a function on disk.

    The function must depend on nothing but its arguments and the code that its module imports; arguments and result
    must be what ``hash_of_arguments`` and ``pickle`` know. Every caller gets a copy of its own.
    """

    @functools.wraps(function)
    def remembered(*args: P.args, **kwargs: P.kwargs) -> R:
        parts = (f"{function.__module__}.{function.__qualname__}", code_of(function.__module__))
        key = hashlib.sha256(repr((*parts, hash_of_arguments(*args, **kwargs))).encode()).hexdigest()
        path = cache_folder() / key[:2] / key
        try:
            result: R = pickle.loads(_PACKER.decode(path.read_bytes()))
        except Exception:  # not there, cut off by a kill, or written by a library that reads it no longer
            result = function(*args, **kwargs)
            _write(path, _PACKER.encode(pickle.dumps(result, protocol=5)))
            return result
        # The time of the last use decides which entries go first.
        os.utime(path)
        return result

    return remembered


def _write(path: Path, data: bytes) -> None:
    """Another worker may be writing the same: whoever comes last replaces it with the same bytes."""
    path.parent.mkdir(parents=True, exist_ok=True)
    part = path.with_name(f"{path.name}.{os.getpid()}")
    part.write_bytes(data)
    part.replace(path)


def forget_old_entries(folder: Path, largest_bytes: int = LARGEST_BYTES, oldest_s: float = OLDEST_S) -> None:
    """Remove entries that were not used for long, and the longest unused ones while all together are too large."""
    entries = []
    for path in folder.glob("??/*"):
        try:
            found = path.stat()
        except FileNotFoundError:
            continue
        entries.append((found.st_mtime, found.st_size, path))
    total, now = 0, time.time()
    for used, size, path in sorted(entries, reverse=True):
        total += size
        if total > largest_bytes or now - used > oldest_s:
            path.unlink(missing_ok=True)


@functools.cache
def code_of(module: str) -> str:
    """Hash of a module, of everything that it imports, and of the versions of Python and all packages.

    Raises
    ------
    ValueError
        For a module outside ``phasko`` and ``trials``: what it imports is not known, so its results would go stale.
    """
    graph = _graph()
    if module not in graph.modules:
        raise ValueError(f"{module} lies outside {' and '.join(PACKAGES)}: move the function to trials/")
    return hash_of_modules({module, *graph.find_upstream_modules(module)}, ROOT / "src", ROOT)


@functools.cache
def _graph() -> grimp.ImportGraph:
    # Its own cache goes by the times of files, which a checkout may set to anything.
    return grimp.build_graph(*PACKAGES, cache_dir=None)


def hash_of_modules(modules: Iterable[str], *roots: Path) -> str:
    """SHA-256 over the sources of modules, and over the data files that lie beside them.

    Parameters
    ----------
    modules : iterable of str
        Dotted names.
    roots : Path
        Folders in which the packages lie.

    Raises
    ------
    ValueError
        For a module of which there is no source below the roots.
    """
    total = hashlib.sha256(sys.version.encode())
    total.update(LOCK.read_bytes())
    files: set[Path] = set()
    for name in modules:
        source = _source(name, roots)
        files.add(source)
        data = (path for path in source.parent.iterdir() if path.suffix in (".json", ".toml", ".csv", ".yaml"))
        files.update(data)
    for path in sorted(files):
        total.update(f"{path.name}\n{_digest(path)}\n".encode())
    return total.hexdigest()


def _source(name: str, roots: Iterable[Path]) -> Path:
    parts = Path(*name.split("."))
    for root in roots:
        for path in (root / parts.with_suffix(".py"), root / parts / "__init__.py"):
            if path.is_file():
                return path
    raise ValueError(f"There is no source of {name}")


@functools.cache
def _digest(path: Path) -> str:
    return hashlib.sha256(path.read_bytes()).hexdigest()


def hash_of_arguments(*args: Any, **kwargs: Any) -> str:
    """Hash of values: numbers, texts, arrays, collections, enumerations, dataclasses and Pydantic models of them.

    Raises
    ------
    TypeError
        For any other kind: two that differ might look alike.
    """
    total = hashlib.blake2b(digest_size=32)
    _feed(total, args)
    _feed(total, kwargs)
    return total.hexdigest()


def _feed(total: Any, value: Any) -> None:
    """Every value is preceded by its kind and ended, so that no two different values give the same bytes."""
    total.update(f"<{type(value).__module__}.{type(value).__qualname__}>".encode())
    if value is None or (
        isinstance(value, (bool, int, float, complex, str, bytes, np.generic)) and not isinstance(value, Enum)
    ):
        total.update(repr(value).encode())
    elif isinstance(value, Enum):
        total.update(value.name.encode())
    elif isinstance(value, np.ndarray):
        total.update(f"{value.dtype.str}{value.shape}".encode())
        total.update(np.ascontiguousarray(value).tobytes())
    elif isinstance(value, BaseModel):
        total.update(value.model_dump_json(by_alias=True).encode())
    elif dataclasses.is_dataclass(value):
        for field in dataclasses.fields(value):
            total.update(field.name.encode())
            _feed(total, getattr(value, field.name))
    elif isinstance(value, Mapping):
        for key, item in value.items():
            _feed(total, key)
            _feed(total, item)
    elif isinstance(value, (tuple, list)):
        for item in value:
            _feed(total, item)
    elif isinstance(value, (set, frozenset)):
        total.update(repr(sorted(hash_of_arguments(item) for item in value)).encode())
    else:
        raise TypeError(f"{type(value).__qualname__} cannot be part of a key")
    total.update(b"</>")
