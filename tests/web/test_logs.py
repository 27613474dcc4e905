"""What the server notes: one line an event, by route and number, without anything that somebody told."""

from __future__ import annotations

import logging
import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi import FastAPI

from phasko.core.errors import StorageError
from phasko.web.logs import LOG, log_to
from tests.web.caller import Caller

LINE = re.compile(
    r"\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{3}Z INFO phasko request id=[0-9a-f]{12} method=[A-Z]+ "
    r"route=\S+ status=\d+ ms=\d+"
)


@pytest.fixture
def log(tmp_path: Path) -> Iterator[Path]:
    before = {name: (list(logging.getLogger(name).handlers), logging.getLogger(name).level) for name in NAMES}
    path = tmp_path / "server.log"
    log_to(path)
    yield path
    for name, (handlers, level) in before.items():
        for handler in logging.getLogger(name).handlers:
            handler.close()
        logging.getLogger(name).handlers[:] = handlers
        logging.getLogger(name).setLevel(level)
        logging.getLogger(name).propagate = True


NAMES = ("phasko", "uvicorn", "py.warnings")


def test_every_request_is_one_line_without_what_was_typed(call: Caller, log: Path) -> None:
    call("GET", "/api/jobs/77/captures?secret=Tilda")
    call("POST", "/api/jobs", json={"vehicle": "Tilda's boat"})
    call("GET", "/api/nonsense/Tilda%0aFenn")
    answer = call("GET", "/api/jobs")
    lines = log.read_text().splitlines()
    assert len(lines) == 4
    assert all(LINE.fullmatch(line) for line in lines)
    assert "Tilda" not in log.read_text()
    assert f"id={answer.headers['x-request-id']} method=GET route=/api/jobs status=200" in lines[3]
    assert "route=/api/jobs/{job_id}/captures status=404" in lines[0]


def test_the_log_is_its_owners_alone(log: Path) -> None:
    assert log.stat().st_mode & 0o777 == 0o600


def test_a_fault_of_ours_is_told_with_its_number_and_logged_with_its_trace(
    app: FastAPI, call: Caller, log: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: object) -> None:
        raise ZeroDivisionError("a secret\nof the code")

    monkeypatch.setattr("phasko.web.routers.jobs.board", broken)
    answer = call("GET", "/api/jobs")
    assert answer.status_code == 500
    assert answer.json()["what"] == "Something went wrong in the server"
    assert "secret" not in answer.text
    assert answer.headers["x-content-type-options"] == "nosniff"
    number = answer.headers["x-request-id"]
    assert answer.json()["place"] == f"request {number}"
    errors = [line for line in log.read_text().splitlines() if " ERROR " in line]
    assert len(errors) == 1
    assert f"unforeseen id={number} ZeroDivisionError" in errors[0]
    assert "Traceback" in errors[0]


def test_without_a_file_only_warnings_are_told(log: Path, capsys: pytest.CaptureFixture[str], call: Caller) -> None:
    log_to(None)
    call("GET", "/api/jobs")
    LOG.warning("storage is slow")
    told = capsys.readouterr().err.splitlines()
    assert len(told) == 1
    assert told[0].endswith("WARNING phasko storage is slow")
    assert log.read_text() == ""


def test_a_log_that_cannot_be_written_ends_the_start_with_one_line(tmp_path: Path) -> None:
    with pytest.raises(StorageError, match="cannot be written"):
        log_to(tmp_path / "nowhere" / "x.log")
