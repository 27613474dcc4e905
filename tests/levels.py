"""Which tests run at which level of ``./check``; the table of levels stands in CONTRIBUTING.md.

``quick`` runs what the stored durations call fast. ``normal`` runs everything but the tests marked ``exhaustive``,
and of those the files whose own packages have changed since they were last green. ``all`` runs everything.
"""

from __future__ import annotations

import ast
import functools
import hashlib
import json
import os
from collections import defaultdict
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

import grimp
import pytest

__all__ = ["LEVELS", "Record", "examples", "is_fast", "own_packages", "own_packages_hash", "select"]

LEVELS = ("quick", "normal", "all")
ROOT = Path(__file__).resolve().parents[1]
DURATIONS = Path(__file__).with_name("durations.json")
GREEN = Path(__file__).with_name("green.json")
FAST_S = 0.15
"""A test that takes longer, set-up included, is not part of the quick level."""
_SHOWN_S = 0.1
"""Shorter durations are not stored: the file stays small, and a new test counts as fast until it was measured."""


def examples(normal: int, exhaustive: int) -> int:
    """How many generated examples a test tries: fewer, unless everything is tested."""
    return exhaustive if os.environ.get("PHASKO_LEVEL") == "all" else normal


def select(items: list[pytest.Item], level: str) -> tuple[list[pytest.Item], list[pytest.Item]]:
    """Divide collected tests into those that run at a level and those that do not."""
    if level == "all":
        return items, []
    if level == "quick":
        slow = _stored(DURATIONS)
        runs = [is_fast(item, slow) for item in items]
    else:
        green = _stored(GREEN)
        runs = [not _is_exhaustive(item) or not _is_green(item, green) for item in items]
    chosen = [item for item, run in zip(items, runs, strict=True) if run]
    return chosen, [item for item, run in zip(items, runs, strict=True) if not run]


def is_fast(item: pytest.Item, durations_s: dict[str, float]) -> bool:
    """Whether the stored durations call a test fast.

    A file with a slow set-up stands there under its own name: what its tests share is made for whichever comes first.
    """
    if _is_exhaustive(item) or item.get_closest_marker("browser") is not None:
        return False
    return max(durations_s.get(item.nodeid, 0.0), durations_s.get(_file_of(item.nodeid), 0.0)) <= FAST_S


def _is_exhaustive(item: pytest.Item) -> bool:
    return item.get_closest_marker("exhaustive") is not None


def _is_green(item: pytest.Item, green: dict[str, str]) -> bool:
    file = _file_of(item.nodeid)
    return green.get(file) == own_packages_hash(file)


def _file_of(nodeid: str) -> str:
    return nodeid.partition("::")[0]


def _stored(path: Path) -> dict[str, Any]:
    return json.loads(path.read_text(encoding="utf-8")) if path.is_file() else {}


@functools.cache
def own_packages_hash(file: str) -> str:
    """SHA-256 over a test file and everything that belongs to its own packages."""
    total = hashlib.sha256((ROOT / file).read_bytes())
    for place in own_packages(file):
        for path in _files_of(ROOT / place):
            total.update(f"{path.relative_to(ROOT).as_posix()}\n".encode())
            total.update(hashlib.sha256(path.read_bytes()).digest())
    return total.hexdigest()


@functools.cache
def own_packages(file: str) -> tuple[str, ...]:
    """The packages that a test is about, as paths below the root, sorted.

    They are those that the test file imports, directly or through helpers of tests and trials, and what it names itself
    in ``OWN_PLACES``, for what no import shows: screens, scripts, locks.
    """
    places: set[str] = set()
    waiting, seen = [ROOT / file], set()
    while waiting:
        path = waiting.pop()
        if path in seen:
            continue
        seen.add(path)
        tree = ast.parse(path.read_text(encoding="utf-8"))
        places.update(_named_places(tree))
        for module in _imported(tree):
            if module.startswith("tests."):
                helper = ROOT / Path(*module.split("."))
                waiting += [p for p in (helper.with_suffix(".py"), helper / "__init__.py") if p.is_file()]
            elif module.startswith("trials"):
                places.update(_places_of_trial(module))
            elif module.startswith("phasko"):
                places.add(_place(module))
    return tuple(sorted(places))


