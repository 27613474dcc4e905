"""The Seal station in a real browser: the count, the cylinder by name, what stays open."""

from __future__ import annotations

import re

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver

from tests.browser.hands import gone, page_reads, press, reads, seen, tab_to
from tests.browser.test_first_job import new_job, open_board

pytestmark = pytest.mark.browser
OWN_PLACES = ("web/src/features/compression", "web/src/features/road")


def open_job(browser: WebDriver, server: str, vehicle: str, station: str = "5") -> None:
    open_board(browser, server)
    next(r for r in browser.find_elements(By.CSS_SELECTOR, "[data-testid='job']") if vehicle in r.text).click()
    seen(browser, "case")
    press(browser, station)


def test_the_dead_cylinder_is_counted_named_and_called(browser: WebDriver, server: str) -> None:
    open_job(browser, server, "Quarry crane 1")
    assert "Cylinder 3 compresses" in reads(browser, "headline", "Cylinder 3")
    assert "7 of 8" in seen(browser, "count").text
    bars = seen(browser, "bars").get_attribute("aria-label") or ""
    assert re.search(r"Cylinder 3 \d+ percent, does not compress", bars)
    assert "equally low" in seen(browser, "blind-spots").text
    assert "Cylinder 3 does not seal" in seen(browser, "case").text


def test_a_weak_bank_is_no_healthy_engine(browser: WebDriver, server: str) -> None:
    open_job(browser, server, "Fire engine 1")
    assert "of the other bank" in reads(browser, "headline", "All of bank 2 compresses about")
    rows = seen(browser, "sources").find_elements(By.CSS_SELECTOR, "tbody tr")
    assert [row.text.split("\n")[0].split(" ")[0] for row in rows] == ["Starter", "Crank", "From"]


def test_without_a_capture_it_says_what_to_record(browser: WebDriver, server: str) -> None:
    new_job(browser, server, "Winch 9")
    press(browser, "5")
    page_reads(browser, "fuel disabled")


@pytest.mark.exhaustive
def test_the_span_is_adjusted_by_keyboard_and_given_back(browser: WebDriver, server: str) -> None:
    open_job(browser, server, "Harbour pick-up 7")
    reads(browser, "headline", "compress alike")
    assert "settled speed" in seen(browser, "seal-controls").text
    field = browser.find_element(By.CSS_SELECTOR, "[aria-label='Judged from']")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("2.0")
    tab_to(browser, "Judge this stretch").send_keys(Keys.ENTER)
    reads(browser, "seal-controls", "chosen by hand")
    tab_to(browser, "Settled cycles again").send_keys(Keys.ENTER)
    reads(browser, "seal-controls", "settled speed")


@pytest.mark.exhaustive
def test_a_stretch_too_short_is_refused_with_the_reason_and_the_controls_stay(browser: WebDriver, server: str) -> None:
    open_job(browser, server, "Harbour pick-up 7")
    reads(browser, "headline", "compress alike")
    case = seen(browser, "case").text
    for label, value in (("Judged from", "1"), ("to", "1.1")):
        field = browser.find_element(By.CSS_SELECTOR, f"[data-testid='seal-controls'] [aria-label='{label}']")
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(value)
    tab_to(browser, "Judge this stretch").send_keys(Keys.ENTER)
    refused = reads(browser, "seal-controls", "sealing needs")
    assert "Judge this stretch" in refused
    assert "settled speed" in refused
    assert seen(browser, "case").text == case


@pytest.mark.exhaustive
def test_a_cylinder_taken_out_tells_its_place_in_the_firing_order(browser: WebDriver, server: str) -> None:
    open_job(browser, server, "Quarry crane 1")
    reads(browser, "headline", "Cylinder 3")
    controls = seen(browser, "seal-controls")
    group = controls.find_element(By.CSS_SELECTOR, "[aria-label='Taken out on purpose']")
    group.find_element(By.XPATH, ".//button[text()='3']").click()
    reads(browser, "firing-order", "3")
    assert "as in the profile" not in seen(browser, "firing-order").text
    group = seen(browser, "seal-controls").find_element(By.CSS_SELECTOR, "[aria-label='Taken out on purpose']")
    group.find_element(By.XPATH, ".//button[text()='None']").click()
    gone(browser, "firing-order")


@pytest.mark.exhaustive
def test_breathing_beside_the_dead_cylinder_names_no_other(browser: WebDriver, server: str) -> None:
    open_job(browser, server, "Quarry crane 1")
    assert "no other is named" in reads(browser, "breathing", "exhaust pulses")


@pytest.mark.exhaustive
def test_a_drive_stands_with_its_figures(browser: WebDriver, server: str) -> None:
    open_job(browser, server, "Snow plough 1")
    text = reads(browser, "road-test", "breathing, not the meter")
    assert "Peak calculated load" in text
    assert "Volumetric efficiency" in text
