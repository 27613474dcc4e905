"""Wrong profiles are refused with one clear sentence."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from phasko.core.documents import EngineProfile, parse_document
from phasko.core.errors import DocumentError
from tests.builders import profile, profile_dict


def refusal(**changes: object) -> str:
    with pytest.raises(DocumentError) as caught:
        parse_document(json.dumps(profile_dict(**changes)), EngineProfile, "engine.json")
    return caught.value.one_line()


def test_a_small_profile_is_enough() -> None:
    assert profile().firing_tdc_deg == {1: 0.0, 3: 180.0, 4: 360.0, 2: 540.0}


def test_uneven_firing_is_counted_from_cylinder_one() -> None:
    uneven = profile(firing_order=[3, 1, 4, 2], firing_angles_deg=[0, 90, 360, 450])
    assert uneven.firing_tdc_deg == {3: 630.0, 1: 0.0, 4: 270.0, 2: 360.0}


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"firing_order": [1, 3, 4]}, "firing_order misses cylinder 2"),
        ({"firing_order": [1, 3, 4, 2, 2]}, "firing_order names a cylinder twice"),
        ({"firing_order": [1, 3, 4, 5]}, "firing_order misses cylinder 2"),
        ({"firing_angles_deg": [0, 180, 360]}, "3 angles for 4 cylinders"),
        ({"firing_angles_deg": [0, 360, 180, 540]}, "must begin with 0 and ascend"),
        ({"crank__wheel": {"slots": 60, "missing": [61]}}, "missing names slot 61, but the wheel has slots 1 to 60"),
        ({"crank__wheel": {"slots": 60, "missing": [59, 59]}}, "missing names a slot twice"),
        ({"crank__wheel": {"slots": 4, "missing": [1, 2, 3]}}, "leave fewer than two teeth"),
        ({"crank__wheel": {"slots": 60, "teeth_deg": [0, 90]}}, "either slots (with missing) or teeth_deg"),
        ({"crank__wheel": {"teeth_deg": [10, 90]}}, "must begin with the index tooth itself, 0"),
        ({"crank__wheel": {"teeth_deg": [0, 90, 80]}}, "teeth_deg must ascend"),
        ({"crank__wheel": {"teeth_deg": [0, 90], "missing": [2]}}, "missing belongs to slots"),
        ({"crank__index_deg": 360}, "crank.index_deg"),
        ({"bananas": 3}, "unknown key bananas"),
        ({"crank__wheels": {}}, "unknown key crank.wheels"),
        ({"schema": "phasko.engine/9"}, "schema"),
        ({"banks": [{"bank": 1, "cylinders": [1, 2, 3]}]}, "disagree about cylinder 4"),
        ({"banks": [{"bank": 1, "cylinders": [1, 2, 3, 4, 4]}]}, "banks name a cylinder twice"),
        ({"banks": [{"bank": 2, "cylinders": [1, 2, 3, 4]}]}, "sits on bank 1, which banks does not list"),
        ({"drive": {"free_links": {"B9I": 10}}}, "drive.free_links names cam B9I"),
    ],
)
def test_contradictions_are_named(changes: dict[str, object], words: str) -> None:
    said = refusal(**changes)
    assert words in said
    assert said.startswith("engine.json")


@pytest.mark.parametrize(
    ("edges", "words"),
    [
        ([{"deg": 720, "kind": "rising"}, {"deg": 100, "kind": "falling"}], "cams.0.edges.0.deg"),
        ([{"deg": 10, "kind": "rising"}, {"deg": 100, "kind": "rising"}], "must alternate"),
        ([{"deg": 10, "kind": "rising"}, {"deg": 10, "kind": "falling"}], "stand at the same angle"),
        ([{"deg": 10, "kind": "sideways"}], "kind"),
    ],
)
def test_cam_edges_are_checked(edges: list[dict[str, object]], words: str) -> None:
    assert words in refusal(cams=[{"id": "B1I", "edges": edges}])


def test_two_cams_may_not_share_an_id() -> None:
    assert "two cams have the same id" in refusal(cams=[{"id": "CAM"}, {"id": "CAM"}])


def test_broken_json_names_line_and_column() -> None:
    with pytest.raises(DocumentError, match=r"engine\.json, line 2, column 11: is not JSON"):
        parse_document('{"name": "x",\n "schema" 3}', EngineProfile, "engine.json")


def test_an_inductive_cam_lists_one_kind_only() -> None:
    crossings = [{"deg": 10, "kind": "falling"}, {"deg": 200, "kind": "falling"}]
    assert len(profile(cams=[{"id": "CAM", "sensor": "vr", "edges": crossings}]).cams[0].edges) == 2


@given(st.integers(4, 120), st.integers(1, 3))
def test_teeth_of_any_regular_wheel_lie_on_its_pitch(slots: int, gap: int) -> None:
    missing = list(range(slots - min(gap, slots - 2) + 1, slots + 1))
    wheel = profile(crank__wheel={"slots": slots, "missing": missing}).crank.wheel
    assert len(wheel.angles_deg) == slots - len(missing)
    assert wheel.angles_deg[0] == 0.0
    assert wheel.angles_deg[-1] == pytest.approx((slots - len(missing) - 1) * 360.0 / slots)


def test_phasers_reach_away_from_their_park() -> None:
    def authority(park: str) -> tuple[float, float]:
        phaser = profile(cams=[{"id": "X", "phaser": {"park": park, "range_deg": 50}}]).cams[0].phaser
        assert phaser is not None
        return phaser.authority_deg

    assert authority("retarded") == (-50.0, 0.0)
    assert authority("advanced") == (0.0, 50.0)
    assert authority("mid") == (-25.0, 25.0)
