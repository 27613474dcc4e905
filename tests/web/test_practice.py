"""Practice over the API: nothing tells the call before the learner's own, and nothing of it touches the workshop."""

from __future__ import annotations

import time
from collections.abc import Iterator
from typing import Any

import pytest
from fastapi import FastAPI

from phasko.bench.blind import drawn_car
from phasko.jobs.practice.attempt import open_attempt
from phasko.store import Database
from phasko.store.models import Attempt
from tests.web.caller import Caller
from tests.web.conftest import shared, signed_in

OWN_PLACES = ("src/phasko/jobs/practice", "src/phasko/web/routers/practising.py")

TELLS_THE_CALL = (
    "why",
    "result",
    "plan",
    "hand-over",
    "first-word",
    "hand-over/shown",
    "hand-over/file?form=html",
    "export",
    "timeline",
)
NOT_DONE_HERE = (
    ("GET", "/practice/api/jobs", None),
    ("GET", "/practice/api/logbook", None),
    ("GET", "/practice/api/workshop/export", None),
    ("POST", "/practice/api/jobs", {"vehicle": "Ferry", "engine_id": 1}),
    ("POST", "/practice/api/jobs/{job}/looks", {"question": "marks", "answer": "out"}),
    ("PUT", "/practice/api/jobs/{job}/guided", {"guide": "sensor_wires", "about": "crank"}),
    ("POST", "/practice/api/jobs/{job}/inbox", {"name": "x.csv"}),
    ("PUT", "/practice/api/jobs/{job}/engine", {"engine_id": 1}),
)


@pytest.fixture
def opened(app: FastAPI) -> Iterator[Database]:
    """The practice file of the application, closed afterwards."""
    yield app.state.practising.database()
    app.state.workshop.close()
    app.state.practising.close()


def begun(opened: Database, fault: str = "chain_jumped") -> int:
    car = drawn_car(5, engine="corvane-2.1-four", fault=fault)  # type: ignore[arg-type]
    return open_attempt(opened, Attempt(kind="made", person="Ada", topic=""), car).job_id


def sent(call: Caller, method: str, path: str, **more: Any) -> Any:
    answer = call(method, path, **more)
    assert answer.status_code < 300, answer.text
    return answer.json()


def test_no_page_tells_the_call_before_the_learner_has_called(call: Caller, opened: Database) -> None:
    job = begun(opened)
    sent(call, "POST", f"/api/practice/jobs/{job}/looks", json={"question": "marks"})
    for page in TELLS_THE_CALL:
        refused = call("GET", f"/practice/api/jobs/{job}/{page}")
        assert refused.status_code == 403, page
        assert "machine's call" in refused.json()["what"]
    called = {"fault": "chain_jumped", "sure": 0.8, "covers": "off"}
    sent(call, "POST", f"/api/practice/jobs/{job}/call", json=called)
    for page in ("why", "result", "plan"):
        assert call("GET", f"/practice/api/jobs/{job}/{page}").status_code == 200, page


@pytest.mark.exhaustive
def test_the_analysis_has_its_measurements_and_no_judgement(call: Caller, opened: Database) -> None:
    job = begun(opened)
    sent(call, "POST", f"/api/practice/jobs/{job}/looks", json={"question": "marks"})
    verdict = sent(call, "GET", f"/practice/api/jobs/{job}/analysis")["analysis"]["verdict"]
    assert verdict["undecided"] and verdict["undecided_because"] == "The call is yours."
    assert verdict["cautions"] == [] and verdict.get("next_test") is None
    called = {"fault": "chain_jumped", "sure": 0.8, "covers": "off"}
    sent(call, "POST", f"/api/practice/jobs/{job}/call", json=called)
    after = sent(call, "GET", f"/practice/api/jobs/{job}/analysis")["analysis"]["verdict"]
    assert after["faults"][0]["fault"] == "chain_jumped"


@pytest.mark.parametrize(("method", "path", "body"), NOT_DONE_HERE)
def test_what_a_practice_car_answers_itself_nobody_types_in(
    call: Caller, opened: Database, method: str, path: str, body: dict[str, object] | None
) -> None:
    job = begun(opened)
    more = {"json": body} if body is not None else {}
    refused = call(method, path.format(job=job), **more)
    assert refused.status_code == 403, refused.text
    assert refused.json()["what"] == "That is not done with a practice car"
    assert sent(call, "GET", f"/api/practice/jobs/{job}")["steps"] == []


