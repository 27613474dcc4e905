"""The HTTP API: each noun's way in and out."""

import json
from typing import Any

import pytest

from phasko.core.documents import Analysis
from tests.builders import FOUR, bench_files, pool_engine
from tests.web.caller import Caller


@pytest.fixture
def job_id(call: Caller) -> int:
    document = pool_engine(FOUR).model_dump_json(by_alias=True, exclude_none=True)
    engine = call("POST", "/api/engines", files={"profile": ("engine.json", document)})
    assert engine.status_code == 201
    body = {"vehicle": "Snow plough 1", "engine_id": engine.json()["id"]}
    opened = call("POST", "/api/jobs", json=body)
    assert opened.status_code == 201
    return int(opened.json()["id"])


def add(call: Caller, job_id: int, **changes: Any) -> Any:
    files = bench_files(B1I=17.14, B1E=17.14)
    sent = {
        "description": (files.description_name, changes.get("description", files.description)),
        "data": (files.data_name, changes.get("data", files.data)),
    }
    return call("POST", f"/api/jobs/{job_id}/captures", files=sent)


def test_from_capture_to_call(call: Caller, job_id: int) -> None:
    assert call("GET", f"/api/jobs/{job_id}/analysis").json() is None
    assert add(call, job_id).status_code == 201
    result = call("GET", f"/api/jobs/{job_id}/result").json()
    assert Analysis.model_validate(result).verdict.faults[0].fault == "chain_jumped"
    assert call("GET", f"/api/jobs/{job_id}/analysis").json()["analysis"] == result
    row = call("GET", "/api/jobs").json()[0]
    assert row["finding"] == "Both cam signals read 17.1° late, one chain pitch"
    assert row["teardown"] == "confirm_first"


def test_numbers_that_are_missing_are_null(call: Caller, job_id: int) -> None:
    add(call, job_id)
    text = call("GET", f"/api/jobs/{job_id}/result").text
    assert "NaN" not in text
    assert "Infinity" not in text
    assert json.loads(text)["captures"][0]["crank"]["index_offset_deg"] is None


def test_a_broken_capture_says_where_and_keeps_the_job(call: Caller, job_id: int) -> None:
    answer = add(call, job_id, data=b"time_s,c1,c2,c3\n0,1,2,3\n1,oops,2,3\n")
    assert answer.status_code == 422
    assert answer.json() == {
        "what": "'oops' in column c1 is not a number",
        "place": "bench.csv, line 3",
        "kept": "The job is as it was",
        "remedy": "Was the file cut off?",
    }
    assert call("GET", f"/api/jobs/{job_id}/captures").json() == []


def test_out_and_back(call: Caller, job_id: int) -> None:
    capture_id = add(call, job_id).json()["id"]
    assert call("DELETE", f"/api/captures/{capture_id}").status_code == 204
    assert call("GET", f"/api/jobs/{job_id}/captures").json() == []
    assert call("POST", f"/api/captures/{capture_id}/restoration").json()["id"] == capture_id


def test_pictures_and_originals(call: Caller, job_id: int) -> None:
    capture_id = add(call, job_id).json()["id"]
    assert len(call("GET", f"/api/captures/{capture_id}/strip").json()["lanes"]) == 2
    raw = call("GET", f"/api/captures/{capture_id}/raw", params={"from_s": 0.5, "to_s": 0.6, "points": 100})
    head = json.loads(raw.content[4 : 4 + int.from_bytes(raw.content[:4], "little")])
    assert head == call("GET", f"/api/captures/{capture_id}/raw-head?from_s=0.5&to_s=0.6&points=100").json()
    assert [c["column"] for c in head["channels"]] == ["c1", "c2", "c3"]
    original = call("GET", f"/api/captures/{capture_id}/files/data")
    assert original.content.startswith(b"time_s,c1")
    assert "bench.csv" in original.headers["content-disposition"]


def test_edges_for_rulers_stand_within_the_span(call: Caller, job_id: int) -> None:
    capture_id = add(call, job_id).json()["id"]
    found = call("GET", f"/api/captures/{capture_id}/edges?from_s=0.5&to_s=0.6").json()["channels"]
    crank = next(channel for channel in found if channel["column"] == "c1")
    assert crank["count"] == len(crank["times_s"]) > 10
    assert all(0.5 <= time <= 0.6 for time in crank["times_s"])
    whole = call("GET", f"/api/captures/{capture_id}/edges?from_s=0&to_s=9").json()["channels"]
    dense = next(channel for channel in whole if channel["column"] == "c1")
    assert dense["count"] > 400
    assert dense["times_s"] == []


