"""What no recording or document holds: refused with its reason, stored nowhere, and no list falls over it."""

from __future__ import annotations

import json
from typing import Any

import pytest

from phasko.store import Database
from phasko.store.models import Capture
from tests.builders import FOUR, bench_files, pool_engine
from tests.web.caller import Caller

ENGINE = pool_engine(FOUR).model_dump_json(by_alias=True, exclude_none=True).encode()
HUGE = 2**63


@pytest.fixture
def job(call: Caller) -> int:
    engine = call("POST", "/api/engines", files={"profile": ("e.json", ENGINE)}).json()["id"]
    about = {"vehicle": "Van", "make_model": "", "complaint": "", "codes": [], "engine_id": engine}
    return int(call("POST", "/api/jobs", json=about).json()["id"])


def brought(call: Caller, job: int, **changes: Any) -> Any:
    """A capture whose description was changed, with what the server says."""
    files = bench_files()
    described = json.loads(files.description)
    described |= changes.pop("whole", {})
    described["channels"][0] |= changes
    sent = (files.description_name, json.dumps(described).encode())
    return call("POST", f"/api/jobs/{job}/captures", files={"description": sent, "data": (files.data_name, files.data)})


@pytest.mark.parametrize(
    ("document", "said"),
    [
        (b"[" * 100_000, "nested too deeply"),
        (b'{"a":' + b"9" * 5000 + b"}", "thousands of digits"),
        (b'{"name":"a","name":"b"}', "names name twice"),
        (b" " * (9 << 20), "too long for a document"),
        (b"\xff\xfe\x00", "not text"),
        (b"NaN", "document"),
        (b'"\\ud800"', "document"),
    ],
)
def test_documents_that_are_none(call: Caller, document: bytes, said: str) -> None:
    answer = call("POST", "/api/engines", files={"profile": ("e.json", document)})
    assert answer.status_code == 422
    assert said in answer.json()["what"]
    assert call("GET", "/api/engines").json() == []


def test_a_byte_order_mark_or_utf_16_takes_no_list_down(call: Caller) -> None:
    for document in (b"\xef\xbb\xbf" + ENGINE, ENGINE.decode().encode("utf-16")):
        assert call("POST", "/api/engines", files={"profile": ("e.json", document)}).status_code == 201
    assert len(call("GET", "/api/engines").json()) == 1


@pytest.mark.parametrize(
    "changes",
    [
        {"filter_hz": 1e-300},
        {"filter_hz": 1e300},
        {"scale": 1e308},
        {"scale": 1e-300},
        {"offset": -1e300},
        {"whole": {"interval_s": 1e-300}},
        {"whole": {"interval_s": 1e308}},
        {"whole": {"marks": [{"t_s": 1e308}]}},
        {"whole": {"seal_from_s": -1e308}},
    ],
)
def test_values_that_no_recording_has_are_not_stored(call: Caller, job: int, changes: dict[str, Any]) -> None:
    answer = brought(call, job, **changes)
    assert answer.status_code == 422
    assert answer.json()["kept"] == "The job is as it was"
    assert call("GET", f"/api/jobs/{job}/captures").json() == []


@pytest.mark.parametrize("step", ["1e-300", "1e300", "1e5"])
def test_times_that_no_recording_has_are_not_stored(call: Caller, job: int, step: str) -> None:
    rows = "".join(f"{k * float(step)!r},{k % 2}\n" for k in range(1, 60))
    data = ("t.csv", f"time_s,c1\n{rows}".encode())
    answer = call("POST", f"/api/jobs/{job}/captures", files={"data": data})
    assert answer.status_code == 422
    assert call("GET", f"/api/jobs/{job}/captures").json() == []


@pytest.mark.parametrize(
    ("path", "status"),
    [
        (f"/api/jobs/{HUGE}", 404),
        (f"/api/jobs/{'9' * 5000}", 422),
        (f"/api/captures/{HUGE}/raw-head", 404),
        (f"/api/engines/{HUGE}", 404),
        ("/api/captures/1/raw-head?from_s=1e308&to_s=-1e308", 422),
        ("/api/captures/1/raw-head?from_s=5&to_s=-5", 200),
        ("/api/captures/1/between?a_s=1e308&b_s=0", 422),
        ("/api/captures/1/edges?from_s=-1e308&to_s=1e308", 422),
    ],
)
def test_numbers_and_times_beyond_everything(call: Caller, job: int, path: str, status: int) -> None:
    assert brought(call, job).status_code == 201
    answer = call("GET", path)
    assert answer.status_code == status
    if status != 200:
        assert set(answer.json()) == {"what", "place", "kept", "remedy"}


