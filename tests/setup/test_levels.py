"""The levels of the checks: what is left out, and that a change of its own packages brings it back."""

from __future__ import annotations

import ast
import json
from dataclasses import dataclass
from pathlib import Path

import pytest

from tests import levels
from tests.levels import Record, own_packages, select

ROOT = Path(__file__).parents[2]
NAMED = "tests/web/test_patience.py"


@dataclass(frozen=True)
class Item:
    """As much of a collected test as is asked for."""

    nodeid: str
    marks: frozenset[str] = frozenset()

    def get_closest_marker(self, name: str) -> str | None:
        return name if name in self.marks else None


def chosen(level: str, *items: Item) -> list[str]:
    runs, left_out = select(list(items), level)  # type: ignore[arg-type]
    assert len(runs) + len(left_out) == len(items)
    return [item.nodeid for item in runs]


@pytest.fixture
def stored(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    monkeypatch.setattr(levels, "DURATIONS", tmp_path / "durations.json")
    monkeypatch.setattr(levels, "GREEN", tmp_path / "green.json")
    return tmp_path


def test_quick_runs_what_is_fast_or_new_and_no_browser(stored: Path) -> None:
    durations = {"tests/a.py::slow": 3.0, "tests/a.py::fast": 0.1, "tests/slow_set_up.py": 9.0}
    (stored / "durations.json").write_text(json.dumps(durations))
    items = [Item("tests/a.py::slow"), Item("tests/a.py::fast"), Item("tests/a.py::new")]
    items += [Item("tests/slow_set_up.py::first"), Item("tests/b.py::page", frozenset({"browser"}))]
    items += [Item("tests/b.py::long", frozenset({"exhaustive"}))]
    assert chosen("quick", *items) == ["tests/a.py::fast", "tests/a.py::new"]
    assert len(chosen("all", *items)) == len(items)


def test_an_exhaustive_test_runs_until_it_was_green_for_its_packages_as_they_are(
    stored: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    long, usual = Item(f"{NAMED}::long", frozenset({"exhaustive"})), Item(f"{NAMED}::usual")
    assert chosen("normal", long, usual) == [long.nodeid, usual.nodeid]
    (stored / "green.json").write_text(json.dumps({NAMED: levels.own_packages_hash(NAMED)}))
    assert chosen("normal", long, usual) == [usual.nodeid]
    # Any byte of an own package brings it back.
    changed = stored / "package"
    changed.mkdir()
    (changed / "app.py").write_text("changed = 1\n")
    levels.own_packages_hash.cache_clear()
    monkeypatch.setattr(levels, "own_packages", lambda _: (str(changed),))
    monkeypatch.setattr(levels, "_files_of", lambda _: [])
    assert chosen("normal", long, usual) == [long.nodeid, usual.nodeid]
    levels.own_packages_hash.cache_clear()


@pytest.mark.parametrize(
    ("file", "places"),
    [
        ("tests/core/phasers/test_sweep_statistics.py", {"src/phasko/core/phasers", "src/phasko/bench", "trials"}),
        ("tests/web/test_every_endpoint.py", {"src/phasko/web", "src/phasko/store"}),
        ("tests/browser/test_practice.py", {"web/src/features/practice", "src/phasko/jobs/practice"}),
        ("tests/setup/test_wheel.py", {"pyproject.toml", "hatch_build.py", "requirements-run.lock"}),
    ],
)
def test_own_packages_come_from_the_imports_and_from_what_a_file_names(file: str, places: set[str]) -> None:
    assert places <= set(own_packages(file))
    assert "src/phasko/core/call" not in own_packages(file)


def test_every_exhaustive_file_has_own_packages_and_every_place_exists() -> None:
    files = [path for path in (ROOT / "tests").rglob("test_*.py") if "mark.exhaustive" in path.read_text()]
    files = [path for path in files if path.name != Path(__file__).name]
    assert len(files) > 15
    for path in files:
        places = own_packages(path.relative_to(ROOT).as_posix())
        assert places, path
        assert [place for place in places if not (ROOT / place).exists()] == []


def test_nothing_of_the_gate_or_of_lost_data_or_of_people_is_exhaustive() -> None:
    guards = ["tests/core/call", "tests/store", "tests/keeping", "tests/web/test_guard.py", "tests/web/test_people.py"]
    guards += ["tests/web/test_tokens.py", "tests/web/test_hostile_input.py", "tests/jobs/test_kills.py"]
    guards += ["tests/jobs/recording/test_killed_server.py", "tests/browser/test_board.py", "tests/published"]
    for guard in guards:
        place = ROOT / guard
        for path in [place] if place.is_file() else sorted(place.rglob("*.py")):
            tree = ast.parse(path.read_text(encoding="utf-8"))
            marks = {node.attr for node in ast.walk(tree) if isinstance(node, ast.Attribute)}
            assert "exhaustive" not in marks, path


def test_a_failed_file_is_no_longer_green_and_durations_are_kept(stored: Path) -> None:
    (stored / "green.json").write_text(json.dumps({NAMED: "before", "tests/setup/test_wheel.py": "before"}))
    (stored / "durations.json").write_text(json.dumps({f"{NAMED}::other": 2.0, "tests/gone.py::x": 5.0}))
    record = Record()
    for nodeid, outcome in ((f"{NAMED}::long", "failed"), ("tests/setup/test_wheel.py::long", "passed")):
        report = pytest.TestReport(nodeid, ("", 0, ""), {"exhaustive": 1}, outcome, None, "call", duration=1.25)  # type: ignore[arg-type]
        record.pytest_runtest_logreport(report)
    record.pytest_sessionfinish()
    green = json.loads((stored / "green.json").read_text())
    assert green == {"tests/setup/test_wheel.py": levels.own_packages_hash("tests/setup/test_wheel.py")}
    durations = json.loads((stored / "durations.json").read_text())
    assert durations == {f"{NAMED}::long": 1.2, f"{NAMED}::other": 2.0, "tests/setup/test_wheel.py::long": 1.2}


def test_tests_and_benchmarks_know_nothing_of_each_other() -> None:
    """What both need stands in ``trials``, which knows neither."""
    forbidden = {"tests": {"benchmarks"}, "trials": {"tests", "benchmarks"}, "benchmarks": {"tests"}}
    for folder, strange in forbidden.items():
        files = sorted((ROOT / folder).rglob("*.py"))
        assert files
        for path in files:
            tree = ast.parse(path.read_text(encoding="utf-8"))
            assert not {module.split(".")[0] for module in levels._imported(tree)} & strange, path