def test_between_two_rulers(call: Caller, job_id: int) -> None:
    """From the first rising crank edge to the eleventh lie ten teeth, or twelve where the gap is passed."""
    capture_id = add(call, job_id).json()["id"]
    edges = call("GET", f"/api/captures/{capture_id}/edges?from_s=0.9&to_s=1.0").json()["channels"][0]
    rising = [time for time, up in zip(edges["times_s"], edges["rising"], strict=True) if up]
    read = call("GET", f"/api/captures/{capture_id}/between?a_s={rising[0]}&b_s={rising[10]}").json()
    assert min(abs(read["wheel_teeth"] - teeth) for teeth in (10, 12)) < 0.02
    assert read["crank_deg"] == pytest.approx(6.0 * read["wheel_teeth"])
    crank = read["channels"][0]
    assert crank["rising"] in (10, 11)
    assert 0.0 < crank["at_a"] < 5.0
    outside = call("GET", f"/api/captures/{capture_id}/between?a_s=-1&b_s=0.5").json()
    assert outside["crank_deg"] is None


def test_the_second_tab_is_told(call: Caller, job_id: int) -> None:
    add(call, job_id)
    again = add(call, job_id)
    assert again.status_code == 409
    assert "already in the job" in again.json()["what"]


@pytest.mark.parametrize(
    ("method", "path", "status"),
    [
        ("GET", "/api/jobs/99", 404),
        ("GET", "/api/jobs/99/captures", 404),
        ("GET", "/api/jobs/99/result", 404),
        ("GET", "/api/captures/99/strip", 404),
        ("DELETE", "/api/captures/99", 404),
        ("GET", "/api/nonsense", 404),
        ("GET", "/api/jobs/abc", 422),
        ("GET", "/api/captures/1/raw?points=3", 422),
        ("GET", "/api/captures/1/raw?from_s=nan", 422),
    ],
)
def test_what_is_not_there_says_so_in_one_shape(call: Caller, method: str, path: str, status: int) -> None:
    answer = call(method, path)
    assert answer.status_code == status
    assert set(answer.json()) == {"what", "place", "kept", "remedy"}
    assert answer.json()["what"]


def test_a_wrong_profile_names_its_field(call: Caller) -> None:
    answer = call("POST", "/api/engines", files={"profile": ("my.json", b'{"schema": "phasko.engine/1"}')})
    assert answer.status_code == 422
    assert answer.json()["place"] == "my.json"
    assert "is required but absent" in answer.json()["what"]


def test_schemas_are_published(call: Caller) -> None:
    assert call("GET", "/api/schemas/engine").json()["title"] == "EngineProfile"
    assert call("GET", "/api/engines").json() == []


def test_every_other_address_is_a_screen(call: Caller) -> None:
    answer = call("GET", "/jobs/3/phase")
    assert answer.status_code in (200, 503)
    assert answer.headers["content-type"].startswith(("text/html", "application/json"))


def test_a_low_pass_is_switched_on_and_off_and_the_result_follows(call: Caller, job_id: int) -> None:
    capture_id = add(call, job_id).json()["id"]
    address = f"/api/captures/{capture_id}/channels/c2/filter"
    on = call("PUT", address, json={"filter_hz": 2000.0}).json()
    assert {c["column"]: c["filter_hz"] for c in on["switching"]} == {"c1": None, "c2": 2000.0, "c3": None}
    result = call("GET", f"/api/jobs/{job_id}/result").json()["captures"][0]
    assert [effect["channel"] for effect in result["filters"]] == ["c2"]
    call("PUT", address, json={"filter_hz": None})
    assert call("GET", f"/api/jobs/{job_id}/result").json()["captures"][0]["filters"] == []
    assert call("PUT", address, json={"filter_hz": -1.0}).status_code == 422
    assert call("PUT", address.replace("c2", "c9"), json={"filter_hz": 50.0}).status_code == 404


def test_what_a_capture_taught_becomes_a_profile_for_the_job(call: Caller) -> None:
    bare: dict[str, object] = {"schema": "phasko.engine/1", "name": "Unknown four", "cylinders": 4, "crank": {}}
    bare["firing_order"] = [1, 3, 4, 2]
    engine = call("POST", "/api/engines", files={"profile": ("bare.json", json.dumps(bare).encode())}).json()
    body = {"vehicle": "Mower", "make_model": "", "complaint": "", "codes": [], "engine_id": engine["id"]}
    job_id = call("POST", "/api/jobs", json=body).json()["id"]
    capture_id = add(call, job_id).json()["id"]
    seen = call("GET", f"/api/jobs/{job_id}/result").json()["captures"][0]
    assert seen["learnt"]["wheel"] == "60-2"
    assert call("POST", f"/api/captures/{capture_id}/learnt-engine", json={"name": ""}).status_code == 422
    made = call("POST", f"/api/captures/{capture_id}/learnt-engine", json={"name": "Mower four"}).json()
    profile = call("GET", f"/api/engines/{made['id']}").json()
    assert profile["crank"]["wheel"]["slots"] == 60
    assert profile["crank"].get("index_deg") is None
    assert sorted(len(cam["edges"]) for cam in profile["cams"]) == [4, 6]
    assert call("GET", f"/api/jobs/{job_id}").json()["engine"]["name"] == "Mower four"
    again = call("POST", f"/api/captures/{capture_id}/learnt-engine", json={"name": "Once more"})
    assert again.status_code == 403
    assert "taught nothing" in again.json()["what"]
