"""A new job for an engine that is in no list: nothing preselected, the order in any writing, nothing lost by Escape."""

from __future__ import annotations

import httpx
import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver
from selenium.webdriver.support import expected_conditions as until
from selenium.webdriver.support.select import Select

from tests.browser.hands import page_reads, press, reads, tab_to, waits
from tests.browser.test_first_job import open_board

pytestmark = [pytest.mark.browser, pytest.mark.exhaustive]
OWN_PLACES = ("web/src/features/board", "src/phasko/jobs/opening.py")


def field(browser: WebDriver, label: str) -> object:
    path = f"//*[@role='dialog']//label[contains(., '{label}')]/following::*[self::input or self::select][1]"
    return browser.find_element(By.XPATH, path)


def opened(browser: WebDriver, server: str) -> Select:
    open_board(browser, server)
    press(browser, "n")
    waits(browser).until(lambda b: b.switch_to.active_element.tag_name == "input")
    return Select(browser.find_element(By.CSS_SELECTOR, "[role='dialog'] select"))


def test_no_engine_is_preselected_and_escape_asks(browser: WebDriver, server: str) -> None:
    engines = opened(browser, server)
    assert engines.first_selected_option.text == "Choose the engine"
    press(browser, "Regatta launch 12")
    button = next(b for b in browser.find_elements(By.TAG_NAME, "button") if b.text == "Open the job")
    assert not button.is_enabled(), "without an engine nothing is opened"
    press(browser, Keys.ESCAPE)
    asked = waits(browser).until(until.alert_is_present())
    assert "not saved" in asked.text
    asked.dismiss()
    assert browser.find_element(By.CSS_SELECTOR, "[role='dialog'] input").get_attribute("value") == "Regatta launch 12"
    press(browser, Keys.ESCAPE)
    waits(browser).until(until.alert_is_present()).accept()
    waits(browser).until(lambda b: not b.find_elements(By.CSS_SELECTOR, "[role='dialog'] input"))


@pytest.mark.parametrize(("written", "number"), [("1342", 13), ("1 3 4 2", 14)])
def test_cylinders_and_firing_order_are_enough(browser: WebDriver, server: str, written: str, number: int) -> None:
    engines = opened(browser, server)
    vehicle = f"Regatta launch {number}"
    press(browser, vehicle)
    engines.select_by_visible_text("Not in the list: cylinders and firing order")
    page_reads(browser, "Firing order")
    field(browser, "Cylinders").send_keys("4")  # type: ignore[attr-defined]
    field(browser, "Firing order").send_keys(written)  # type: ignore[attr-defined]
    tab_to(browser, "Open the job").send_keys(Keys.ENTER)
    reads(browser, "headline", "Nothing recorded yet")
    rows = httpx.get(f"{server}/api/logbook", params={"vehicle": vehicle}, timeout=60.0).json()["rows"]
    assert rows[0]["job"]["engine"] == f"Engine of {vehicle}"
    engine = httpx.get(f"{server}/api/engines", timeout=60.0).json()
    made = next(one for one in engine if one["name"] == f"Engine of {vehicle}")
    profile = httpx.get(f"{server}/api/engines/{made['id']}", timeout=60.0).json()
    document = profile.get("profile", profile.get("document", profile))
    assert document["firing_order"] == [1, 3, 4, 2]
    assert document["crank"]["sensor"] == "unknown"


def test_an_order_that_misses_a_cylinder_is_told_at_once(browser: WebDriver, server: str) -> None:
    engines = opened(browser, server)
    press(browser, "Regatta launch 15")
    engines.select_by_visible_text("Not in the list: cylinders and firing order")
    page_reads(browser, "Firing order")
    field(browser, "Cylinders").send_keys("4")  # type: ignore[attr-defined]
    field(browser, "Firing order").send_keys("1-3-2")  # type: ignore[attr-defined]
    tab_to(browser, "Open the job").send_keys(Keys.ENTER)
    page_reads(browser, "iring order")
    page_reads(browser, "4")
    assert "/jobs/" not in browser.current_url
