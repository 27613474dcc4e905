"""Which code made a result: a hash over every module that decides what a result says.

A version number moves once a release; the estimator and its numbers change with every commit. Results are keyed by this
hash, so that a result of other code is never shown as if this code had made it.

Examples
--------
>>> from phasko.code_hash import code_hash
>>> len(code_hash())
64
"""

from __future__ import annotations

import hashlib
from functools import cache
from pathlib import Path

import numpy
import scipy

from phasko import __version__

__all__ = ["SHORT", "code_hash", "decides_results", "hash_of_sources", "software_label"]

SHORT = 12
"""Digits of the hash that are shown to people."""

_SOURCES = Path(__file__).parent
_DECIDING = ("core", "formats", "readers", "jobs/measured.py", "jobs/analysing.py", "jobs/looking.py")
"""Folders and modules, relative to the package: reading a file, measuring it, judging a job."""
_NOT_DECIDING = frozenset(
    f"core/{name}"
    for name in ("calibration", "handover", "hookup", "population", "practice", "why", "glossary.py", "revisions.py")
)
"""What is said about a result once it stands: papers, lessons, statistics."""


@cache
def code_hash() -> str:
    """SHA-256 of this installation's deciding modules and of the numerical libraries' versions, as 64 hex digits."""
    return hash_of_sources(_SOURCES, (numpy.__version__, scipy.__version__))


def software_label() -> str:
    """Version and the first digits of the code's hash, as ``phasko 0.3.0+3f2a1b9c4d5e``."""
    return f"phasko {__version__}+{code_hash()[:SHORT]}"


def decides_results(module: str) -> bool:
    """Return whether a module, by its dotted name below ``phasko``, is part of the hash."""
    path = "/".join(module.split(".")[1:])
    names = (path, f"{path}.py")
    return any(_within(name, _DECIDING) for name in names) and not any(_within(name, _NOT_DECIDING) for name in names)


def hash_of_sources(package: Path, libraries: tuple[str, ...] = ()) -> str:
    """SHA-256 over names and contents of the deciding files below a package's folder, as 64 hex digits.

    Parameters
    ----------
    package : Path
        Folder of the package ``phasko``.
    libraries : tuple of str
        Versions of the libraries that compute for it.
    """
    total = hashlib.sha256("\n".join(libraries).encode())
    for path in sorted(package.rglob("*")):
        name = path.relative_to(package).as_posix()
        if path.is_file() and path.suffix not in (".pyc", ".nbi", ".nbc") and _is_deciding(name):
            total.update(f"{name}\n{hashlib.sha256(path.read_bytes()).hexdigest()}\n".encode())
    return total.hexdigest()


def _is_deciding(name: str) -> bool:
    return _within(name, _DECIDING) and not _within(name, _NOT_DECIDING)


def _within(name: str, places: tuple[str, ...] | frozenset[str]) -> bool:
    return any(name == place or name.startswith(f"{place}/") for place in places)
