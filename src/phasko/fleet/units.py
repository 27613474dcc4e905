"""What there is to analyse: one unit is what one call is made of, found in folders of files or in a workshop."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Iterator, Sequence
from contextlib import closing
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from phasko.code_hash import code_hash
from phasko.core import numbers
from phasko.core.errors import NotFoundError, RefusedError
from phasko.store import Database
from phasko.store.database import FILE_NAME

__all__ = ["Bad", "Found", "Unit", "found_units"]

CAPTURE_ENDING = ".capture.json"


@dataclass(frozen=True, slots=True)
class Unit:
    """What one call is made of: the captures of a folder with their engine and job document, or a stored job.

    ``key`` changes whenever anything changes that the result rests on: names, sizes and times of its files, or what is
    stored of the job; the software and its numbers. ``workshop``: where ``job_id`` is stored; without one the files
    are ``captures``, ``engine``, ``job`` (paths).
    """

    key: str
    name: str
    captures: tuple[str, ...]
    engine: str = ""
    job: str = ""
    workshop: str = ""
    job_id: int = 0


@dataclass(frozen=True, slots=True)
class Bad:
    """A file or job that cannot be analysed, and why."""

    name: str
    reason: str


@dataclass(frozen=True, slots=True)
class Found:
    """Everything that there is, in a fixed order."""

    units: tuple[Unit, ...]
    bad: tuple[Bad, ...]


def found_units(sources: Sequence[Path]) -> Found:
    """All units of these folders and workshops, each once. Raises NotFoundError for a source that there is not, and
    RefusedError where there is nothing at all."""
    units: dict[str, Unit] = {}
    bad: list[Bad] = []
    for source in sources:
        for one in _of_source(source):
            if isinstance(one, Bad):
                bad.append(one)
            else:
                units.setdefault(one.key, one)
    if not units and not bad:
        raise RefusedError(
            "There is nothing to analyse here",
            place=", ".join(str(source) for source in sources),
            remedy="Give a folder with NAME.capture.json files and an engine profile, or a workshop's folder.",
        )
    return Found(tuple(sorted(units.values(), key=lambda unit: (unit.name, unit.key))), tuple(bad))


def _of_source(source: Path) -> Iterator[Unit | Bad]:
    if not source.exists():
        raise NotFoundError("There is no such folder", place=str(source))
    folder = source.parent if source.name == FILE_NAME else source
    if (folder / FILE_NAME).is_file():
        yield from _of_workshop(folder.resolve())
    else:
        yield from _of_folder(folder.resolve())


def _of_workshop(folder: Path) -> Iterator[Unit | Bad]:
    # Only where there is a workshop: reading files needs none of it.
    from phasko.fleet.stored import stored_units

    with closing(Database(folder)) as database:
        yield from stored_units(database, folder)


def _of_folder(top: Path) -> Iterator[Unit | Bad]:
    """Every folder below with captures: each capture is a unit of its own, or all of them are one job where a job
    document lies beside them."""
    documents = cache(_documents)  # a folder with thousands of others in it is looked at once
    made_by = f"{code_hash()}\n{numbers.digest()}"
    for folder in sorted({path.parent for path in top.rglob(f"*{CAPTURE_ENDING}")}):
        captures = sorted(folder.glob(f"*{CAPTURE_ENDING}"))
        engine = _engine_of(folder, top, documents)
        name = str(folder.relative_to(top.parent))
        if isinstance(engine, str):
            yield from (Bad(f"{name}/{path.name}", engine) for path in captures)
            continue
        job = documents(folder).get("phasko.job/1", [])
        if len(job) == 1:
            yield _file_unit(name, captures, engine, job[0], made_by)
        else:
            for path in captures:
                own = path.name.removesuffix(CAPTURE_ENDING)
                yield _file_unit(f"{name}/{own}", [path], engine, None, made_by)


def _engine_of(folder: Path, top: Path, documents: Callable[[Path], dict[str, list[Path]]]) -> Path | str:
    """The one engine profile in this folder or the nearest one above it; why there is none, else."""
    here = folder
    while True:
        found = documents(here).get("phasko.engine/1", [])
        if len(found) == 1:
            return found[0]
        if found:
            return f"{len(found)} engine profiles lie beside it: one is needed"
        if here == top:
            return "no engine profile lies beside it or in a folder above it"
        here = here.parent


def _documents(folder: Path) -> dict[str, list[Path]]:
    """The JSON files of a folder by what they say that they are."""
    found: dict[str, list[Path]] = {}
    for path in sorted(folder.glob("*.json")):
        found.setdefault(_schema_of(path), []).append(path)
    return found


def _schema_of(path: Path) -> str:
    """What a JSON file says that it is; empty for anything else. A description of a capture says so by its name."""
    if path.name.endswith(CAPTURE_ENDING) or path.stat().st_size > _LARGEST_DOCUMENT:
        return ""
    try:
        said = json.loads(path.read_bytes())
    except (OSError, ValueError):
        return ""
    return str(said.get("schema", "")) if isinstance(said, dict) else ""


_LARGEST_DOCUMENT = 4_000_000


def _file_unit(name: str, captures: Sequence[Path], engine: Path, job: Path | None, made_by: str) -> Unit:
    parts = [made_by, *(_stamp(path) for path in (engine, job) if path is not None)]
    for path in captures:
        parts += [_stamp(path), *(_stamp(data) for data in [_data_of(path)] if data is not None)]
    key = hashlib.sha256("\n".join([name, *parts]).encode()).hexdigest()
    return Unit(key, name, tuple(str(path) for path in captures), str(engine), str(job) if job else "")


def _data_of(path: Path) -> Path | None:
    """The samples that a description names; ``None`` where it cannot be read or they are not there."""
    try:
        said = json.loads(path.read_bytes())
        data = path.parent / Path(str(said["data"])).name
    except (OSError, ValueError, KeyError, TypeError):
        return None
    return data if data.is_file() else None


def _stamp(path: Path) -> str:
    """A file as it stands: reading all of tens of thousands only to hash them would take as long as measuring them."""
    seen = path.stat()
    return f"{path.name} {seen.st_size} {seen.st_mtime_ns}"
