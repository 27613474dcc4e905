"""What tables teach: the truth that they were written from, an engine once, and words and documents of it."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from phasko.bench.pool import pool_engine
from phasko.cli import main
from phasko.core import numbers
from phasko.core.errors import NotFoundError
from phasko.fleet.rows import Rows
from phasko.fleet.tables import FleetTables
from phasko.fleet.teaching import _with_half, taught_by, taught_json, taught_lines

ENGINE = pool_engine("corvane-2.1-four")
ELONGATION_PERCENT = 0.05
"""Per 10 000 km."""
INDEX_DEG = 2.6
"""How late the index passes in cars of which it is told."""


def car(number: int, rng: np.random.Generator, *, late_deg: float = 0.0, **about: Any) -> Rows:
    """One car's rows as measuring them would have made them: edges half a degree late, a chain that grows."""
    assert ENGINE.drive is not None and ENGINE.drive.crank_sprocket_teeth is not None
    pitch_deg = 360.0 / ENGINE.drive.crank_sprocket_teeth
    km = float(rng.uniform(5_000.0, 200_000.0))
    common = {"unit": f"u{number}", "capture": "one.capture.json", "engine": ENGINE.name, "engine_sha256": "abc"}
    whole = rng.normal(0.0, 0.3) + late_deg
    captures = common | {
        "vehicle": f"car {number}",
        "condition": "cranking",
        "phasers": "unplugged",
        "distance_km": km,
        "probability_none": 0.1 if late_deg else 0.9,
        "probability_moved": 0.8 if late_deg else 0.05,
    }
    cams = []
    for cam in ENGINE.cams:
        grown = ELONGATION_PERCENT / 100.0 * km / 10_000.0 * ENGINE.drive.free_links[cam.id] * pitch_deg
        offset = 0.5 + grown + whole + rng.normal(0.0, 0.2)
        cams.append(common | {"cam": cam.id, "reference": "profile", "offset_deg": offset, "offset_u95_deg": 0.1})
    cylinders = [
        common | {"cylinder": c, "relative": float(rng.normal(1.0, 0.02)), "relative_u95": 0.01} for c in range(1, 5)
    ]
    document = ENGINE.model_dump_json(by_alias=True, exclude_none=True)
    return Rows(common["unit"], {"captures": [captures | about], "cams": cams, "cylinders": cylinders}, document, "abc")


def kept(folder: Path, rows: list[Rows]) -> Path:
    tables = FleetTables(folder / "out")
    tables.keep(rows, [])
    tables.join([one.unit for one in rows], [])
    return folder / "out"


@pytest.fixture(scope="module")
def island(tmp_path_factory: pytest.TempPathFactory) -> Path:
    rng = np.random.default_rng(77)
    rows = [car(i, rng) for i in range(80)] + [car(100 + i, rng, late_deg=17.1) for i in range(8)]
    return kept(tmp_path_factory.mktemp("teaching"), rows)


def test_edges_spreads_and_elongation_are_those_that_the_cars_were_made_with(island: Path) -> None:
    (taught,) = taught_by(island)
    known = taught.population
    assert taught.cams == tuple(cam.id for cam in ENGINE.cams)
    assert known.engines == pytest.approx(80.0, abs=1.0)
    assert all(edge.low <= 0.5 <= edge.high for edge in known.edges)
    assert known.build.low <= 0.2 <= known.build.high
    assert known.whole.low <= 0.3 <= known.whole.high
    assert taught.elongation_percent is not None
    percent, half = taught.elongation_percent
    assert percent == pytest.approx(ELONGATION_PERCENT, abs=half)
    assert half < 0.3 * ELONGATION_PERCENT
    assert taught.compression is not None
    assert taught.compression.share.low <= 0.02 <= taught.compression.share.high


def pistons_felt(number: int, rng: np.random.Generator, **about: Any) -> Rows:
    """A car in which the crank's speed told where the index stands."""
    return car(number, rng, index_offset_deg=INDEX_DEG + rng.normal(0.0, 0.5), index_offset_u95_deg=1.8, **about)


def test_the_index_is_told_with_the_doubt_that_all_share(tmp_path: Path) -> None:
    """Sixty cars with 0.9 degrees each would know it within 0.15: what their design has in common stays."""
    rng = np.random.default_rng(9)
    (taught,) = taught_by(kept(tmp_path, [pistons_felt(i, rng) for i in range(60)]))
    assert taught.index is not None
    place = taught.index.place
    assert place.low <= INDEX_DEG <= place.high
    assert place.u95 > 1.96 * numbers.LOSS_ANGLE_SD_DEG.value * 0.9
    assert taught.index.engines == pytest.approx(60.0, abs=1.0)
    assert any("the index passes" in line and "late of the profile" in line for line in taught_lines([taught]))
    assert json.loads(taught_json([taught]))["kinds"][0]["index"]["place"]["value"] == place.value


def test_without_pistons_felt_nothing_is_said_of_the_index(island: Path) -> None:
    (taught,) = taught_by(island)
    assert taught.index is None
    assert not any("index" in line for line in taught_lines([taught]))


def test_of_a_car_that_was_captured_often_the_newest_counts_once(tmp_path: Path) -> None:
    rng = np.random.default_rng(5)
    rows = [car(i, rng) for i in range(10)]
    often = [car(50 + i, rng, vehicle="car 3", distance_km=300_000.0 + i) for i in range(6)]
    (taught,) = taught_by(kept(tmp_path, rows + often))
    assert taught.population.weights.size == 10


def test_an_active_phaser_and_an_idling_engine_teach_nothing_of_park(tmp_path: Path) -> None:
    rng = np.random.default_rng(6)
    rows = [car(i, rng) for i in range(4)]
    (taught,) = taught_by(kept(tmp_path, [*rows, car(8, rng, phasers="active"), car(9, rng, condition="idle")]))
    assert taught.population.weights.size == 4


def test_few_distances_are_said(tmp_path: Path) -> None:
    rng = np.random.default_rng(7)
    rows = [car(i, rng, distance_km=None if i else 40_000.0) for i in range(9)]
    (taught,) = taught_by(kept(tmp_path, rows))
    assert taught.elongation_percent is None
    assert any("too few distances" in line for line in taught_lines([taught]))


def test_it_is_told_in_words_and_as_a_document(island: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["fleet", "teach", str(island)]) == 0
    told = capsys.readouterr().out
    assert f"{ENGINE.name}: 80 engines count" in told
    assert "the chain grows 0.05" in told
    assert main(["fleet", "teach", str(island), "--json"]) == 0
    document = json.loads(capsys.readouterr().out)
    assert document == json.loads(taught_json(taught_by(island)))
    assert document["schema"] == "phasko.taught/1"
    assert len(document["kinds"][0]["population"]["edges"]) == len(ENGINE.cams)


def test_a_folder_without_tables_is_told(tmp_path: Path) -> None:
    with pytest.raises(NotFoundError, match="no tables"):
        taught_by(tmp_path)


@pytest.mark.parametrize(
    ("value", "half", "words"),
    [
        (0.158, 0.004, "0.158 ± 0.004"),
        (-0.0004, 0.003, "0.000 ± 0.003"),
        (0.31, 0.12, "0.3 ± 0.1"),
        (0.0198, 0.00071, "0.0198 ± 0.0007"),
        (2.3, 4.1, "2.3 ± 4.1"),
    ],
)
def test_what_many_engines_teach_is_rounded_by_its_own_half_width(value: float, half: float, words: str) -> None:
    assert _with_half(value, half) == words
