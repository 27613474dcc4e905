"""The routes of looks, road tests and the Seal station, with their refusals."""

from __future__ import annotations

import pytest

from phasko.bench.drive_log import Drive, drive_log_csv
from tests.builders import FOUR, bench_files, pool_engine
from tests.web.caller import Caller


@pytest.fixture
def job_id(call: Caller) -> int:
    document = pool_engine(FOUR).model_dump_json(by_alias=True, exclude_none=True)
    engine = call("POST", "/api/engines", files={"profile": ("engine.json", document)})
    opened = call("POST", "/api/jobs", json={"vehicle": "Grader 9", "engine_id": engine.json()["id"]})
    return int(opened.json()["id"])


@pytest.fixture
def capture_id(call: Caller, job_id: int) -> int:
    files = bench_files()
    sent = {"description": (files.description_name, files.description), "data": (files.data_name, files.data)}
    return int(call("POST", f"/api/jobs/{job_id}/captures", files=sent).json()["id"])


def test_a_look_is_noted_forgotten_and_restored(call: Caller, job_id: int) -> None:
    noted = call("POST", f"/api/jobs/{job_id}/looks", json={"question": "rhythm", "answer": "uneven"})
    assert noted.status_code == 201
    (look,) = noted.json()["noted"]
    assert look["answer_id"] == "uneven"
    assert call("DELETE", f"/api/looks/{look['id']}").json()["noted"] == []
    assert call("POST", f"/api/looks/{look['id']}/restoration").json()["noted"] == [look]
    assert call("GET", f"/api/jobs/{job_id}/looks").json()["noted"] == [look]
    assert call("GET", f"/api/jobs/{job_id}/result").json()["looks"][0]["answer"] == "Uneven"


@pytest.mark.parametrize(
    ("body", "status"),
    [
        ({"question": "rhythm", "answer": "loud"}, 422),
        ({"question": "colour", "answer": "red"}, 422),
        ({"question": "gauge", "value": 9.0}, 422),
        ({"question": "gauge", "cylinder": 1, "value": -3.0}, 422),
        ({"question": "gauge", "cylinder": 1, "value": "NaN"}, 422),
        ({"question": "rhythm", "answer": "even", "extra": 1}, 422),
        ({"question": "rhythm", "answer": "even", "note": "x" * 501}, 422),
    ],
)
def test_what_does_not_fit_is_refused_and_said(call: Caller, job_id: int, body: dict[str, object], status: int) -> None:
    answer = call("POST", f"/api/jobs/{job_id}/looks", json=body)
    assert answer.status_code == status
    assert answer.json()["what"]
    assert call("GET", f"/api/jobs/{job_id}/looks").json()["noted"] == []


def test_a_log_is_added_refused_taken_out_and_restored(call: Caller, job_id: int) -> None:
    log = drive_log_csv(pool_engine(FOUR), Drive(), 3)
    address = f"/api/jobs/{job_id}/road-tests"
    added = call("POST", address, files={"log": ("drive.csv", log)})
    assert added.status_code == 201
    (test,) = added.json()
    assert test["result"]["state"] == "breathes"
    assert call("POST", address, files={"log": ("drive.csv", log)}).status_code == 409
    broken = call("POST", address, files={"log": ("broken.csv", b"not a log")})
    assert broken.status_code == 422
    assert broken.json()["place"] == "broken.csv"
    assert call("DELETE", f"/api/road-tests/{test['id']}").json() == []
    assert call("POST", f"/api/road-tests/{test['id']}/restoration").json() == [test]
    assert call("GET", address).json() == [test]


def test_the_seal_station_s_own_words(call: Caller, job_id: int, capture_id: int) -> None:
    span = call("PUT", f"/api/captures/{capture_id}/seal-span", json={"from_s": 0.4, "to_s": 2.2})
    assert (span.json()["seal_from_s"], span.json()["seal_to_s"]) == (0.4, 2.2)
    short = call("PUT", f"/api/captures/{capture_id}/seal-span", json={"from_s": 0.5, "to_s": 2.0})
    assert short.status_code == 403
    assert "one whole cranking cycle; sealing needs 2" in short.json()["what"]
    assert short.json()["kept"] == "It is as it was"
    assert call("PUT", f"/api/captures/{capture_id}/seal-span", json={"from_s": 2.0, "to_s": 0.5}).status_code == 422
    assert call("PUT", f"/api/captures/{capture_id}/seal-span", json={}).json()["seal_from_s"] is None
    assert call("PUT", f"/api/captures/{capture_id}/taken-out", json={"cylinder": 2}).json()["taken_out"] == 2
    assert call("PUT", f"/api/captures/{capture_id}/taken-out", json={"cylinder": 9}).status_code == 422
    assert call("PUT", f"/api/captures/{capture_id}/known-good", json={"good": True}).json()["known_good"] is True
    assert call("GET", f"/api/jobs/{job_id}/firing-order").json()["captures"] == 1
    refused = call("POST", f"/api/jobs/{job_id}/firing-order")
    assert refused.status_code == 403
    assert refused.json()["kept"]


@pytest.mark.parametrize(
    ("method", "address"),
    [
        ("GET", "/api/jobs/99/looks"),
        ("DELETE", "/api/looks/99"),
        ("POST", "/api/looks/99/restoration"),
        ("GET", "/api/jobs/99/road-tests"),
        ("DELETE", "/api/road-tests/99"),
        ("GET", "/api/captures/99/seal"),
        ("GET", "/api/jobs/99/firing-order"),
    ],
)
def test_what_is_not_there_is_404(call: Caller, method: str, address: str) -> None:
    answer = call(method, address)
    assert answer.status_code == 404
    assert answer.json()["what"]
