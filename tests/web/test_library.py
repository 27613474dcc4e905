"""Known good engines over the API: kept with how, compared with, refused, carried elsewhere, taught to a profile."""

from __future__ import annotations

import io
import json
import zipfile
from dataclasses import replace

import pytest

from phasko.bench.faults import DriveFaults, EngineFaults, Spread
from phasko.bench.job_sheet import BenchSheet, recorded_files
from phasko.bench.probe import Probe
from phasko.bench.scenario import PhaserCommand, Scenario, clear_flood_cranking, idling
from phasko.jobs.library import is_library
from tests.builders import FOUR, pool_engine
from tests.web.caller import Caller

COLD = replace(clear_flood_cranking(2.8), temperature="cold")
PROBES = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in pool_engine(FOUR).cams)]


@pytest.fixture
def engine_id(call: Caller) -> int:
    document = pool_engine(FOUR).model_dump_json(by_alias=True, exclude_none=True)
    return int(call("POST", "/api/engines", files={"profile": ("engine.json", document)}).json()["id"])


def recorded(
    call: Caller, engine_id: int, vehicle: str, seed: int, scenario: Scenario | None = None
) -> tuple[int, int]:
    """(job, capture) of a car of its own, by its build a little off."""
    job = call("POST", "/api/jobs", json={"vehicle": vehicle, "engine_id": engine_id}).json()["id"]
    sheet = BenchSheet(
        engine=FOUR,
        seed=seed,
        spread=Spread(edge_deg=0.1, index_deg=0.1, build_deg=0.1),
        faults=EngineFaults(DriveFaults(cam_wheel_deg={"B1E": 2.0})),
        scenario=scenario or clear_flood_cranking(2.8),
        probes=PROBES,
    )
    files = recorded_files(sheet, f"car-{seed}")
    name = f"car-{seed}"
    sent = {
        "description": (f"{name}.capture.json", files[f"{name}.capture.json"]),
        "data": (f"{name}.csv", files[f"{name}.csv"]),
    }
    capture = call("POST", f"/api/jobs/{job}/captures", files=sent).json()["id"]
    return int(job), int(capture)


def keep(call: Caller, capture_id: int, how: str) -> None:
    body = {"good": True, "how": how, "note": "at the service"}
    assert call("PUT", f"/api/captures/{capture_id}/known-good", json=body).json()["known_good_how"] == how


def references(call: Caller, job_id: int) -> set[str]:
    result = call("GET", f"/api/jobs/{job_id}/result").json()
    return {cam["reference"] for capture in result["captures"] for cam in capture["cams"]}


def test_a_later_job_is_compared_and_another_state_is_refused_until_a_person_allows_it(
    call: Caller, engine_id: int
) -> None:
    _, good = recorded(call, engine_id, "Post car 1", 31)
    keep(call, good, "marks_seen")
    like, _ = recorded(call, engine_id, "Post car 2", 32)
    assert references(call, like) == {"reference"}
    cold, _ = recorded(call, engine_id, "Post car 3", 33, COLD)
    assert references(call, cold) == {"profile"}
    (row,) = call("GET", f"/api/jobs/{cold}/known-good").json()["rows"]
    assert (row["how"], row["note"], row["compared"]) == ("marks_seen", "at the service", False)
    assert row["differs"] == ["hot, not cold"]
    told = call("GET", f"/api/jobs/{cold}/document").json()
    allowed = {**told, "compare": {"allowed": [row["file"]], "left_out": []}}
    assert call("PUT", f"/api/jobs/{cold}/document", json=allowed).status_code == 200
    assert references(call, cold) == {"reference"}
    assert call("GET", f"/api/jobs/{cold}/known-good").json()["rows"][0]["allowed"] is True
    left = {**told, "compare": {"allowed": [], "left_out": [row["file"]]}}
    call("PUT", f"/api/jobs/{like}/document", json={**left, "schema": "phasko.job/1"})
    assert references(call, like) == {"profile"}