def test_what_is_hidden_stands_in_no_answer(call: Caller, opened: Database) -> None:
    """The car itself, its fault and its size are in no page that a station asks for."""
    job = begun(opened, "crank_signal_shifted")
    for page in (
        "",
        "/document",
        "/captures",
        "/looks",
        "/complaint",
        "/hook-up?question=timing",
        "/road-tests",
        "/photos",
    ):
        text = call("GET", f"/practice/api/jobs/{job}{page}").text
        assert "simulated" not in text and "crank_wheel_deg" not in text
        assert "crank_signal_shifted" not in text, page
    attempt = sent(call, "GET", f"/api/practice/jobs/{job}")
    assert attempt["points"] is None
    assert "hidden" not in attempt and "car" not in attempt


def test_practice_and_workshop_know_nothing_of_each_other(call: Caller, opened: Database) -> None:
    job = begun(opened)
    assert call("GET", f"/api/jobs/{job}").status_code == 404
    assert sent(call, "GET", "/api/jobs") == []
    assert sent(call, "GET", "/api/engines") == []
    assert call("GET", "/practice/api/jobs/99").status_code == 404
    assert call("GET", "/api/practice/jobs/99").status_code == 404


@pytest.mark.exhaustive
def test_a_recording_goes_on_the_clock_and_the_leads_stay_on(call: Caller, opened: Database) -> None:
    job = begun(opened)
    path = f"/practice/api/jobs/{job}/hook-up"
    page = sent(call, "GET", path)
    assert page["question"]["id"] == "timing", "what the machine would test first is not proposed"
    ticked = [caution["id"] for caution in page["cautions"]]
    sent(call, "PUT", path, json={**page["hook_up"], "question": "timing", "channels": 4, "ticked": ticked})
    for minutes in (15.0, 18.0):
        sent(call, "POST", f"/practice/api/jobs/{job}/recording", json={"said": {"phasers": "unplugged"}})
        until(call, job, 1.5)
        sent(call, "POST", f"/practice/api/jobs/{job}/recording/end")
        attempt = sent(call, "GET", f"/api/practice/jobs/{job}")
        assert attempt["minutes"] == minutes
    assert [step["kind"] for step in attempt["steps"]] == ["capture", "capture"]
    offsets = {
        cam["cam"]: cam["offset_deg"]
        for cam in sent(call, "GET", f"/practice/api/jobs/{job}/analysis")["analysis"]["captures"][0]["cams"]
    }
    hidden = drawn_car(5, engine="corvane-2.1-four", fault="chain_jumped").hidden.valves_deg
    for cam, deg in hidden.items():
        assert offsets[cam] == pytest.approx(deg, abs=2.0)


def until(call: Caller, job: int, seconds: float) -> None:
    ends = time.monotonic() + 60.0
    while time.monotonic() < ends:
        view = sent(call, "GET", f"/practice/api/jobs/{job}/recording")
        assert view["phase"] != "failed", view["failure"]
        if view["seconds"] > seconds:
            return
        time.sleep(0.1)
    raise AssertionError("nothing was recorded")


@pytest.mark.exhaustive
def test_a_wrong_range_gives_what_a_wrong_range_gives(call: Caller, opened: Database) -> None:
    """Five volts in a range of two end at two: the levels are none that such a sensor has, and it is said."""
    job = begun(opened, "none")
    path = f"/practice/api/jobs/{job}/hook-up"
    page = sent(call, "GET", path)
    ticked = [caution["id"] for caution in page["cautions"]]
    ranges = {lead["key"]: 2.0 for lead in page["rounds"][0] if lead["role"] == "crank"}
    kept = {**page["hook_up"], "question": "timing", "channels": 4, "ticked": ticked, "ranges_v": ranges}
    shown = sent(call, "PUT", path, json=kept)
    lead = next(lead for lead in shown["rounds"][0] if lead["role"] == "crank")
    assert (lead["range_v"], lead["planned_range_v"] > 2.0) == (2.0, True)
    sent(call, "POST", f"/practice/api/jobs/{job}/recording", json={"said": {"phasers": "unplugged"}})
    until(call, job, 1.5)
    sent(call, "POST", f"/practice/api/jobs/{job}/recording/end")
    capture = sent(call, "GET", f"/practice/api/jobs/{job}/analysis")["analysis"]["captures"][0]
    told = [problem for problem in capture["problems"] if problem["code"] == "implausible_levels"]
    assert [problem["channel"] for problem in told] == ["c1"]


