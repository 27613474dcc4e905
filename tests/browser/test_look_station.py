"""Look and listen in a real browser, by keyboard alone, and a road test added by its file."""

from __future__ import annotations

from pathlib import Path

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver

from phasko.bench.drive_log import Drive, drive_log_csv
from phasko.bench.pool import pool_engine
from tests.browser.hands import asked, press, reads, seen, several
from tests.browser.test_first_job import new_job
from tests.builders import FOUR

pytestmark = pytest.mark.browser
OWN_PLACES = ("web/src/features/look", "web/src/features/road")


def here(browser: WebDriver) -> str:
    return browser.find_element(By.CSS_SELECTOR, "[data-testid='question'][aria-current='true']").text


def test_answers_by_keyboard_move_the_case_and_can_be_taken_back(browser: WebDriver, server: str) -> None:
    new_job(browser, server, "Ferry tender 9")
    press(browser, "2")
    reads(browser, "headline", "Nothing noted yet")
    while "Hand over the throttle" not in here(browser):
        press(browser, Keys.ARROW_DOWN)
    assert "may spit back" in here(browser)
    press(browser, Keys.ARROW_RIGHT)
    reads(browser, "noted", "against valves far out of time")
    press(browser, Keys.ARROW_RIGHT)
    reads(browser, "noted", "Points to valves far out of time, 60 to 1")
    reads(browser, "headline", f"1 of {asked(FOUR)} looked at")
    reads(browser, "case", "jumped")
    press(browser, Keys.BACKSPACE)
    reads(browser, "headline", "Nothing noted yet")
    press(browser, "u")
    reads(browser, "headline", f"1 of {asked(FOUR)} looked at")


@pytest.mark.exhaustive
def test_a_gauge_reading_is_typed_per_cylinder(browser: WebDriver, server: str) -> None:
    new_job(browser, server, "Ferry tender 10")
    press(browser, "2")
    reads(browser, "headline", "Nothing noted yet")
    for cylinder, bar in ((1, "12,1"), (2, "6.2")):
        label = f"Compression gauge, cylinder {cylinder}"
        browser.find_element(By.CSS_SELECTOR, f"[aria-label='{label}']").send_keys(bar + Keys.ENTER)
        texts = [element.text for element in several(browser, "noted", cylinder)]
    assert "Cylinder 1: 12.1 bar" in texts[0]
    assert "Points to a leak in cylinder 2" in texts[1]


@pytest.mark.exhaustive
def test_a_road_test_is_judged_on_the_seal_station(browser: WebDriver, server: str, tmp_path: Path) -> None:
    log = tmp_path / "drive.csv"
    log.write_bytes(drive_log_csv(pool_engine("corvane-2.1-four"), Drive(best_fill=0.6), 4))
    broken = tmp_path / "notes.csv"
    broken.write_text("nothing to see\n")
    new_job(browser, server, "Ferry tender 11")
    press(browser, "5")
    seen(browser, "road")
    chosen = browser.find_element(By.CSS_SELECTOR, "[data-testid='road-file']")
    chosen.send_keys(str(broken))
    reads(browser, "road", "has no rows of numbers")
    chosen.send_keys(str(log))
    reads(browser, "road-test", "breathing, not the meter")
    assert "Volumetric efficiency" in seen(browser, "road-test").text
    assert "Limits and where they come from" in seen(browser, "road-test").text