def test_a_library_is_given_away_without_its_owners_and_taken_in_whole(call: Caller, engine_id: int) -> None:
    for seed, vehicle in ((41, "Nurse's car, plate 7"), (42, "Harbour office van")):
        _, capture = recorded(call, engine_id, vehicle, seed)
        keep(call, capture, "set_up")
    answer = call("GET", f"/api/engines/{engine_id}/library")
    assert is_library(answer.content)
    with zipfile.ZipFile(io.BytesIO(answer.content)) as archive:
        bundles = [zipfile.ZipFile(io.BytesIO(archive.read(name))) for name in archive.namelist()]
        inside = b"".join(bundle.read(name) for bundle in bundles for name in bundle.namelist())
    assert not [word for word in (b"Nurse", b"car-41", b"at the service") if word in inside]
    opened = call("POST", "/api/libraries", files={"file": ("x.known-good.zip", answer.content)})
    assert opened.status_code == 201
    assert [job["vehicle"] for job in opened.json()] == ["From a colleague", "From a colleague"]
    job, _ = recorded(call, engine_id, "Post car 9", 49)
    rows = call("GET", f"/api/jobs/{job}/known-good").json()["rows"]
    assert [row["how"] for row in rows] == ["set_up"] * 4
    refused = call("POST", "/api/libraries", files={"file": ("x.zip", b"no zip")})
    assert refused.status_code == 422
    assert refused.json()["kept"] == "Nothing was taken in"


def test_what_the_library_teaches_is_proposed_accepted_once_and_never_counted_twice(
    call: Caller, engine_id: int
) -> None:
    """Four sound engines whose exhaust wheel stands 2 degrees from the book."""
    assert call("GET", f"/api/engines/{engine_id}/proposal").json()["proposal"] is None
    assert call("GET", f"/api/engines/{engine_id}/library").status_code == 404
    for seed in range(61, 65):
        _, capture = recorded(call, engine_id, f"Post car {seed}", seed)
        keep(call, capture, "marks_seen")
    found = call("GET", f"/api/engines/{engine_id}/proposal").json()
    assert found["cars"] == [f"Post car {seed}" for seed in range(61, 65)]
    cams = {cam["cam"]: cam for cam in found["proposal"]["cams"]}
    assert cams["B1E"]["mean_moved_deg"] == pytest.approx(1.8, abs=0.3)
    assert cams["B1I"]["mean_moved_deg"] == pytest.approx(0.0, abs=0.2)
    assert all(cam["engines"] == 4 for cam in cams.values())
    assert call("POST", f"/api/engines/{engine_id}/proposal", json={"keep": ["B9X"]}).status_code == 403
    stored = call("POST", f"/api/engines/{engine_id}/proposal", json={"keep": ["B1E"]}).json()
    assert stored["version"] == 2
    document = call("GET", f"/api/engines/{stored['id']}").json()
    before = pool_engine(FOUR).cam("B1E")
    after = next(cam for cam in document["cams"] if cam["id"] == "B1E")
    assert before is not None
    moved = [edge["deg"] - old.deg for edge, old in zip(after["edges"], before.edges, strict=True)]
    assert moved == pytest.approx([cams["B1E"]["mean_moved_deg"]] * len(moved), abs=0.4)
    assert len(document["refined"]["captures"]) == 4
    # Whichever version is asked for, the newest is what is refined, and by nothing twice.
    for asked in (engine_id, stored["id"]):
        again = call("GET", f"/api/engines/{asked}/proposal").json()
        assert (again["proposal"], again["engine_id"], again["version"]) == (None, stored["id"], 2)


def test_a_sweep_comes_as_a_picture(call: Caller, engine_id: int) -> None:
    job = call("POST", "/api/jobs", json={"vehicle": "Grader 9", "engine_id": engine_id}).json()["id"]
    scenario = replace(idling(4.0), phasers_connected=True, phaser_commands={"B1I": (PhaserCommand(3.6, 4.8),)})
    probes = [Probe("crank"), Probe("cam", cam="B1I"), Probe("phaser_command", cam="B1I")]
    files = recorded_files(BenchSheet(engine=FOUR, seed=7, scenario=scenario, probes=probes), "sweep")
    sent = {
        "description": ("sweep.capture.json", files["sweep.capture.json"]),
        "data": ("sweep.csv", files["sweep.csv"]),
    }
    capture = call("POST", f"/api/jobs/{job}/captures", files=sent).json()["id"]
    (picture,) = call("GET", f"/api/captures/{capture}/sweeps").json()
    assert (picture["travel_low_deg"], picture["travel_high_deg"]) == (-50.0, 0.0)
    assert min(picture["places_deg"]) == pytest.approx(picture["low_deg"], abs=0.5)
    (driven,) = picture["driven"]
    assert (driven["from_s"], driven["to_s"]) == pytest.approx((1.1, 2.3), abs=0.01)
    assert json.dumps(picture).count("NaN") == 0
