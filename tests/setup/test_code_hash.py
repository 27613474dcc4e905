"""Results know their code: the hash covers every module that decides one, and other code is seen at once."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
from pathlib import Path

import grimp
import pytest

from phasko.code_hash import code_hash, decides_results, hash_of_sources, software_label
from phasko.jobs.analysing import analyse_stored_job
from phasko.store import Database
from tests.builders import job_with_capture

PACKAGE = Path(__file__).parents[2] / "src" / "phasko"
DOORS = ("phasko.core.analyse", "phasko.formats.capture_files", "phasko.formats.scan_log")
ELSEWHERE = {"phasko", "phasko.code_hash"}
"""The version, and the hash itself."""


def test_every_module_that_a_result_needs_is_part_of_the_hash() -> None:
    graph = grimp.build_graph("phasko", cache_dir=None)
    needed = {*DOORS} | {module for door in DOORS for module in graph.find_upstream_modules(door)}
    assert len(needed) > 200
    assert sorted(module for module in needed - ELSEWHERE if not decides_results(module)) == []
    # What only measures stored captures and joins them to a job decides too.
    assert decides_results("phasko.jobs.measured") and decides_results("phasko.jobs.analysing")


def test_papers_and_lessons_make_no_result_stale() -> None:
    assert not any(map(decides_results, ("phasko.core.handover.compose", "phasko.core.practice", "phasko.web.app")))


@pytest.fixture
def copy(tmp_path: Path) -> Path:
    target = tmp_path / "code" / "phasko"
    shutil.copytree(PACKAGE, target, ignore=shutil.ignore_patterns("static", "__pycache__"))
    return target


def change(package: Path, file: str, old: str, new: str) -> None:
    path = package / file
    text = path.read_text(encoding="utf-8")
    assert text.count(old) == 1, f"{file} holds {old!r} {text.count(old)} times"
    path.write_text(text.replace(old, new), encoding="utf-8")


NUMBER = ("core/numbers/priors.py", "PRIOR_CHAIN_JUMPED = Entry(0.", "PRIOR_CHAIN_JUMPED = Entry(0.0")
ESTIMATOR = ("core/phase/offset.py", "Measurement(stats.mean, u95", "Measurement(stats.mean + 0.5, u95")


def test_a_comment_elsewhere_changes_nothing_and_a_line_of_an_estimator_does(copy: Path) -> None:
    before = hash_of_sources(copy)
    with (copy / "web" / "app.py").open("a", encoding="utf-8") as file:
        file.write("# nothing\n")
    assert hash_of_sources(copy) == before
    with (copy / "core" / "phase" / "offset.py").open("a", encoding="utf-8") as file:
        file.write("# nothing\n")
    assert hash_of_sources(copy) != before


READ = """
import json, sys
from contextlib import closing
from pathlib import Path
from phasko.code_hash import code_hash
from phasko.jobs.analysing import analyse_stored_job, judged, rests_on
from phasko.store import Database

with closing(Database(Path(sys.argv[1]))) as database:
    shown = analyse_stored_job(database, 1)
    with database.reading() as session:
        rests = rests_on(session, 1)
    now = judged(database, rests)
print(json.dumps({
    "code": code_hash(),
    "older": shown.older,
    "code_shown": shown.analysis.provenance.code,
    "chance": now.verdict.faults[0].probability,
    "offset": now.captures[0].cams[0].offset_deg,
}))
"""


def read_with(code: Path, workshop: Path) -> dict[str, object]:
    """What an installation with that code shows of the job, and what it would say itself."""
    there = os.environ | {"PYTHONPATH": str(code)}
    told = subprocess.run(
        [sys.executable, "-c", READ, str(workshop)], env=there, capture_output=True, text=True, check=True
    )
    found: dict[str, object] = json.loads(told.stdout.splitlines()[-1])
    return found


@pytest.mark.parametrize(("changed", "figure"), [(NUMBER, "chance"), (ESTIMATOR, "offset")], ids=["number", "line"])
def test_other_code_shows_a_stored_result_as_older_and_works_it_out_anew(
    database: Database, copy: Path, changed: tuple[str, str, str], figure: str
) -> None:
    job = job_with_capture(database, B1I=17.0, B1E=17.0)
    stored = analyse_stored_job(database, job)
    assert stored is not None and stored.older is None
    same = read_with(copy.parent, database.path.parent)
    assert (same["code"], same["older"]) == (code_hash(), None)
    change(copy, *changed)
    other = read_with(copy.parent, database.path.parent)
    assert other["code"] != code_hash()
    assert other["older"] == software_label().removeprefix("phasko ")
    assert other["code_shown"] == code_hash()
    assert other[figure] != same[figure]
