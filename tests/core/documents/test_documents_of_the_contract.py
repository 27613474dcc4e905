"""The three public documents: whole examples are read, schemas accept them, and what is written is read again."""

from __future__ import annotations

import json
from typing import Any

import pytest
from pydantic import ValidationError

from phasko.bench import Shift, pool_engines
from phasko.core.documents import Analysis, CaptureDescription, EngineProfile, json_schema, parse_document
from tests.builders import FOUR, SIX, analysed, bench_recording, pool_engine

ENGINE: dict[str, Any] = {
    "schema": "phasko.engine/1",
    "name": "Whole twin-cam four",
    "cylinders": 4,
    "layout": "inline",
    "banks": [{"bank": 1, "cylinders": [1, 2, 3, 4]}],
    "firing_order": [1, 3, 4, 2],
    "firing_angles_deg": [0, 180, 360, 540],
    "displacement_l": 2.1,
    "interference": True,
    "geometry": {"bore_mm": 86, "stroke_mm": 90, "rod_mm": 145, "compression_ratio": 10.5, "crank_offset_mm": 0},
    "crank": {
        "sensor": "hall",
        "timing_edge": "falling",
        "wheel": {"slots": 60, "missing": [59, 60]},
        "index_deg": 276.0,
        "index_u95_deg": 0.5,
        "tooth_deg": 3.0,
    },
    "aux_wheels": [
        {"id": "A1", "turns_with": "crank", "sensor": "hall", "timing_edge": "falling", "teeth_deg": [10, 130, 250]}
    ],
    "cams": [
        {
            "id": "B1I",
            "bank": 1,
            "shaft": "intake",
            "sensor": "hall",
            "tolerance_deg": 5,
            "edges_u95_deg": 0.5,
            "edges": [{"deg": 40, "kind": "rising"}, {"deg": 130, "kind": "falling"}],
            "phaser": {"park": "retarded", "range_deg": 50},
        }
    ],
    "valve_timing": {
        "lift_mm": 0.5,
        "exhaust_open_deg": 140,
        "exhaust_close_deg": 365,
        "intake_open_deg": 355,
        "intake_close_deg": 590,
    },
    "drive": {"type": "chain", "pitch_mm": 8.0, "crank_sprocket_teeth": 21, "free_links": {"B1I": 47}},
    "ignition": {"type": "coil_on_plug", "cranking_spark_deg": [-12, 2]},
    "cranking_pressure_bar": [9.0, 13.0],
}

CAPTURE: dict[str, Any] = {
    "schema": "phasko.capture/1",
    "data": "whole.csv",
    "condition": "cranking",
    "phasers": "unplugged",
    "temperature": "hot",
    "throttle": "open",
    "symptom": "present",
    "ambient_bar": 1.0,
    "marks": [{"t_s": 2.4, "text": "stumble"}],
    "channels": [
        {"column": "c1", "role": "crank", "unit": "V"},
        {"column": "c2", "role": "cam", "cam": "B1I", "unit": "V"},
        {
            "column": "c3",
            "role": "starter_current",
            "unit": "V",
            "scale": 1000.0,
            "offset": 0.0,
            "scaled_unit": "A",
        },
        {"column": "c4", "role": "coil", "cylinder": 1, "signal": "drive", "unit": "V"},
        {"column": "c5", "role": "cylinder_pressure", "cylinder": 3, "unit": "bar", "reference": "gauge"},
        {"column": "c6", "role": "phaser_command", "cam": "B1I", "unit": "V"},
        {"column": "c7", "role": "aux", "wheel": "A1", "unit": "V"},
    ],
}


def test_a_whole_profile_is_read_and_written_again() -> None:
    known = parse_document(json.dumps(ENGINE), EngineProfile, "engine.json")
    assert known.drive is not None
    assert known.drive.free_links == {"B1I": 47.0}
    again = known.model_dump_json(by_alias=True, exclude_none=True)
    assert parse_document(again, EngineProfile, "again.json") == known


def test_a_whole_description_is_read_and_written_again() -> None:
    known = parse_document(json.dumps(CAPTURE), CaptureDescription, "whole.capture.json")
    assert [channel.role for channel in known.channels][2:4] == ["starter_current", "coil"]
    assert known.marks[0].text == "stumble"
    again = known.model_dump_json(by_alias=True, exclude_none=True)
    assert parse_document(again, CaptureDescription, "again.json") == known


