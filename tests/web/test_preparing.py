"""Complaint, plan, hook-up and guides over the API."""

from __future__ import annotations

from typing import Any

import pytest

from tests.builders import FOUR, pool_engine
from tests.web.caller import Caller

MAKERS_OWN = "P1" + "000"


@pytest.fixture
def job(call: Caller) -> int:
    document = pool_engine(FOUR).model_dump_json(by_alias=True, exclude_none=True)
    engine = call("POST", "/api/engines", files={"profile": ("engine.json", document)}).json()["id"]
    body = {"vehicle": "Harbour pick-up 9", "engine_id": engine, "complaint": "Stalls", "codes": ["p0016", MAKERS_OWN]}
    return int(call("POST", "/api/jobs", json=body).json()["id"])


def got(call: Caller, path: str) -> Any:
    answer = call("GET", path)
    assert answer.status_code == 200, answer.text
    return answer.json()


def told(call: Caller, job: int, **parts: object) -> None:
    document = {**got(call, f"/api/jobs/{job}/document"), **parts}
    answer = call("PUT", f"/api/jobs/{job}/document", json=document)
    assert answer.status_code == 200, answer.text


def test_codes_are_explained_and_a_makers_own_is_not_guessed(call: Caller, job: int) -> None:
    page = got(call, f"/api/jobs/{job}/complaint")
    first, own = page["codes"]
    assert first["title"] == "Crankshaft Position - Camshaft Position Correlation (Bank 1 Sensor A)"
    assert "intake cam" in first["says"]
    assert own["title"] is None and "not guessed" in own["says"]
    assert got(call, "/api/code-titles")["P0340"].startswith("Camshaft Position Sensor")


def test_everything_that_was_told_can_be_changed_later_and_the_board_shows_it(call: Caller, job: int) -> None:
    complaint = {"text": "Stalls hot", "symptoms": ["stalls"], "when": ["hot"], "lamp": "flashing", "since": "a week"}
    told(call, job, complaint=complaint, codes=[{"code": "P0341", "freeze_frame": {"rpm": 800, "coolant_c": 92}}])
    assert got(call, f"/api/jobs/{job}")["complaint"] == "Stalls hot"
    assert got(call, f"/api/jobs/{job}")["codes"] == ["P0341"]
    assert "catalyst" in got(call, f"/api/jobs/{job}/complaint")["lamp"]
    told(call, job, complaint=None, codes=[])
    assert got(call, f"/api/jobs/{job}")["complaint"] == ""
    assert got(call, f"/api/jobs/{job}")["codes"] == []


def test_the_vehicle_gets_another_name_but_never_none(call: Caller, job: int) -> None:
    changed = call("PUT", f"/api/jobs/{job}/vehicle", json={"vehicle": "Harbour pick-up 8", "make_model": "Corvane"})
    assert changed.json()["vehicle"] == "Harbour pick-up 8"
    refused = call("PUT", f"/api/jobs/{job}/vehicle", json={"vehicle": "  "})
    assert refused.status_code == 422 and "needs a vehicle" in refused.json()["what"]


def test_pasted_text_is_read_and_nothing_is_stored(call: Caller, job: int) -> None:
    read = call("POST", "/api/pasted-codes", json={"text": "P0335 pending\n 900 rpm\nodometer 88000 km"}).json()
    assert read["codes"][0]["status"] == "pending" and read["distance_km"] == 88000
    assert got(call, f"/api/jobs/{job}")["codes"] == ["P0016", MAKERS_OWN]
    empty = call("POST", "/api/pasted-codes", json={"text": "nothing here"})
    assert empty.status_code == 422 and "no code" in empty.json()["what"]


def test_the_plan_is_redone_after_each_answer(call: Caller, job: int) -> None:
    before = got(call, f"/api/jobs/{job}/plan")["tests"]
    assert before[0]["test"] == "marks" and before[0]["look"] == "marks"
    call("POST", f"/api/jobs/{job}/looks", json={"question": "marks", "answer": "true"})
    after = got(call, f"/api/jobs/{job}/plan")["tests"]
    assert "marks" not in {one["test"] for one in after}


