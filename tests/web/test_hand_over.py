"""The hand-over, photos, closing and the logbook over HTTP."""

from __future__ import annotations

import io
import zipfile

import pytest
from fastapi import FastAPI

from phasko.core.handover import HandOver
from phasko.store import Database
from tests.builders import FOUR, bench_files, pool_engine
from tests.jobs.handing_over.test_photos import picture
from tests.web.caller import Caller
from tests.web.conftest import shared, signed_in


@pytest.fixture
def job_id(call: Caller) -> int:
    """A job with a chain that jumped."""
    document = pool_engine(FOUR).model_dump_json(by_alias=True, exclude_none=True)
    engine = call("POST", "/api/engines", files={"profile": ("engine.json", document)}).json()["id"]
    job = call("POST", "/api/jobs", json={"vehicle": "Rowan 12", "engine_id": engine, "codes": ["P0016"]}).json()["id"]
    add(call, job, "before", B1I=17.14, B1E=17.14)
    return int(job)


def add(call: Caller, job: int, name: str, **cams: float) -> int:
    files = bench_files(name, **cams)
    sent = {"description": (files.description_name, files.description), "data": (files.data_name, files.data)}
    return int(call("POST", f"/api/jobs/{job}/captures", files=sent).json()["id"])


def test_the_document_and_every_page_of_it(call: Caller, job_id: int) -> None:
    document = HandOver.model_validate(call("GET", f"/api/jobs/{job_id}/hand-over").json())
    assert document.headline.startswith("Chain jumped one pitch late.")
    word = call("GET", f"/api/jobs/{job_id}/first-word").json()["text"]
    assert word.splitlines()[0] == f"Rowan 12: {document.headline}"
    for page in ("full", "owner", "first"):
        assert (
            "<svg" in call("GET", f"/api/jobs/{job_id}/hand-over/shown?page={page}").json()["html"] or page == "owner"
        )
    for form, begins in (("html", b"<!doctype"), ("pdf", b"%PDF"), ("png", b"\x89PNG"), ("json", b"{")):
        answer = call("GET", f"/api/jobs/{job_id}/hand-over/file?form={form}&page=first")
        assert answer.content.startswith(begins)
        assert answer.headers["content-disposition"].startswith("attachment")
    assert call("GET", f"/api/jobs/{job_id}/hand-over/file?form=docx").status_code == 422


def test_who_is_signed_in_stands_on_the_page(database: Database) -> None:
    app: FastAPI = shared(database)
    mira = signed_in(app, "Mira")
    document = pool_engine(FOUR).model_dump_json(by_alias=True, exclude_none=True)
    engine = mira("POST", "/api/engines", files={"profile": ("engine.json", document)}).json()["id"]
    job = mira("POST", "/api/jobs", json={"vehicle": "Rowan 12", "engine_id": engine}).json()["id"]
    assert mira("GET", f"/api/jobs/{job}/hand-over").json()["head"]["measured_by"] == "Mira"
    mira("POST", f"/api/jobs/{job}/notes", json={"text": "rang the owner"})
    assert mira("GET", f"/api/jobs/{job}/document").json()["notes"][0]["by"] == "Mira"


def test_a_photo_comes_and_goes(call: Caller, job_id: int) -> None:
    sent = {"photo": ("mark.png", picture("PNG"))}
    stored = call("POST", f"/api/jobs/{job_id}/photos", files=sent, data={"station": "look", "caption": "mark"})
    assert stored.status_code == 201
    photo = stored.json()["id"]
    answer = call("GET", f"/api/photos/{photo}")
    assert (answer.headers["content-type"], answer.content[:2]) == ("image/jpeg", b"\xff\xd8")
    assert call("POST", f"/api/jobs/{job_id}/photos", files=sent, data={"station": "roof"}).status_code == 422
    text = {"photo": ("x.png", b"nothing")}
    refused = call("POST", f"/api/jobs/{job_id}/photos", files=text, data={"station": "look"})
    assert refused.status_code == 422 and "no photo" in refused.json()["what"]
    assert call("DELETE", f"/api/photos/{photo}").status_code == 204
    assert call("GET", f"/api/jobs/{job_id}/photos").json() == []
    assert call("POST", f"/api/photos/{photo}/restoration").json()["caption"] == "mark"


def test_repaired_proved_closed_and_learnt_from(call: Caller, job_id: int) -> None:
    repair = {"opened": True, "found": [{"fault": "chain_jumped"}], "done_at": "2026-11-20T12:00:00+00:00"}
    assert call("PUT", f"/api/jobs/{job_id}/repair", json=repair).json()["repair"]["opened"] is True
    (row,) = call("GET", "/api/logbook?state=open").json()["rows"]
    assert row["status"] == "to_prove"
    closed = call("POST", f"/api/jobs/{job_id}/closing", json={"cause": "confirmed"}).json()
    assert closed["closing"]["called"]["faults"][0]["fault"] == "chain_jumped"
    learnt = call("GET", "/api/learning").json()
    assert (learnt["own"]["closed"], learnt["own"]["right"]) == (1, 1)
    assert call("PUT", "/api/learning/odds", json={"moved": True}).status_code == 403
    assert call("GET", "/api/logbook?text=rowan&cause=confirmed").json()["total"] == 1
    assert call("DELETE", f"/api/jobs/{job_id}/closing").json().get("closing") is None


def test_a_job_is_carried_as_open_files(call: Caller, job_id: int, tmp_path_factory: pytest.TempPathFactory) -> None:
    content = call("GET", f"/api/jobs/{job_id}/export").content
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        assert "workshop.json" in archive.namelist() and "jobs/00001/captures/001/before.csv" in archive.namelist()
    again = call("POST", "/api/workshop/import", files={"archive": ("a.zip", content)}).json()
    assert (again["job_ids"], again["already"]) == ([], 1)
    bad = call("POST", "/api/workshop/import", files={"archive": ("a.zip", content[: len(content) // 2])})
    assert bad.status_code == 422 and bad.json()["kept"] == "Nothing was taken in"


def test_a_capture_gets_a_name_and_nothing_is_measured_anew(call: Caller, job_id: int) -> None:
    before = call("GET", f"/api/jobs/{job_id}/result").json()
    capture = call("GET", f"/api/jobs/{job_id}/captures").json()[0]["id"]
    assert call("PUT", f"/api/captures/{capture}/title", json={"title": " Hot, throttle open "}).json()["title"] == (
        "Hot, throttle open"
    )
    assert call("GET", f"/api/jobs/{job_id}/result").json() == before
    assert call("GET", f"/api/jobs/{job_id}/hand-over").json()["captures"][0]["title"] == "Hot, throttle open"