def _named_places(tree: ast.Module) -> Iterator[str]:
    for node in tree.body:
        if isinstance(node, ast.Assign) and any(getattr(target, "id", "") == "OWN_PLACES" for target in node.targets):
            yield from ast.literal_eval(node.value)


def _imported(tree: ast.Module) -> Iterator[str]:
    for node in ast.walk(tree):
        if isinstance(node, ast.Import):
            yield from (name.name for name in node.names)
        elif isinstance(node, ast.ImportFrom) and node.module:
            yield from (f"{node.module}.{name.name}" for name in node.names)


@functools.cache
def _graph() -> grimp.ImportGraph:
    return grimp.build_graph("phasko", "trials", cache_dir=None)


def _places_of_trial(name: str) -> Iterator[str]:
    """The trial's own folder, and the packages that it and the trials below it import."""
    yield "trials"
    graph = _graph()
    module = name if name in graph.modules else name.rpartition(".")[0]
    if module not in graph.modules:
        return
    trials = {module, *(m for m in graph.find_upstream_modules(module) if m.startswith("trials"))}
    for trial in trials:
        for imported in graph.find_modules_directly_imported_by(trial):
            if imported.startswith("phasko"):
                yield _place(imported)


def _place(module: str) -> str:
    """The package of a module as a path: ``src/phasko/core/phase``, ``src/phasko/web``."""
    parts = module.split(".")
    depth = 3 if parts[1:2] == ["core"] else 2
    place = Path("src", *parts[:depth])
    if (ROOT / place).is_dir():
        return place.as_posix()
    as_file = place.with_suffix(".py")
    return (as_file if (ROOT / as_file).is_file() else place.parent).as_posix()


def _files_of(place: Path) -> Iterable[Path]:
    if place.is_file():
        return [place]
    skipped = ("__pycache__", "static", "node_modules")
    return sorted(p for p in place.rglob("*") if p.is_file() and not any(part in skipped for part in p.parts))


class Record:
    """What a run says of its tests, for the files beside this one: durations, and which files were green."""

    def __init__(self) -> None:
        self._seconds: dict[str, float] = defaultdict(float)
        self._set_up: dict[str, float] = defaultdict(float)
        self._failed: set[str] = set()
        self._exhaustive: set[str] = set()

    def pytest_runtest_logreport(self, report: pytest.TestReport) -> None:
        file = _file_of(report.nodeid)
        self._seconds[report.nodeid] += report.duration
        if report.when == "setup":
            self._set_up[file] = max(self._set_up[file], report.duration)
        if report.failed:
            self._failed.add(file)
        if "exhaustive" in report.keywords:
            self._exhaustive.add(file)

    def pytest_sessionfinish(self) -> None:
        green = _stored(GREEN)
        for file in self._exhaustive:
            green.pop(file, None)
            if file not in self._failed:
                green[file] = own_packages_hash(file)
        _store(GREEN, {file: value for file, value in green.items() if (ROOT / file).is_file()})
        seconds = self._seconds | {file: s for file, s in self._set_up.items() if s > FAST_S}
        slow = {name: s for name, s in _stored(DURATIONS).items() if _file_of(name) not in self._set_up}
        slow |= {name: s for name, s in _stored(DURATIONS).items() if name not in seconds and "::" in name}
        slow |= {name: round(s, 1) for name, s in seconds.items() if s >= _SHOWN_S}
        _store(DURATIONS, {name: s for name, s in slow.items() if (ROOT / _file_of(name)).is_file()})


def _store(path: Path, values: dict[str, Any]) -> None:
    path.write_text(json.dumps(dict(sorted(values.items())), indent=0) + "\n", encoding="utf-8")
