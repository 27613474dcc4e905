"""Starts that cannot be: each ends at once, with one line that says why and what to do."""

from __future__ import annotations

import socket
import sqlite3
from pathlib import Path

import pytest

from phasko.cli import main


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (["--port", "22222222"], "There is no port"),
        (["--port", "-1"], "There is no port"),
        (["--host", "256.1.1.1"], "no address of that name"),
        (["--host", "192.0.2.9", "--port", "8000"], "cannot listen there"),
        (["--tls-certificate", "/nowhere"], "needs its key"),
        (["--tls-certificate", "/nowhere", "--tls-key", "/nowhere"], "cannot be used"),
        (["--log", "/nowhere/x.log"], "cannot be written"),
    ],
)
def test_what_cannot_be_served(
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    capsys: pytest.CaptureFixture[str],
    arguments: list[str],
    said: str,
) -> None:
    monkeypatch.setenv("PHASKO_PASSPHRASE", "tide and rope")
    assert main(["serve", "--data", str(tmp_path / "d"), *arguments]) == 2
    assert_one_line(capsys, said)


def test_a_port_that_is_taken(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    with socket.create_server(("127.0.0.1", 0)) as taken:
        port = str(taken.getsockname()[1])
        assert main(["serve", "--data", str(tmp_path), "--port", port]) == 2
    assert_one_line(capsys, "Address already in use")


def test_a_certificate_that_is_none(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (tmp_path / "pem").write_text("no certificate")
    both = ["--tls-certificate", str(tmp_path / "pem"), "--tls-key", str(tmp_path / "pem")]
    assert main(["serve", "--data", str(tmp_path / "d"), *both]) == 2
    assert_one_line(capsys, "cannot be used")


@pytest.mark.parametrize("command", [["serve"], ["backup", "copy.sqlite3"], ["check"], ["user", "list"]])
def test_a_file_that_is_no_workshop(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str], command: list[str]
) -> None:
    monkeypatch.chdir(tmp_path)
    content = b"no database at all, but long enough to be one" * 60
    (tmp_path / "phasko.sqlite3").write_bytes(content)
    assert main([*command, "--data", str(tmp_path)]) == 2
    assert_one_line(capsys, "is no database")
    assert (tmp_path / "phasko.sqlite3").read_bytes() == content


def test_a_workshop_of_a_newer_version(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["user", "list", "--data", str(tmp_path)]) == 0
    with sqlite3.connect(tmp_path / "phasko.sqlite3") as file:
        file.execute("UPDATE alembic_version SET version_num = '9999'")
    file.close()
    capsys.readouterr()
    assert main(["serve", "--data", str(tmp_path)]) == 2
    assert_one_line(capsys, "newer version")


def assert_one_line(capsys: pytest.CaptureFixture[str], said: str) -> None:
    told = capsys.readouterr().err.strip().splitlines()
    assert len(told) == 1, told
    assert told[0].startswith("phasko: ")
    assert said in told[0]
