"""What a fleet is made of: found in folders and workshops, each once, with a reason for what cannot be."""

import json
import shutil
from pathlib import Path

import pytest

from phasko.core.errors import NotFoundError, RefusedError
from phasko.fleet.units import found_units


def test_every_capture_of_a_folder_is_a_unit_and_the_nearest_engine_is_its(fleet_folder: Path) -> None:
    found = found_units([fleet_folder])
    assert [unit.name for unit in found.units] == [
        "island/jumped/late",
        *(f"island/sound/car{i}" for i in range(6)),
        "island/sound/torn",
    ]
    assert {Path(unit.engine).parent.name for unit in found.units} == {"jumped", "sound"}
    assert found.bad == ()


def test_an_engine_may_lie_above_and_a_folder_without_one_is_told(fleet_folder: Path, tmp_path: Path) -> None:
    top = tmp_path / "top"
    shutil.copytree(fleet_folder / "sound", top / "deep" / "deeper")
    shutil.move(top / "deep" / "deeper" / "engine.json", top / "engine.json")
    assert {Path(unit.engine).parent for unit in found_units([top]).units} == {top.resolve()}
    (top / "engine.json").unlink()
    bad = found_units([top]).bad
    assert len(bad) == 7
    assert {one.reason for one in bad} == {"no engine profile lies beside it or in a folder above it"}


def test_two_engines_beside_a_capture_are_one_too_many(fleet_folder: Path, tmp_path: Path) -> None:
    shutil.copytree(fleet_folder / "jumped", tmp_path / "two")
    shutil.copy(tmp_path / "two" / "engine.json", tmp_path / "two" / "other.json")
    (bad,) = found_units([tmp_path / "two"]).bad
    assert "2 engine profiles" in bad.reason


def test_a_job_document_makes_one_unit_of_its_folder(fleet_folder: Path, tmp_path: Path) -> None:
    shutil.copytree(fleet_folder / "sound", tmp_path / "job", ignore=shutil.ignore_patterns("torn*"))
    told = {"schema": "phasko.job/1", "complaint": {"text": "Weak", "distance_km": 91_000}}
    (tmp_path / "job" / "told.json").write_text(json.dumps(told), encoding="utf-8")
    (unit,) = found_units([tmp_path / "job"]).units
    assert len(unit.captures) == 6
    assert Path(unit.job).name == "told.json"


def test_a_key_is_new_once_a_file_is_and_the_same_until_then(fleet_folder: Path, tmp_path: Path) -> None:
    shutil.copytree(fleet_folder / "jumped", tmp_path / "one")
    before = found_units([tmp_path / "one"]).units[0].key
    assert found_units([tmp_path / "one", tmp_path / "one"]).units[0].key == before, "named twice it is there once"
    assert len(found_units([tmp_path / "one", tmp_path / "one"]).units) == 1
    for changed in ("late.csv", "engine.json", "late.capture.json"):
        file = tmp_path / "one" / changed
        file.write_bytes(file.read_bytes() + b"\n")
        after = found_units([tmp_path / "one"]).units[0].key
        assert after != before, changed
        before = after


def test_nothing_and_nowhere_are_told(tmp_path: Path) -> None:
    with pytest.raises(RefusedError, match="nothing to analyse"):
        found_units([tmp_path])
    with pytest.raises(NotFoundError):
        found_units([tmp_path / "nowhere"])
