"""The Seal station in a real browser: the count, the cylinder by name, what stays open."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webdriver import WebDriver

from tests.browser.hands import press, reads, seen
from tests.browser.test_first_job import new_job, open_board

pytestmark = pytest.mark.browser


def open_job(browser: WebDriver, server: str, vehicle: str) -> None:
    open_board(browser, server)
    next(r for r in browser.find_elements(By.CSS_SELECTOR, "[data-testid='job']") if vehicle in r.text).click()
    press(browser, "5")


def test_the_dead_cylinder_is_counted_named_and_called(browser: WebDriver, server: str) -> None:
    open_job(browser, server, "Quarry crane 1")
    assert "Cylinder 3 presses" in reads(browser, "headline", "Cylinder 3")
    assert "7 of 8" in seen(browser, "count").text
    assert "Cylinder 3 13 percent, does not press" in (seen(browser, "bars").get_attribute("aria-label") or "")
    assert "equally low" in seen(browser, "blind-spots").text
    assert "Cylinder 3 does not seal" in seen(browser, "case").text


def test_a_weak_bank_is_no_healthy_engine(browser: WebDriver, server: str) -> None:
    open_job(browser, server, "Fire engine 1")
    assert "All of bank 2 presses about" in reads(browser, "headline", "bank 2")
    assert len(seen(browser, "sources").find_elements(By.CSS_SELECTOR, "tbody tr")) == 2


def test_without_a_capture_it_says_what_to_record(browser: WebDriver, server: str) -> None:
    new_job(browser, server, "Winch 9")
    press(browser, "5")
    body = browser.find_element(By.TAG_NAME, "body")
    assert "fuel disabled" in body.text
