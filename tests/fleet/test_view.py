"""What a fleet's tables show: bands, cars that lie apart, goods, proposals and their acceptance."""

from __future__ import annotations

import csv
import io
import json
from pathlib import Path

import numpy as np
import pytest

from phasko.core.errors import NotFoundError, RefusedError
from phasko.fleet.accepting import accept_from_fleet
from phasko.fleet.rows import Rows
from phasko.fleet.tables import FleetTables
from phasko.fleet.view import KindView, fleet_sheet, fleet_view, keep_view, kept_view
from phasko.jobs.engine_profiles import engine_profile, save_engine
from phasko.store import Database
from tests.fleet.test_teaching import ELONGATION_PERCENT, ENGINE, INDEX_DEG, car, kept, pistons_felt


@pytest.fixture
def island(tmp_path: Path) -> Path:
    """Forty sound cars and three that jumped, half a degree late when new."""
    rng = np.random.default_rng(5)
    sound = [car(i, rng, known_good=i < 4, temperature="hot" if i % 2 else "cold", age_years=i / 4) for i in range(40)]
    jumped = [
        car(
            50 + i,
            rng,
            late_deg=17.1,
            fault="chain_jumped",
            probability=0.9,
            gate="go",
            workshop=str(tmp_path),
            job_id=i,
        )
        for i in range(3)
    ]
    return kept(tmp_path, [*sound, *jumped])


def kind_of(out: Path) -> KindView:
    (kind,) = fleet_view(out).kinds
    return kind


def test_the_kind_lies_where_its_cars_were_made_to_and_drifts(island: Path) -> None:
    kind = kind_of(island)
    assert (kind.engine, kind.cars, round(kind.engines)) == (ENGINE.name, 43, 40)
    for cam in kind.cams:
        assert abs(cam.edge_deg.value - 0.5) < cam.edge_deg.u95 + 0.3
        assert len(cam.points) == 43 and cam.left_out == 0
    assert kind.drifts
    assert kind.elongation_percent is not None and kind.elongation_u95_percent is not None
    assert abs(kind.elongation_percent - ELONGATION_PERCENT) < 1.5 * kind.elongation_u95_percent


def test_those_that_jumped_lie_apart_and_lead_to_their_jobs(island: Path) -> None:
    apart = kind_of(island).apart
    assert {one.name for one in apart} == {"car 50", "car 51", "car 52"}
    assert {one.job_id for one in apart} == {0, 1, 2}
    assert all(one.apart_sds > 10 and one.offset_deg - one.expected_deg > 12 for one in apart)
    assert {(one.called, one.probability) for one in apart} == {("drive jumped", 0.9)}


def test_jobs_of_another_workshop_are_no_jobs_here(island: Path, tmp_path: Path) -> None:
    elsewhere = tmp_path / "elsewhere"
    elsewhere.mkdir()
    island.rename(elsewhere / "out")
    assert {one.job_id for one in kind_of(elsewhere / "out").apart} == {None}


def test_goods_are_those_among_the_others_in_which_nothing_is_called(tmp_path: Path) -> None:
    rng = np.random.default_rng(6)
    cars = [car(i, rng, temperature="cold", known_good=i < 3) for i in range(20)]
    weak = car(30, rng, fault="cylinder_leak", probability=0.7)
    goods = kind_of(kept(tmp_path, [*cars, weak, car(31, rng, late_deg=17.1)])).goods
    assert (goods.cars, goods.every, goods.kept, goods.temperatures) == (20, 22, 3, {"cold": 20})


def test_two_files_that_say_the_same_of_an_engine_are_one_kind(tmp_path: Path) -> None:
    rng = np.random.default_rng(7)
    rows = [car(i, rng) for i in range(6)]
    other = [
        Rows(
            one.unit,
            {name: [row | {"engine_sha256": "def"} for row in table] for name, table in one.tables.items()},
            one.engine,
            "def",
        )
        for one in (car(10 + i, rng) for i in range(4))
    ]
    assert kind_of(kept(tmp_path, [*rows, *other])).cars == 10


def test_the_sheet_has_every_car_and_cam(island: Path) -> None:
    rows = list(csv.DictReader(io.StringIO(fleet_sheet(island))))
    assert len(rows) == 43 * len(ENGINE.cams)
    late = [row for row in rows if row["fault"] == "chain_jumped"]
    assert len(late) == 3 * len(ENGINE.cams)
    assert all(float(row["offset_deg"]) - float(row["expected_deg"]) > 12 for row in late)