def test_a_hook_up_is_planned_ticked_and_asked_anew_for_another_question(call: Caller, job: int) -> None:
    page = got(call, f"/api/jobs/{job}/hook-up?question=timing&channels=2")
    assert (page["channels"], len(page["rounds"])) == (2, 2)
    assert got(call, f"/api/jobs/{job}")["hook_up"]["channels"] == 0
    ids = [caution["id"] for caution in page["cautions"]]
    wires = [{"signal": "crank@sensor", "at": "sensor", "pin": "2", "colour": "violet"}]
    body = {"question": "timing", "channels": 4, "ticked": ids, "wires": wires, "clear_flood": "proved"}
    kept = call("PUT", f"/api/jobs/{job}/hook-up", json=body).json()
    assert kept["rounds"][0][0]["wire"]["colour"] == "violet"
    note = got(call, f"/api/jobs/{job}")["hook_up"]
    assert note["channels"] == 4 and 0 < note["ticked"] <= note["cautions"]
    other = call("PUT", f"/api/jobs/{job}/hook-up", json={**body, "question": "running"}).json()
    assert not any(caution["ticked"] for caution in other["cautions"])
    assert other["rounds"][0][0]["wire"]["pin"] == "2"


def test_a_hook_up_that_the_engine_does_not_have_is_refused(call: Caller, job: int) -> None:
    for answer in (
        call("GET", f"/api/jobs/{job}/hook-up?question=sync"),
        call("PUT", f"/api/jobs/{job}/hook-up", json={"question": "tea", "channels": 4}),
    ):
        assert answer.status_code == 422 and "no hook-up" in answer.json()["what"]


def test_readings_with_a_meter_are_kept_with_a_verdict_and_count_as_a_look(call: Caller, job: int) -> None:
    readings = {"volt1": 0.1, "volt2": 0.0, "volt3": 0.2, "ohm1": 9000, "ohm2": 0.5, "ohm3": 9000}
    page = call(
        "PUT", f"/api/jobs/{job}/guided", json={"guide": "sensor_wires", "about": "crank", "readings": readings}
    ).json()
    assert page["guided"][0]["words"] == "No wire has a supply with the key on."
    assert page["guided"][0]["noted"] == "sensor_wires"
    noted = got(call, f"/api/jobs/{job}/looks")["noted"]
    assert [(look["question"], look["answer_id"]) for look in noted] == [("sensor_wires", "supply_missing")]
    again = {"guide": "sensor_wires", "about": "crank", "readings": {**readings, "volt1": 5.0}}
    page = call("PUT", f"/api/jobs/{job}/guided", json=again).json()
    assert len(page["guided"]) == 1 and "Wire 1 is the supply" in page["guided"][0]["words"]
    assert got(call, f"/api/jobs/{job}/looks")["noted"][0]["answer_id"] == "right"


def test_a_reading_that_a_guide_does_not_ask_for_is_refused(call: Caller, job: int) -> None:
    wrong = call("PUT", f"/api/jobs/{job}/guided", json={"guide": "ground", "readings": {"volts": 3}})
    assert wrong.status_code == 422 and "asks for no 'volts'" in wrong.json()["what"]
    unknown = call("PUT", f"/api/jobs/{job}/guided", json={"guide": "tea"})
    assert unknown.status_code == 422 and "no guide" in unknown.json()["what"]
    assert got(call, f"/api/jobs/{job}/looks")["noted"] == []


def test_a_test_with_a_before_and_an_after_is_noted_with_both_captures(call: Caller, job: int) -> None:
    page = got(call, f"/api/jobs/{job}/hook-up?question=timing")
    tests = {one["id"]: one for one in page["before_after"]}
    assert {"cold_strategy", "sensor_unplugged", "coil_swapped", "exhaust_opened", "fuel_by_hand"} <= set(tests)
    assert all(one["outcomes"] and one["steps"] and one["caution"] for one in tests.values())
    answers = {"before": "start-1", "after": "start-2", "outcome": "starts"}
    page = call("PUT", f"/api/jobs/{job}/guided", json={"guide": "cold_strategy", "answers": answers}).json()
    assert page["guided"][0]["words"] == "It starts now (before start-1, after start-2)."
    noted = got(call, f"/api/jobs/{job}/looks")["noted"][0]
    assert (noted["question"], noted["answer_id"]) == ("cold_strategy", "starts")
    assert noted["note"] == "Between start-1 and start-2"
    wrong = call("PUT", f"/api/jobs/{job}/guided", json={"guide": "cold_strategy", "answers": {"outcome": "tea"}})
    assert wrong.status_code == 422 and "no answer" in wrong.json()["what"]
