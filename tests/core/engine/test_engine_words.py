"""What is said about a profile that is written, or that changed: the trade's words, no names of fields."""

from __future__ import annotations

import re

import pytest

from phasko.core.documents import EngineProfile
from phasko.core.documents.engine_words import field_title, limit_words, value_words
from phasko.core.engine.profile_changes import profile_changes
from phasko.core.engine.profile_faults import profile_faults
from tests.builders import FOUR, pool_engine, profile_dict


def texts(**changes: object) -> list[str]:
    return [fault.text for fault in profile_faults(profile_dict(**changes))]


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"crank__index_deg": 400}, "Where tooth 1 passes: tooth 1 passes between 0 and 360° after TDC 1"),
        ({"displacement_l": 2998}, "Displacement: an engine displaces 0.02 to 60 l; 2998 cm³ are 2.998 l"),
        ({"cylinders": 40}, "Cylinders: an engine has 1 to 24 cylinders"),
        ({"crank__wheel": {"slots": 1}}, "Slots of the crank wheel: a wheel has 2 to 720 slots"),
        ({"name": ""}, "Name: an engine needs a name"),
        ({"displacement_l": "two"}, "Displacement: an engine displaces 0.02 to 60 l; 2998 cm³ are 2.998 l"),
    ],
)
def test_a_fault_is_told_in_the_trades_words_at_its_field(changes: dict[str, object], words: str) -> None:
    assert words in texts(**changes)


def test_a_cam_is_called_by_its_name() -> None:
    cam = {"id": "B1I", "edges": [{"deg": 800, "kind": "rising"}, {"deg": 130, "kind": "falling"}]}
    (fault,) = profile_faults(profile_dict(cams=[cam]))
    assert fault.field == "cams.0.edges.0.deg"
    assert fault.text == "Edges of B1I: edges stand between 0 and 720° after TDC 1"


BROKEN: list[dict[str, object]] = [
    {"firing_order": [1, 3, 3, 2]},
    {"firing_angles_deg": [0, 180]},
    {"banks": [{"bank": 1, "cylinders": [1, 2]}]},
    {"crank__wheel": {"slots": 60, "teeth_deg": [0, 90]}},
    {"crank__wheel": {"slots": 60, "missing": [70]}},
    {"drive": {"free_links": {"B9X": 3}}},
    {"geometry": {"bore_mm": 86, "stroke_mm": 400, "rod_mm": 100, "compression_ratio": 10}},
    {"colour": "red"},
    {"crank__sensor": "magic"},
    {"valve_timing": {"exhaust_open_deg": 900, "exhaust_close_deg": 1, "intake_open_deg": 1, "intake_close_deg": 1}},
]


@pytest.mark.parametrize("changes", BROKEN, ids=lambda one: next(iter(one)))
def test_no_name_of_a_field_stands_in_it(changes: dict[str, object]) -> None:
    found = texts(**changes)
    assert found
    for text in found:
        assert not re.search(r"[a-z]_[a-z]|Input should|\.\d|\[", text), text


def test_versions_differ_in_words() -> None:
    before = pool_engine(FOUR)
    document = before.model_dump(mode="json", by_alias=True, exclude_none=True)
    document["firing_order"] = [1, 2, 4, 3]
    document["cams"][0]["edges"][0]["deg"] = 41.5
    document["displacement_l"] = 2.2
    after = EngineProfile.model_validate(document)
    told = {change.title: (change.before, change.after) for change in profile_changes(before, after)}
    assert told["Firing order"] == ("1-3-4-2", "1-2-4-3")
    assert told["Displacement"][1] == "2.2 l"
    edges = told[f"Edges of {before.cams[0].id}"][1]
    assert edges is not None and edges.startswith("41.5° rising, ") and "{" not in edges


def test_titles_and_values_of_single_fields() -> None:
    assert field_title("crank.index_deg") == "Where tooth 1 passes"
    assert field_title("cams[B1I].phaser.range_deg") == "Range of its phaser of B1I"
    assert limit_words("cams.3.edges.0.deg") == "edges stand between 0 and 720° after TDC 1"
    assert value_words("interference", True) == "yes"
    assert value_words("drive.type", "distributor_gear") == "distributor gear"