def test_the_view_is_kept_and_told_where_there_is_none(island: Path, tmp_path: Path) -> None:
    keep_view(island)
    assert json.loads(kept_view(island)) == json.loads(fleet_view(island).model_dump_json())
    FleetTables(island)
    with pytest.raises(NotFoundError):
        kept_view(tmp_path / "nowhere")


def test_few_cars_propose_nothing_and_many_a_narrower_half_width(island: Path, tmp_path: Path) -> None:
    rng = np.random.default_rng(8)
    assert kind_of(kept(tmp_path / "few", [car(i, rng) for i in range(3)])).proposal is None
    proposal = kind_of(island).proposal
    assert proposal is not None and proposal.index is None
    assert [cam.cam for cam in proposal.cams] == [cam.id for cam in ENGINE.cams]
    assert all(cam.engines == 40 and cam.u95_after_deg > cam.mean_u95_deg for cam in proposal.cams)


def test_what_is_accepted_becomes_the_next_version_and_nothing_else_does(island: Path, database: Database) -> None:
    text = ENGINE.model_dump_json(by_alias=True, exclude_none=True).encode()
    with pytest.raises(RefusedError, match="has no engine"):
        accept_from_fleet(database, island, "abc", ["B1I"])
    first = save_engine(database, text, "engine.json")
    for keep in ([], ["B7X"]):
        with pytest.raises(RefusedError, match="proposes nothing"):
            accept_from_fleet(database, island, "abc", keep)
    with pytest.raises(NotFoundError):
        accept_from_fleet(database, island, "another", ["B1I"])
    proposal = kind_of(island).proposal
    assert proposal is not None
    second = accept_from_fleet(database, island, "abc", ["B1I"])
    assert (first.version, second.version) == (1, 2)
    before, after = engine_profile(database, first.id), engine_profile(database, second.id)
    moved = after.cams[0].edges[0].deg - before.cams[0].edges[0].deg
    assert moved == pytest.approx(proposal.cams[0].mean_moved_deg, abs=0.006)
    assert after.cams[0].edges_u95_deg == pytest.approx(proposal.cams[0].u95_after_deg, abs=0.006)
    assert after.cams[1] == before.cams[1]
    # Its offsets count against the profile as it was: once more would move it twice.
    with pytest.raises(RefusedError, match="has changed since"):
        accept_from_fleet(database, island, "abc", ["B1I"])


def test_an_index_that_lies_elsewhere_is_proposed_and_accepted(tmp_path: Path, database: Database) -> None:
    """The profile knows its index within half a degree; pistons of thirty cars put it 2.6 degrees later."""
    rng = np.random.default_rng(12)
    out = kept(tmp_path, [pistons_felt(i, rng) for i in range(30)])
    kind = kind_of(out)
    assert kind.index is not None and kind.proposal is not None and kind.proposal.index is not None
    proposed = kind.proposal.index
    assert proposed.moved_deg == kind.index.place_deg.value
    assert abs(proposed.moved_deg - INDEX_DEG) < kind.index.place_deg.u95
    assert proposed.u95_after_deg > kind.index.place_deg.u95
    text = ENGINE.model_dump_json(by_alias=True, exclude_none=True).encode()
    first = save_engine(database, text, "engine.json")
    second = accept_from_fleet(database, out, "abc", ["index"])
    before, after = engine_profile(database, first.id), engine_profile(database, second.id)
    assert before.crank.index_deg is not None
    assert after.crank.index_deg == pytest.approx(before.crank.index_deg + proposed.moved_deg, abs=0.006)
    assert after.crank.index_u95_deg == pytest.approx(proposed.u95_after_deg, abs=0.006)
    assert after.cams == before.cams
    assert after.refined is not None and after.refined.engines == 30


def test_an_index_that_agrees_is_proposed_only_where_it_becomes_sharper(tmp_path: Path) -> None:
    rng = np.random.default_rng(13)

    def cars(u95_deg: float) -> list[Rows]:
        """The wheel sits within a tenth of a degree, 0.3 late of the profile."""
        late = rng.normal(0.3, np.hypot(0.1, u95_deg / 8.0), 30)
        return [car(i, rng, index_offset_deg=at, index_offset_u95_deg=u95_deg) for i, at in enumerate(late.tolist())]

    by_speed = kind_of(kept(tmp_path / "speed", cars(1.8)))
    assert by_speed.index is not None
    assert by_speed.proposal is not None and by_speed.proposal.index is None
    sharp = kind_of(kept(tmp_path / "pressure", cars(0.2))).proposal
    assert sharp is not None and sharp.index is not None
    assert sharp.index.u95_after_deg < sharp.index.u95_before_deg
    assert 0.0 < sharp.index.moved_deg < 0.3