def test_a_number_in_a_body_beyond_everything(call: Caller, job: int) -> None:
    about = {"vehicle": "Van", "make_model": "", "complaint": "", "codes": [], "engine_id": HUGE}
    assert call("POST", "/api/jobs", json=about).status_code == 404
    assert len(call("GET", "/api/jobs").json()) == 1


def test_one_row_that_cannot_be_read_takes_no_list_down(call: Caller, job: int, database: Database) -> None:
    """Whatever an older version stored: the others are shown, and that one with its reason."""
    assert brought(call, job).status_code == 201
    with database.transaction() as session:
        held = session.query(Capture).one()
        session.add(
            Capture(
                job_id=job,
                name="odd.capture.json",
                sha256="s",
                data_sha256="other",
                description='{"schema": "phasko.capture/1"',
                start_s=0.0,
                interval_s=1.0,
                sample_count=2,
                confirmed_at="then",
                arrived_at=held.arrived_at,
            )
        )
    listed = call("GET", f"/api/jobs/{job}/captures").json()
    assert listed[0]["unreadable"] is None
    assert "is not JSON" in listed[1]["unreadable"]
    assert [row["name"] for row in listed] == ["bench", "odd"]
    assert call("GET", "/api/jobs").status_code == 200
    assert call("GET", f"/api/jobs/{job}/analysis").status_code == 200
    assert call("DELETE", f"/api/captures/{listed[1]['id']}").status_code < 300


@pytest.mark.parametrize("name", ["エンジン二号", "двигатель", "äöü" * 60, 'a"b;c', "a\r\nb"])
def test_an_engine_of_any_name_can_be_saved_as_a_file(call: Caller, name: str) -> None:
    profile = pool_engine(FOUR).model_copy(update={"name": name})
    text = profile.model_dump_json(by_alias=True, exclude_none=True)
    stored = call("POST", "/api/engines", files={"profile": ("e.json", text)})
    assert stored.status_code == 201
    saved = call("GET", f"/api/engines/{stored.json()['id']}/file")
    assert saved.status_code == 200
    assert "\n" not in saved.headers["content-disposition"]
    assert json.loads(saved.text)["name"] == name


LONG = "x" * (1 << 20)
PROFILE = pool_engine(FOUR).model_dump_json(by_alias=True, exclude_none=True)


@pytest.mark.parametrize(
    ("method", "path", "body"),
    [
        ("POST", "/api/jobs", {"vehicle": LONG, "engine_id": 1}),
        ("POST", "/api/jobs", {"vehicle": "Van", "complaint": LONG, "engine_id": 1}),
        ("POST", "/api/jobs", {"vehicle": "Van", "codes": [LONG], "engine_id": 1}),
        ("PUT", "/api/jobs/1/document", {"schema": "phasko.job/1", "complaint": {"text": LONG}}),
        ("POST", "/api/jobs/1/looks", {"question": "marks", "answer": "out", "note": LONG}),
        ("POST", "/api/people", {"name": LONG, "role": "lead", "passphrase": "four good long words"}),
        ("POST", "/api/people", {"name": "Ida", "role": "lead", "passphrase": LONG}),
        ("PUT", "/api/captures/1/marks", {"marks": [{"t_s": 0.5, "text": LONG}]}),
        ("POST", "/api/captures/1/learnt-engine", {"name": LONG}),
    ],
)
def test_texts_of_a_megabyte_are_refused(call: Caller, method: str, path: str, body: dict[str, object]) -> None:
    call("POST", "/api/engines", files={"profile": ("e.json", PROFILE)})
    call("POST", "/api/jobs", json={"vehicle": "Van", "engine_id": 1})
    answer = call(method, path, json=body)
    assert answer.status_code in (403, 404, 422)
    assert len(answer.text) < 2000


@pytest.mark.parametrize(("name", "status"), [("é" * 200, 201), ("x" * 1000, 422), (LONG, 400)])
def test_long_file_names(call: Caller, name: str, status: int) -> None:
    call("POST", "/api/engines", files={"profile": ("e.json", PROFILE)})
    call("POST", "/api/jobs", json={"vehicle": "Van", "engine_id": 1})
    rows = b"time_s,c1\n0,1\n1,2\n2,1\n3,4\n"
    answer = call("POST", "/api/jobs/1/captures", files={"data": (f"{name}.csv", rows)})
    assert answer.status_code == status
    assert len(answer.text) < 2000
    stored = call("GET", "/api/jobs/1/captures").json()
    assert [one["name"] for one in stored] == ([name] if status == 201 else [])
