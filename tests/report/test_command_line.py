"""The two commands of the contract, as another program calls them."""

import json
from contextlib import closing
from pathlib import Path

import pytest

from phasko.cli import main
from phasko.core.documents import Analysis
from phasko.jobs.analysing import analyse_stored_job
from phasko.jobs.captures import import_capture
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.opening import open_job
from phasko.store import Database
from tests.builders import FOUR, bench_files, pool_engine


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    files = bench_files(B1I=17.14, B1E=17.14)
    (tmp_path / files.description_name).write_bytes(files.description)
    (tmp_path / files.data_name).write_bytes(files.data)
    document = pool_engine(FOUR).model_dump_json(by_alias=True, exclude_none=True)
    (tmp_path / "engine.json").write_text(document)
    return tmp_path


def analyze(folder: Path, *more: str) -> int:
    return main(["analyze", str(folder / "bench.capture.json"), "--engine", str(folder / "engine.json"), *more])


def test_json_is_the_document_and_nothing_else(folder: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert analyze(folder, "--json") == 0
    out = capsys.readouterr()
    assert out.err == ""
    analysis = Analysis.model_validate_json(out.out)
    assert analysis.captures[0].file == "bench.capture.json"
    assert analysis.verdict.faults[0].fault == "chain_jumped"
    fault = json.loads(out.out)["verdict"]["faults"][0]
    assert {"fault", "probability", "where", "amount", "for", "against"} <= set(fault)


def test_text_leads_with_the_measurement(folder: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert analyze(folder) == 0
    out = capsys.readouterr().out
    assert out.index("Both cam signals read 17.1° late") < out.index("The call") < out.index("Next test")
    assert "Stop cranking" in out


def test_a_reference_is_used(folder: Path, capsys: pytest.CaptureFixture[str]) -> None:
    good = bench_files("good", seed=5)
    (folder / good.description_name).write_bytes(good.description)
    (folder / good.data_name).write_bytes(good.data)
    assert analyze(folder, "--json", "--reference", str(folder / good.description_name)) == 0
    cams = Analysis.model_validate_json(capsys.readouterr().out).captures[0].cams
    assert {cam.reference for cam in cams} == {"reference"}


@pytest.mark.parametrize(
    ("name", "content", "words"),
    [
        ("bench.csv", "time_s,c1,c2,c3\n0,1,2,3\n1,x,2,3\n", "bench.csv, line 3: 'x' in column c1 is not a number"),
        ("bench.csv", "", "bench.csv: is empty"),
        ("bench.capture.json", "{", "bench.capture.json, line 1, column 2: is not JSON"),
        ("engine.json", '{"schema": "phasko.engine/1"}', "engine.json: name is required but absent"),
    ],
)
def test_what_cannot_be_read_ends_with_2_and_one_line(
    folder: Path, capsys: pytest.CaptureFixture[str], name: str, content: str, words: str
) -> None:
    (folder / name).write_text(content)
    assert analyze(folder, "--json") == 2
    out = capsys.readouterr()
    assert out.out == ""
    assert out.err.count("\n") == 1
    assert words in out.err


def test_a_missing_engine_is_named(folder: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (folder / "engine.json").unlink()
    assert analyze(folder) == 2
    assert "engine.json" in capsys.readouterr().err


@pytest.mark.parametrize("document", ["engine", "capture", "analysis"])
def test_schemas_are_printed(document: str, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["schema", document]) == 0
    schema = json.loads(capsys.readouterr().out)
    assert schema["$schema"].endswith("2020-12/schema")
    assert "schema" in schema["properties"]


def test_serving_to_others_is_refused_in_one_line(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.delenv("PHASKO_PASSPHRASE", raising=False)
    assert main(["serve", "--host", "0.0.0.0", "--data", str(tmp_path)]) == 2
    assert "no passphrase is set" in capsys.readouterr().err


def shop(folder: Path) -> Path:
    """A workshop with one job of which a chain jumped."""
    document = pool_engine(FOUR).model_dump_json(by_alias=True, exclude_none=True)
    with closing(Database(folder / "shop")) as database:
        engine = save_engine(database, document.encode(), "engine.json")
        job = open_job(
            database, vehicle="Rowan 12", make_model="", complaint="stalls", codes=["P0016"], engine_id=engine.id
        )
        import_capture(database, job.id, bench_files(B1I=17.14, B1E=17.14))
        analyse_stored_job(database, job.id)
    return folder / "shop"


def test_a_report_is_written_in_the_form_that_its_name_asks_for(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    data = shop(tmp_path)
    for name, begins, more in (
        ("x.pdf", b"%PDF", []),
        ("x.html", b"<!doctype html>", ["--owner"]),
        ("x.png", b"\x89PNG", []),
        ("x.json", b"{", []),
    ):
        out = tmp_path / name
        assert main(["report", "1", "--data", str(data), "--out", str(out), *more]) == 0
        assert out.read_bytes().startswith(begins)
    assert b"What you told us" in (tmp_path / "x.html").read_bytes()
    assert main(["report", "1", "--data", str(data), "--out", str(tmp_path / "x.docx")]) == 2
    assert "names no kind of page" in capsys.readouterr().err
    assert main(["report", "9", "--data", str(data), "--out", str(tmp_path / "y.html")]) == 2
    assert not (tmp_path / "y.html").exists()


def test_jobs_are_listed_and_found(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    data = shop(tmp_path)
    assert main(["jobs", "--data", str(data)]) == 0
    assert "Rowan 12" in (out := capsys.readouterr().out) and "Chain jumped one pitch late" in out
    assert main(["jobs", "--data", str(data), "--json", "jumped", "rowan"]) == 0
    assert json.loads(capsys.readouterr().out)["rows"][0]["job"]["vehicle"] == "Rowan 12"
    assert main(["jobs", "zebra", "--data", str(data), "--json"]) == 0
    assert json.loads(capsys.readouterr().out) == {"total": 0, "rows": []}


def test_looking_makes_no_workshop(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["jobs", "--data", str(tmp_path / "nowhere")]) == 2
    assert "There is no workshop in this folder" in capsys.readouterr().err
    assert not (tmp_path / "nowhere").exists()


def test_jobs_are_carried_to_another_folder(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    data, archive = shop(tmp_path), tmp_path / "all.zip"
    assert main(["export", str(archive), "--data", str(data)]) == 0
    assert main(["import", str(archive), "--data", str(tmp_path / "other")]) == 0
    assert main(["import", str(archive), "--data", str(tmp_path / "other")]) == 0
    assert "0 taken in, 1 were here already" in capsys.readouterr().out
    assert main(["import", str(tmp_path / "none.zip"), "--data", str(tmp_path / "other")]) == 2


def test_after_a_repair_the_text_tells_what_was_called_before_and_what_changed(
    folder: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    after = bench_files("after", seed=2)
    said = {**json.loads(after.description), "repair": "after"}
    (folder / after.description_name).write_text(json.dumps(said))
    (folder / after.data_name).write_bytes(after.data)
    engine = ["--engine", str(folder / "engine.json")]
    assert main(["analyze", str(folder / "bench.capture.json"), str(folder / after.description_name), *engine]) == 0
    out = capsys.readouterr().out
    before = out[out.index("Before the repair") : out.index("The call")]
    assert "Chain jumped one pitch late" in before and "Intake cam: 17.1° late before" in before
    assert "Timing as it should be" in out[out.index("The call") :]
