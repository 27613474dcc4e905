"""The Call station in a real browser, by keyboard: what rests on what, and how a look opens the gate."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver

from phasko.bench.pool import pool_engine
from tests.browser.hands import drop, gone, press, reads, seen
from tests.browser.test_first_job import new_job, small_capture
from tests.builders import FOUR

pytestmark = pytest.mark.browser


def chosen(browser: WebDriver) -> str:
    return browser.find_element(By.CSS_SELECTOR, "[data-testid='evidence-table'] tr:has([aria-pressed='true'])").text


def jumped(browser: WebDriver, server: str, vehicle: str) -> None:
    """A job with one capture of a chain that jumped one pitch, at its Call station."""
    pitch = 360.0 / ((pool_engine(FOUR).drive or pytest.fail("a drive")).crank_sprocket_teeth or 21)
    new_job(browser, server, vehicle)
    drop(browser, small_capture("jumped", 31, B1I=pitch, B1E=pitch))
    reads(browser, "case", "Chain jumped one pitch late")
    press(browser, "8")
    reads(browser, "headline", "Confirm first: chain jumped one pitch late")


def test_the_table_is_walked_by_arrow_keys_and_tells_reasons_of_the_row(browser: WebDriver, server: str) -> None:
    jumped(browser, server, "Ferry tender 21")
    assert "Chain jumped one pitch late" in chosen(browser)
    reads(browser, "sentences", "1.00 pitches, a whole number")
    press(browser, Keys.ARROW_DOWN)
    assert "Crank wheel 17° early" in chosen(browser)
    reads(browser, "sentences", "Crank wheel 17° early")
    press(browser, Keys.ARROW_UP)
    reads(browser, "without", "The call without it")
    reads(browser, "without", "not looked at")
    press(browser, "w")
    assert browser.switch_to.active_element.get_attribute("data-testid") == "would-change"
    assert "Timing marks: 6 min, no cranking" in browser.switch_to.active_element.text
    press(browser, "o")
    assert browser.switch_to.active_element.get_attribute("data-testid") == "opening"
    assert "crank on its own mark" in browser.switch_to.active_element.text
    assert "1 tooth late" in browser.switch_to.active_element.text


def test_marks_seen_out_open_up_and_nobody_misses_it(browser: WebDriver, server: str) -> None:
    jumped(browser, server, "Ferry tender 22")
    reads(browser, "route-stop", "Stop cranking")
    reads(browser, "pillar-breathes", "far out of time")
    reads(browser, "pillar-fuel", "not looked at")
    press(browser, "2")
    reads(browser, "headline", "Nothing noted yet")
    while (
        "Timing marks"
        not in browser.find_element(By.CSS_SELECTOR, "[data-testid='question'][aria-current='true']").text
    ):
        press(browser, Keys.ARROW_DOWN)
    press(browser, Keys.ARROW_LEFT)
    reads(browser, "gate", "Open up")
    press(browser, "8")
    reads(browser, "headline", "Open up: chain jumped one pitch late")
    browser.get(server)
    reads(browser, "row-stop", "Stop cranking")


def test_before_anything_was_measured_there_are_no_percentages(browser: WebDriver, server: str) -> None:
    new_job(browser, server, "Ferry tender 23")
    reads(browser, "case", "No call yet")
    press(browser, "8")
    assert "%" not in seen(browser, "case").text
    gone(browser, "evidence-table")
