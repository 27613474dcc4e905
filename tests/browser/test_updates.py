"""The page after an update: the older call stands, what is different is read, and it is taken over by a hand."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webdriver import WebDriver

from phasko.jobs.analysing import analyse_stored_job
from phasko.store import Database
from tests.browser.hands import gone, reads, seen
from tests.builders import job_with_capture
from trials.serving import served

pytestmark = [pytest.mark.browser, pytest.mark.exhaustive]
OWN_PLACES = ("web/src/features/updates", "src/phasko/jobs/rejudging.py")


@pytest.fixture
def older(tmp_path: Path) -> Iterator[str]:
    """A workshop whose one job was called by an older version, which would have opened the engine."""
    with closing(Database(tmp_path)) as database:
        analyse_stored_job(database, job_with_capture(database, "Ice cart 2", "pellowe-1.0-triple", 3))
    with closing(sqlite3.connect(tmp_path / "phasko.sqlite3")) as stored, stored:
        ((number, document, head),) = stored.execute("SELECT id, document, head FROM results").fetchall()
        said, shown = json.loads(document), json.loads(head)
        said["verdict"]["teardown"] = shown["teardown"] = "go"
        said["provenance"]["software"] = "phasko 0.1.0"
        values = (json.dumps(said), json.dumps(shown), "phasko 0.1.0", "an older key", number)
        stored.execute("UPDATE results SET document = ?, head = ?, software = ?, key = ? WHERE id = ?", values)
    with served(tmp_path) as running:
        yield running.address


def test_the_older_call_stands_until_it_is_taken_over(browser: WebDriver, older: str) -> None:
    browser.get(f"{older}/")
    note = seen(browser, "update-note")
    assert "One job was called by an older version" in note.text
    assert "open up" in browser.find_element(By.TAG_NAME, "main").text
    browser.get(f"{older}/jobs/1/call")
    assert "Version 0.1.0 made this call" in seen(browser, "older-call").text
    seen(browser, "older-call").find_element(By.TAG_NAME, "a").click()
    assert reads(browser, "headline", "One job called by an older version")
    seen(browser, "unread").find_element(By.TAG_NAME, "button").click()
    row = reads(browser, "revised-1", "Ice cart 2")
    assert "The gate says covers stay on; it said open up." in row
    seen(browser, "revised-1").find_element(By.TAG_NAME, "button").click()
    assert reads(browser, "headline", "Every job was called by version")
    browser.get(f"{older}/")
    gone(browser, "update-note")
    assert "open up" not in browser.find_element(By.TAG_NAME, "main").text
    # The page listens until it is left, and its server ends before the browser does.
    browser.get("about:blank")