@pytest.mark.parametrize("name", pool_engines())
def test_pool_profiles_survive_the_way_through_json(name: str) -> None:
    known = pool_engine(name)
    assert EngineProfile.model_validate_json(known.model_dump_json(by_alias=True)) == known


@pytest.mark.parametrize("key", ["schema", "name", "cylinders", "firing_order", "crank"])
def test_what_a_profile_requires(key: str) -> None:
    with pytest.raises(ValidationError, match=key):
        EngineProfile.model_validate({k: v for k, v in ENGINE.items() if k != key})


@pytest.mark.parametrize(
    "key",
    [
        "layout",
        "banks",
        "firing_angles_deg",
        "displacement_l",
        "interference",
        "geometry",
        "aux_wheels",
        "cams",
        "valve_timing",
        "ignition",
        "cranking_pressure_bar",
    ],
)
def test_everything_else_may_be_unknown(key: str) -> None:
    rest = {k: v for k, v in ENGINE.items() if k != key and not (key == "cams" and k == "drive")}
    assert EngineProfile.model_validate(rest).name == "Whole twin-cam four"


@pytest.mark.parametrize(
    ("document", "keys"),
    [
        ("engine", {"schema", "name", "cylinders", "firing_order", "crank", "cams", "drive", "valve_timing"}),
        ("capture", {"schema", "data", "condition", "phasers", "temperature", "channels", "marks"}),
        ("analysis", {"schema", "captures", "verdict", "provenance"}),
    ],
)
def test_schemas_name_every_public_field(document: Any, keys: set[str]) -> None:
    assert keys <= set(json_schema(document)["properties"])


def test_the_schema_of_faults_uses_the_published_names() -> None:
    fault = json_schema("analysis")["$defs"]["FaultResult"]["properties"]
    assert {"fault", "probability", "where", "amount", "for", "against"} <= set(fault)
    assert "chain_jumped" in json.dumps(fault["fault"])


def test_a_result_survives_the_way_through_json() -> None:
    made = analysed(bench_recording(FOUR, 90, Shift({"B1I": 9.0})))
    text = made.model_dump_json(by_alias=True)
    assert Analysis.model_validate_json(text) == made
    assert "for_" not in text


def test_a_result_says_null_for_what_was_not_measured() -> None:
    result = json.loads(analysed(bench_recording(FOUR, 91)).model_dump_json(by_alias=True))["captures"][0]
    assert result["crank"]["index_offset_deg"] is None
    assert result["crank"]["index_offset_source"] is None
    assert result["compression"]["source"] == "crank_speed"
    assert result["cylinder_pressure"] == []
    assert all(cam["offset_from_tdc_deg"] is None for cam in result["cams"])
    assert result["ignition"] == []


def test_edges_of_a_result_agree_with_its_offset() -> None:
    for cam in analysed(bench_recording(SIX, 92, Shift({"B2E": -11.0})), engine=SIX).captures[0].cams:
        deltas = [edge.delta_deg for edge in cam.edges]
        assert sum(d for d in deltas if d is not None) / len(deltas) == pytest.approx(cam.offset_deg, abs=1e-9)
        for edge in cam.edges:
            assert edge.reference_deg is not None
            assert edge.measured_deg == pytest.approx((edge.reference_deg + (edge.delta_deg or 0.0)) % 720.0, abs=1e-6)


def test_crank_figures_fit_each_other() -> None:
    capture = analysed(bench_recording(FOUR, 93)).captures[0]
    assert capture.crank is not None
    assert capture.crank.revolutions is not None
    assert capture.crank.cycles is not None
    assert capture.crank.cycles <= capture.crank.revolutions / 2
    assert (capture.crank.missing_edges, capture.crank.extra_edges) == (0, 0)
    assert {count.signal: count.expected for count in capture.counts} == {"crank": 116, "B1I": 4, "B1E": 6}
    assert capture.counts[0].bad_windows == 0


def test_provenance_names_software_numbers_and_files() -> None:
    provenance = analysed(bench_recording(FOUR, 94)).provenance
    assert provenance.software.startswith("phasko ")
    assert provenance.captures[0].file == "bench.capture.json"
    assert len(provenance.engine_sha256) == 64
