"""Two people at one job, people and their passphrases, what was taken out, and who did what, on the screen."""

from __future__ import annotations

import json
import urllib.error
import urllib.request
from collections.abc import Iterator
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver

from phasko.jobs.captures import import_capture
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.opening import open_job
from phasko.store import Database
from tests.browser.hands import gone, page_reads, press, reads, seen, tab_to
from tests.builders import FOUR, bench_files, pool_engine
from trials.serving import served

pytestmark = pytest.mark.browser
OWN_PLACES = ("web/src/features/workshop",)
SECRET = "four good long words"


@dataclass(frozen=True)
class Running:
    address: str
    job_id: int

    def document(self) -> dict[str, object]:
        with urllib.request.urlopen(f"{self.address}/api/jobs/{self.job_id}/document") as answer:
            return dict(json.load(answer))

    def tell(self, **more: object) -> None:
        body = json.dumps({**self.document(), **more}).encode()
        request = urllib.request.Request(
            f"{self.address}/api/jobs/{self.job_id}/document",
            data=body,
            method="PUT",
            headers={"content-type": "application/json"},
        )
        urllib.request.urlopen(request).close()


@pytest.fixture
def workshop(tmp_path: Path) -> Iterator[Running]:
    """A server of its own: one job with one capture. Asked for before the browser, which so closes first and does not
    miss it."""
    data = tmp_path / "workshop"
    with closing(Database(data)) as database:
        profile = pool_engine(FOUR).model_dump_json(by_alias=True, exclude_none=True)
        engine_id = save_engine(database, profile.encode(), "engine").id
        job = open_job(
            database, vehicle="Rowan 12", make_model="", complaint="rattles", codes=["P0016"], engine_id=engine_id
        )
        import_capture(database, job.id, bench_files(B1I=17.1, B1E=17.1))
    with served(data) as running:
        yield Running(running.address, job.id)


def test_a_colleagues_change_is_not_written_over_and_what_was_typed_stays(
    workshop: Running, browser: WebDriver
) -> None:
    browser.get(f"{workshop.address}/jobs/{workshop.job_id}/call")
    seen(browser, "call-settings")
    labour = browser.find_element(By.CSS_SELECTOR, "[aria-label='Labour per hour']")
    labour.send_keys("85")
    workshop.tell(costs={"opening_hours": 6.5}, codes=[{"code": "P0017"}])
    tab_to(browser, "Save these").send_keys(Keys.ENTER)
    said = reads(browser, "outdated", "changed this meanwhile")
    assert "costs" in said
    assert "codes" in said
    assert labour.get_attribute("value") == "85"
    tab_to(browser, "Keep mine over theirs").send_keys(Keys.ENTER)
    gone(browser, "outdated")
    stored = workshop.document()
    assert [one["code"] for one in stored["codes"]] == ["P0017"]  # type: ignore[attr-defined]
    assert stored["costs"]["labour_per_hour"] == 85.0  # type: ignore[index]


@pytest.mark.exhaustive
def test_theirs_can_be_taken_instead(workshop: Running, browser: WebDriver) -> None:
    browser.get(f"{workshop.address}/jobs/{workshop.job_id}/call")
    seen(browser, "call-settings")
    browser.find_element(By.CSS_SELECTOR, "[aria-label='Labour per hour']").send_keys("85")
    workshop.tell(costs={"labour_per_hour": 70.0})
    tab_to(browser, "Save these").send_keys(Keys.ENTER)
    reads(browser, "outdated", "costs")
    tab_to(browser, "Take theirs").send_keys(Keys.ENTER)
    gone(browser, "outdated")
    assert browser.find_element(By.CSS_SELECTOR, "[aria-label='Labour per hour']").get_attribute("value") == "70"


def test_a_job_is_taken_off_the_board_brought_back_and_erased(workshop: Running, browser: WebDriver) -> None:
    browser.get(f"{workshop.address}/jobs/{workshop.job_id}/complaint")
    tab_to(browser, "Take this job off the board").send_keys(Keys.ENTER)
    page_reads(browser, "Rowan 12 was taken off the board")
    tab_to(browser, "Bring it back").send_keys(Keys.ENTER)
    assert "rattles" in reads(browser, "job", "Rowan 12")
    browser.get(f"{workshop.address}/jobs/{workshop.job_id}/complaint")
    tab_to(browser, "Take this job off the board").send_keys(Keys.ENTER)
    page_reads(browser, "Rowan 12 was taken off the board")
    press(browser, "w")
    reads(browser, "taken-out", "Rowan 12")
    tab_to(browser, "Erase Job").send_keys(Keys.ENTER)
    page_reads(browser, "Nothing brings them back")
    tab_to(browser, "Erase it").send_keys(Keys.ENTER)
    page_reads(browser, "Nothing. Jobs and captures that are taken out wait here")
    log = reads(browser, "log", "erased job")
    assert log.index("erased job") < log.index("brought back job")
    assert "Rowan" not in log


def test_the_first_lead_closes_the_door(workshop: Running, browser: WebDriver) -> None:
    browser.get(f"{workshop.address}/workshop")
    page_reads(browser, "Add the first lead")
    browser.find_element(By.XPATH, "//label[contains(., 'Name')]//input").send_keys("Ida Brask")
    browser.find_element(By.XPATH, "//label[contains(., 'Passphrase')]//input").send_keys(SECRET)
    tab_to(browser, "Add the first lead").send_keys(Keys.ENTER)
    page_reads(browser, "This workshop asks who you are")
    browser.find_element(By.CSS_SELECTOR, "input[autocomplete='username']").send_keys("Ida Brask")
    browser.find_element(By.CSS_SELECTOR, "input[type='password']").send_keys(SECRET, Keys.ENTER)
    reads(browser, "people", "Ida Brask (you)")
    assert "added person Ida Brask as lead" in reads(browser, "log", "Ida Brask")
    now, new = browser.find_elements(By.CSS_SELECTOR, "section[aria-label='You'] input")
    now.send_keys(SECRET)
    new.send_keys("five very good long words", Keys.ENTER)
    page_reads(browser, "Everywhere else you are signed out")
    tab_to(browser, "Sign out").send_keys(Keys.ENTER)
    page_reads(browser, "This workshop asks who you are")
