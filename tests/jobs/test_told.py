"""What a person knows beside the captures: read from a file, kept in the store, written out as the same document."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from phasko.cli import main
from phasko.core.documents.job import JobDocument
from phasko.core.errors import DocumentError
from phasko.jobs.analysing import analyse_stored_job
from phasko.jobs.from_files import analyse_files
from phasko.jobs.looking import note_look
from phasko.jobs.opening import JobSummary
from phasko.jobs.told import job_document, tell
from phasko.store import Database
from tests.builders import FOUR, bench_files, pool_engine, saw

WHOLE: dict[str, Any] = {
    "schema": "phasko.job/1",
    "complaint": {
        "text": "Tired since the belt was done",
        "symptoms": ["lack_of_power"],
        "when": ["after_repair"],
        "distance_km": 93000,
    },
    "codes": [{"code": "P0016", "status": "stored", "returned": True}],
    "replaced": [{"part": "drive", "when": "before_symptom", "effect": "changed"}],
    "looks": [
        {"question": "marks", "answer": "out", "cam": "B1I", "amount_deg": 16},
        {"question": "leak_down", "cylinder": 3, "value": 45},
    ],
    "limit": {"school": "maker", "cam_deg": 8.0},
    "minutes": {"marks": 90},
    "costs": {"labour_per_hour": 80, "currency": "EUR"},
}


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    files = bench_files(B1I=17.1, B1E=17.1)
    (tmp_path / files.description_name).write_bytes(files.description)
    (tmp_path / files.data_name).write_bytes(files.data)
    (tmp_path / "engine.json").write_text(pool_engine(FOUR).model_dump_json(by_alias=True, exclude_none=True))
    return tmp_path


def written(folder: Path, **changes: Any) -> Path:
    path = folder / "job.json"
    path.write_text(json.dumps({**WHOLE, **changes}))
    return path


def test_the_whole_document_is_read_and_moves_the_call(folder: Path) -> None:
    capture, engine = folder / "bench.capture.json", folder / "engine.json"
    plain = analyse_files([capture], engine)
    told = analyse_files([capture], engine, (), written(folder))
    assert told.verdict.faults[0].probability > plain.verdict.faults[0].probability
    assert [look.question for look in told.looks] == ["marks", "leak_down"]
    assert any(school.used and "8°" in school.words for school in told.verdict.schools)
    assert told.verdict.costs is not None
    assert "EUR" in told.verdict.costs.text
    assert any(n.text == "Code P0016" for n in told.verdict.not_counted)


def test_an_empty_document_changes_nothing(folder: Path) -> None:
    capture, engine = folder / "bench.capture.json", folder / "engine.json"
    empty = folder / "job.json"
    empty.write_text('{"schema": "phasko.job/1"}')
    assert analyse_files([capture], engine, (), empty) == analyse_files([capture], engine)


def test_a_job_needs_no_capture(folder: Path, capsys: pytest.CaptureFixture[str]) -> None:
    job = written(folder)
    assert main(["analyze", "--engine", str(folder / "engine.json"), "--job", str(job), "--json"]) == 0
    document = json.loads(capsys.readouterr().out)
    assert document["captures"] == []
    assert document["verdict"]["teardown"] != "go"


@pytest.mark.parametrize(
    ("changes", "names"),
    [
        ({"looks": [{"question": "smell", "answer": "bad"}]}, "smell"),
        ({"looks": [{"question": "oil", "answer": "blue"}]}, "blue"),
        ({"looks": [{"question": "marks", "answer": "out", "cam": "B9I"}]}, "B9I"),
        ({"minutes": {"prayer": 3}}, "prayer"),
        ({"complaint": {"symptoms": ["sad"]}}, "symptoms"),
        ({"replaced": [{"part": "radio"}]}, "part"),
        ({"weather": "rain"}, "weather"),
    ],
)
def test_unknown_words_are_an_error_that_names_them(
    folder: Path, changes: dict[str, Any], names: str, capsys: pytest.CaptureFixture[str]
) -> None:
    job = written(folder, **changes)
    capture, engine = str(folder / "bench.capture.json"), str(folder / "engine.json")
    assert main(["analyze", capture, "--engine", engine, "--job", str(job)]) == 2
    said = capsys.readouterr().err
    assert names in said
    assert "job.json" in said
    assert said.count("\n") == 1


def test_nothing_at_all_is_refused(folder: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["analyze", "--engine", str(folder / "engine.json")]) == 2
    assert "nothing to analyse" in capsys.readouterr().err


def test_the_schema_is_printed(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["schema", "job"]) == 0
    assert "looks" in json.loads(capsys.readouterr().out)["properties"]


def test_what_was_told_is_kept_and_written_out_with_the_looks(database: Database, job: JobSummary) -> None:
    tell(database, job.id, JobDocument.model_validate(WHOLE))
    note_look(database, job.id, saw("oil", "low"))
    kept = job_document(database, job.id)
    assert kept.limit is not None
    assert kept.limit.cam_deg == 8.0
    assert [look.question for look in kept.looks] == ["oil"], "looks have their own way in"
    assert kept.codes[0].returned is True
    with pytest.raises(DocumentError):
        tell(database, job.id, JobDocument.model_validate({**WHOLE, "minutes": {"prayer": 1}}))
    assert job_document(database, job.id) == kept


def test_a_job_that_was_only_opened_has_its_complaint_and_codes(database: Database, job: JobSummary) -> None:
    kept = job_document(database, job.id)
    assert kept.complaint is not None
    assert kept.complaint.text == job.complaint
    assert [code.code for code in kept.codes] == job.codes


def test_telling_makes_the_result_stale(database: Database, job: JobSummary) -> None:
    note_look(database, job.id, saw("marks", "out"))
    before = analyse_stored_job(database, job.id)
    tell(database, job.id, JobDocument.model_validate({**WHOLE, "looks": []}))
    after = analyse_stored_job(database, job.id)
    assert before is not None
    assert after is not None
    assert before.analysis.verdict.costs != after.analysis.verdict.costs
