"""The two commands of the contract, as another program calls them."""

import json
from pathlib import Path

import pytest

from phasko.cli import main
from phasko.core.documents import Analysis
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
