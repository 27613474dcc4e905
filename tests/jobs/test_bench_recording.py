"""Recording on the bench into files: what is refused, what is written, the same files for the same sheet."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from phasko.core.errors import DataError, DocumentError, RefusedError
from phasko.jobs.bench_recording import bench_engines, record_to_folder
from tests.builders import COARSE_FOUR

SHEET = {
    "schema": "phasko.bench/1",
    "engine": COARSE_FOUR,
    "seed": 8,
    "faults": {"drive": {"elongation_percent": 0.7, "slipped_deg": {"B1E": 2.0}}},
    "scenario": {"duration_s": 1.4, "throttle": 1.0},
    "probes": [{"role": "crank"}, {"role": "cam", "cam": "B1E"}],
    "scope": {"rate_hz": 10000, "bits": 10},
}


@pytest.fixture
def sheet(tmp_path: Path) -> Path:
    path = tmp_path / "sheet.json"
    path.write_text(json.dumps(SHEET))
    return path


def test_four_files_come_out(sheet: Path, tmp_path: Path) -> None:
    paths = record_to_folder(sheet, None, tmp_path / "out", "made")
    assert sorted(path.name for path in paths) == [
        "made.capture.json",
        "made.csv",
        "made.engine.json",
        "made.truth.json",
    ]
    assert all(path.stat().st_size > 100 for path in paths)


def test_the_same_sheet_gives_the_same_bytes(sheet: Path, tmp_path: Path) -> None:
    one, two = (record_to_folder(sheet, None, tmp_path / folder, "made") for folder in ("one", "two"))
    for a, b in zip(one, two, strict=True):
        assert a.read_bytes() == b.read_bytes(), a.name


def test_the_truth_repeats_what_was_set(sheet: Path, tmp_path: Path) -> None:
    record_to_folder(sheet, None, tmp_path, "made")
    truth = json.loads((tmp_path / "made.truth.json").read_text())
    assert truth["faults"]["drive"]["elongation_percent"] == 0.7
    assert truth["faults"]["drive"]["slipped_deg"] == {"B1E": 2.0}
    assert truth["valves_deg"]["B1I"] > 4.0
    assert set(truth["peaks_bar"]) == {"1", "2", "3", "4"}


def test_the_description_keeps_the_truth_to_itself(sheet: Path, tmp_path: Path) -> None:
    record_to_folder(sheet, None, tmp_path, "made")
    described = (tmp_path / "made.capture.json").read_text()
    assert "elongation" not in described
    assert "seed" not in described


def test_a_healthy_engine_needs_no_sheet(tmp_path: Path) -> None:
    paths = record_to_folder(None, COARSE_FOUR, tmp_path, "healthy")
    described = json.loads(paths[1].read_text())
    assert [channel["role"] for channel in described["channels"]] == ["crank", "cam", "cam", "starter_current"]


@pytest.mark.parametrize("name", ["", "../up", "a/b"])
def test_a_name_is_a_plain_name(tmp_path: Path, name: str) -> None:
    with pytest.raises(RefusedError, match="no plain file name"):
        record_to_folder(None, COARSE_FOUR, tmp_path, name)


def test_either_a_sheet_or_an_engine(sheet: Path, tmp_path: Path) -> None:
    with pytest.raises(RefusedError, match="either a sheet or"):
        record_to_folder(sheet, COARSE_FOUR, tmp_path, "x")
    with pytest.raises(RefusedError, match="either a sheet or"):
        record_to_folder(None, None, tmp_path, "x")


def test_a_sheet_that_is_not_there_and_an_engine_that_is_not_there(tmp_path: Path) -> None:
    with pytest.raises(DataError, match=r"none\.json"):
        record_to_folder(tmp_path / "none.json", None, tmp_path, "x")
    with pytest.raises(DocumentError, match="no pool engine"):
        record_to_folder(None, "unheard-of", tmp_path, "x")


def test_the_list_has_every_kind_of_engine() -> None:
    names = bench_engines()
    assert len(names) >= 9
    for kind in ("triple", "five", "straight-six", "odd-six", "eight", "flat-four", "distributor", "diesel", "even"):
        assert any(kind in name for name in names), kind