def test_a_car_that_does_not_start_is_not_recorded_running(call: Caller, opened: Database) -> None:
    job = begun(opened, "drive_broken")
    path = f"/practice/api/jobs/{job}/hook-up"
    page = sent(call, "GET", f"{path}?question=running")
    ticked = [caution["id"] for caution in page["cautions"]]
    sent(call, "PUT", path, json={**page["hook_up"], "question": "running", "ticked": ticked})
    refused = call("POST", f"/practice/api/jobs/{job}/recording", json={})
    assert refused.status_code == 403 and "does not start" in refused.json()["what"]
    assert sent(call, "GET", f"/api/practice/jobs/{job}")["minutes"] == 0.0


@pytest.mark.exhaustive
def test_codes_are_read_once_on_the_clock(call: Caller, opened: Database) -> None:
    job = begun(opened)
    for _ in range(2):
        sent(call, "POST", f"/practice/api/jobs/{job}/scan")
    attempt = sent(call, "GET", f"/api/practice/jobs/{job}")
    assert [step["kind"] for step in attempt["steps"]] == ["scan"]


def test_whoever_may_look_may_practise_and_nobody_else(database: Database) -> None:
    app = shared(database)
    reader = signed_in(app, "Odo")
    body = {"person": "Odo", "class_name": "Autumn", "number": 1}
    made = sent(reader, "POST", "/api/practice/cars", json=body)
    assert made["number"] == 1
    stranger = Caller(app)
    assert stranger("GET", "/api/practice/lessons").status_code == 401
    assert stranger("GET", f"/practice/api/jobs/{made['job_id']}").status_code == 401
    refused = reader("POST", "/api/jobs", json={"vehicle": "Ferry", "engine_id": 1})
    assert refused.status_code == 403, "the workshop's own jobs stay closed to a reader"
    app.state.practising.close()


def test_screens_of_practice_are_pages(call: Caller) -> None:
    for screen in ("/practice", "/practice/", "/practice/jobs/3/look", "/practice/lessons/4"):
        answer = call("GET", screen)
        assert answer.status_code in (200, 503), screen
        assert "application/json" not in answer.headers["content-type"] or answer.status_code == 503


@pytest.mark.exhaustive
def test_a_lesson_is_the_same_for_one_seed_and_marked_once(call: Caller, opened: Database) -> None:
    body = {"person": "Ada", "seed": 9}
    first, second = (sent(call, "POST", "/api/practice/lessons/pitch", json=body) for _ in range(2))
    assert first["job_id"] != second["job_id"]
    assert first["text"] == second["text"]
    assert all(one["said"] == "" for one in first["asked"]), "nothing is told before it is answered"
    missing = call("POST", f"/api/practice/jobs/{first['job_id']}/answers", json={"answers": {"teeth": 2.9}})
    assert missing.status_code == 422 and "Still to answer" in missing.json()["what"]
    answers = {"answers": {"teeth": 900.0, "degrees": 900.0, "pitches": 900.0}}
    marked = sent(call, "POST", f"/api/practice/jobs/{first['job_id']}/answers", json=answers)
    assert marked["points"] == 0.0 and marked["after"]
    assert call("POST", f"/api/practice/jobs/{first['job_id']}/answers", json=answers).status_code == 403
    assert call("POST", "/api/practice/lessons/astrology", json=body).status_code == 404


def test_the_sheet_of_a_class_is_a_table(call: Caller, opened: Database) -> None:
    for person in ("Ada", "Ben"):
        body = {"person": person, "class_name": "Autumn", "number": 1}
        job = sent(call, "POST", "/api/practice/cars", json=body)["job_id"]
        sent(call, "POST", f"/api/practice/jobs/{job}/call", json={"fault": "none", "sure": 0.3, "covers": "on"})
    sheet = call("GET", "/api/practice/sheet?class_name=Autumn")
    rows = sheet.text.splitlines()
    assert sheet.headers["content-type"].startswith("text/csv")
    assert [row.split(",")[2] for row in rows[1:]] == ["Ada", "Ben"]
    truths = {row.split(",")[3] for row in rows[1:]}
    assert len(truths) == 1, "both had the same car"
    home = sent(call, "GET", "/api/practice?person=Ada&class_name=Autumn")
    assert home["next_number"] == 2
    assert len(home["curve"]) == 1
