"""An engine profile by itself: its drawing, what it leaves open, what changed between versions."""

import pytest

from phasko.core.engine.drawing import engine_drawing
from phasko.core.engine.open_points import open_points
from phasko.core.engine.profile_changes import profile_changes
from tests.builders import pool_engine, profile


def fields(**changes: object) -> list[str]:
    return [point.field for point in open_points(profile(**changes))]


def test_a_wheel_is_drawn_by_when_its_teeth_pass() -> None:
    """60-2 with tooth 1 at 276: 58 teeth of 3 degrees after their timing edge, and the gap between tooth 58 and 1."""
    wheel = engine_drawing(profile(crank__index_deg=276.0, crank__tooth_deg=3.0)).wheels[0]
    assert (wheel.label, wheel.turn_deg, len(wheel.teeth)) == ("Crank 60-2", 360.0, 58)
    assert (wheel.teeth[0].from_deg, wheel.teeth[0].to_deg) == (276.0, 279.0)
    assert [(gap.from_deg, gap.to_deg) for gap in wheel.gaps] == [(276.0 + 57 * 6, 276.0 + 360)]
    assert wheel.accurate_deg[14] == pytest.approx(0.0)


def test_a_tooth_lies_before_its_edge_where_that_comes_second() -> None:
    wheel = engine_drawing(profile(crank__index_deg=90.0, crank__tooth_deg=-2.5)).wheels[0]
    assert (wheel.teeth[0].from_deg, wheel.teeth[0].to_deg) == (87.5, 90.0)


def test_an_inductive_tooth_stands_about_its_crossing() -> None:
    wheel = engine_drawing(profile(crank__sensor="vr", crank__index_deg=90.0, crank__tooth_deg=3.0)).wheels[0]
    assert (wheel.teeth[0].from_deg, wheel.teeth[0].to_deg) == (88.5, 91.5)


def test_without_an_index_angles_count_from_tooth_1() -> None:
    known = profile().model_dump(by_alias=True)
    drawing = engine_drawing(profile(crank={"wheel": known["crank"]["wheel"]}))
    assert not drawing.index_known
    assert drawing.wheels[0].accurate_deg[0] == 0.0


def test_a_cam_is_high_from_rising_to_falling_over_the_end_of_the_cycle() -> None:
    six = engine_drawing(pool_engine("brimholt-3.2-six"))
    late = next(wheel for wheel in six.wheels if wheel.name == "B2E")
    assert late.label == "Bank 2 exhaust cam"
    assert (late.teeth[-1].from_deg, late.teeth[-1].to_deg) == (650.0, 740.0)


def test_cylinders_fire_where_they_stand() -> None:
    six = engine_drawing(pool_engine("brimholt-3.2-six"))
    assert [(p.cylinder, p.tdc_deg, p.bank, p.place_in_bank) for p in six.firing] == [
        (1, 0.0, 1, 0),
        (2, 120.0, 2, 0),
        (3, 240.0, 1, 1),
        (4, 360.0, 2, 1),
        (5, 480.0, 1, 2),
        (6, 600.0, 2, 2),
    ]


def test_the_drive_says_its_pitch_and_what_a_percent_of_wear_does() -> None:
    """A percent of 46 free links at 360/23 degrees a link: 7.2 degrees late (e/100 * links * pitch)."""
    intake = next(d for d in engine_drawing(pool_engine("brimholt-3.2-six")).drives if d.cam == "B1I")
    assert [(s.pitch_crank_deg, s.teeth) for s in intake.stages] == [(pytest.approx(360 / 23), pytest.approx(23))]
    assert intake.late_per_percent_deg == pytest.approx(0.46 * 360 / 23)


def test_two_stages_are_drawn_one_after_the_other() -> None:
    cams = [{"id": "B1I", "shaft": "intake"}, {"id": "B1E", "shaft": "exhaust"}]
    two = profile(cams=cams, drive={"type": "chain", "pitch_crank_deg": {"B1I": [20.0, 17.14]}})
    drives = {d.cam: d for d in engine_drawing(two).drives}
    assert [round(stage.teeth) for stage in drives["B1I"].stages] == [18, 21]
    assert drives["B1I"].late_per_percent_deg is None
    assert drives["B1E"].stages == []


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"crank": {"sensor": "hall"}}, "crank.wheel"),
        ({"crank": {"wheel": {"slots": 60, "missing": [59, 60]}}}, "crank.index_deg"),
        ({"crank__index_u95_deg": None}, "crank.index_u95_deg"),
        ({"cams": []}, "cams"),
        ({"cams": [{"id": "B1I"}]}, "cams[B1I].edges"),
        ({"drive": None}, "drive.crank_sprocket_teeth"),
        ({"drive": {"crank_sprocket_teeth": 21}}, "drive.free_links"),
        ({"interference": None}, "interference"),
        ({"ignition": None}, "ignition"),
    ],
)
def test_what_is_absent_is_said_with_what_it_would_allow(changes: dict[str, object], field: str) -> None:
    found = {point.field: point.allows for point in open_points(profile(**changes))}
    assert len(found[field]) > 20


def test_a_gear_drive_has_no_links_to_give() -> None:
    assert "drive.free_links" not in fields(drive={"type": "gear", "crank_sprocket_teeth": 30})


def test_a_full_profile_leaves_nothing_open() -> None:
    assert open_points(pool_engine("brimholt-3.2-six")) == []


def test_changes_are_told_by_field_and_cams_by_name() -> None:
    before = pool_engine("brimholt-3.2-six")
    known = before.model_dump(by_alias=True, exclude_none=True)
    cams = [cam for cam in known["cams"] if cam["id"] != "B1E"]
    cams[0] = {**cams[0], "tolerance_deg": 4.0}
    after = type(before).model_validate({**known, "cams": cams, "drive": None, "displacement_l": 3.3})
    found = {change.field: (change.before, change.after) for change in profile_changes(before, after)}
    assert found["displacement_l"] == ("3.2 l", "3.3 l")
    assert found["cams[B1I].tolerance_deg"] == ("5°", "4°")
    assert found["cams[B1E].bank"] == ("1", None)
    assert not any(field.startswith("cams[B2") for field in found)
    assert profile_changes(before, before) == []
