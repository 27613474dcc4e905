"""The workshop of the demo, filled once for the code as it is, and copied for every server of the tests."""

from __future__ import annotations

import fcntl
import hashlib
import os
import shutil
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import UTC, datetime
from pathlib import Path

from phasko.jobs.demo import fill_demo
from phasko.store import Database
from trials.cache import LOCK, ROOT, cache_folder

__all__ = ["copy_of_filled_demo"]

_PACKAGE = ROOT / "src" / "phasko"
_STATIC = _PACKAGE / "web" / "static"


def copy_of_filled_demo(target: Path) -> None:
    """Copy the demo's workshop into a folder that does not exist yet; fill one first where there is none for this code.

    Filling takes about a minute. Workers that ask at the same time wait for the first of them.
    """
    with _locked():
        shutil.copytree(_filled(), target)


@contextmanager
def _locked() -> Iterator[None]:
    cache_folder().mkdir(parents=True, exist_ok=True)
    with (cache_folder() / "demo.lock").open("w", encoding="ascii") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        yield


def _filled() -> Path:
    """The folder of the filled demo; under the lock."""
    # A simulated instrument runs as a process of its own, which the import graph does not show: every source counts.
    kept = cache_folder() / f"demo-{_hash_of_package()}"
    if not kept.is_dir():
        for older in kept.parent.glob("demo-*"):
            shutil.rmtree(older)
        part = kept.with_name(f"part-{os.getpid()}")
        with closing(Database(part)) as database:
            fill_demo(database)
        part.rename(kept)
    return kept


def _hash_of_package() -> str:
    """Hash of every source of the application but its built page, and of the day, which the jobs of the demo bear."""
    total = hashlib.sha256(LOCK.read_bytes())
    total.update(datetime.now(UTC).date().isoformat().encode())
    for path in sorted(_PACKAGE.rglob("*")):
        if path.is_file() and path.suffix not in (".pyc", ".nbi", ".nbc") and not path.is_relative_to(_STATIC):
            name = path.relative_to(_PACKAGE).as_posix()
            total.update(f"{name}\n{hashlib.sha256(path.read_bytes()).hexdigest()}\n".encode())
    return total.hexdigest()[:32]


if __name__ == "__main__":
    with _locked():
        _filled()
