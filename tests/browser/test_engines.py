"""The engines screen: a profile written by keyboard, drawn while it is written, versioned, carried out and in."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from selenium.common.exceptions import StaleElementReferenceException
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver
from selenium.webdriver.remote.webelement import WebElement

from tests.browser.hands import page_reads, press, reads, seen, tab_to, waits
from tests.builders import profile_dict

pytestmark = [pytest.mark.browser, pytest.mark.exhaustive]
OWN_PLACES = ("web/src/features/engines", "src/phasko/jobs/engine_profiles.py")


def field(browser: WebDriver, place: str) -> WebElement:
    return browser.find_element(By.NAME, place)


def rewrite(browser: WebDriver, place: str, text: str) -> None:
    field(browser, place).send_keys(Keys.CONTROL, "a")
    field(browser, place).send_keys(text)


def kept(browser: WebDriver, heading: str) -> str:
    """Waits for the stored page, which is drawn anew while it is read."""
    patient = waits(browser, StaleElementReferenceException)
    patient.until(lambda b: heading in b.find_element(By.TAG_NAME, "h1").text)
    return page_reads(browser, "Versions")


def test_a_small_profile_is_written_by_keyboard_and_drawn(browser: WebDriver, server: str) -> None:
    browser.get(server)
    seen(browser, "job")
    press(browser, "g")
    seen(browser, "engine")
    press(browser, "n")
    page_reads(browser, "the engine is drawn here")
    field(browser, "name").send_keys("Tidewater 1.8 four", Keys.TAB, "4", Keys.TAB, "1, 3, 4, 2")
    seen(browser, "firing")
    tab_to(browser, "Wheel").send_keys("e")
    rewrite(browser, "crank.wheel.slots", "36-1")
    waits(browser).until(lambda b: "35 teeth" in wheels(b))
    assert "Where tooth 1 passes" in seen(browser, "open-points").text
    keep(browser, "Save this engine")
    kept(browser, "version 1")
    rewrite(browser, "crank.index_deg", "84,5")
    page_reads(browser, "tooth 1 at 84.5°")
    keep(browser, "Save as version 2")
    assert "Where tooth 1 passes: not known → 84.5" in kept(browser, "version 2")


def keep(browser: WebDriver, words: str) -> None:
    button = waits(browser).until(
        lambda b: next(
            (e for e in b.find_elements(By.TAG_NAME, "button") if words in e.text and e.is_enabled()),
            None,
        )
    )
    button.send_keys(Keys.ENTER)


def wheels(browser: WebDriver) -> str:
    drawn = browser.find_elements(By.CSS_SELECTOR, "[data-testid='wheel']")
    return " ".join(e.get_attribute("aria-label") or "" for e in drawn)


def test_a_fault_is_said_at_its_field_and_keeps_the_last_drawing(browser: WebDriver, server: str) -> None:
    browser.get(f"{server}/engines")
    seen(browser, "engine").click()
    seen(browser, "firing")
    rewrite(browser, "firing_order", "1 2 3")
    assert "Firing order misses cylinder 4" in reads(browser, "faults", "Firing order")
    assert "misses cylinder 4" in seen(browser, "field-fault").text
    assert seen(browser, "firing").is_displayed()
    assert not any(
        e.is_enabled() for e in browser.find_elements(By.TAG_NAME, "button") if e.text.startswith("Save as version")
    )


def test_a_profile_comes_in_and_goes_out_as_a_file(browser: WebDriver, server: str, tmp_path: Path) -> None:
    broken, whole = tmp_path / "broken.json", tmp_path / "whole.json"
    broken.write_text(json.dumps(profile_dict(name="Ebb 2.0", firing_order=[1, 2])))
    whole.write_text(json.dumps(profile_dict(name="Ebb 2.0")))
    browser.get(f"{server}/engines")
    seen(browser, "engine")
    chooser = browser.find_element(By.CSS_SELECTOR, "input[type=file]")
    chooser.send_keys(str(broken))
    page_reads(browser, "firing_order misses cylinder 3")
    chooser.send_keys(str(whole))
    kept(browser, "Ebb 2.0")
    link = browser.find_element(By.LINK_TEXT, "Export as a file").get_attribute("href")
    browser.get(link.replace("/file", ""))
    assert json.loads(browser.find_element(By.TAG_NAME, "body").text)["name"] == "Ebb 2.0"
