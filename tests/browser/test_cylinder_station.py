"""The Cylinder station in a real browser: the sentence, valves under their cam, figures, keys, and what to mind."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver

from tests.browser.hands import page_reads, press, reads, seen
from tests.browser.test_first_job import new_job
from tests.browser.test_seal_station import open_job

pytestmark = [pytest.mark.browser, pytest.mark.exhaustive]
OWN_PLACES = ("web/src/features/cylinder", "src/phasko/core/cylinder")


def test_valves_that_follow_a_slipped_hub_are_said_and_open_the_engine(browser: WebDriver, server: str) -> None:
    open_job(browser, server, "Milk lorry 2", "7")
    words = reads(browser, "headline", "Cylinder 1: intake closes")
    assert "late" in words
    assert "counted from the pistons" in words
    table = seen(browser, "corners").text
    assert "they agree" in table
    assert "they do not agree" not in table
    strip = seen(browser, "cylinder-strip")
    assert "TDC 1 by pressure" in strip.text
    assert "closes 13° late" in seen(browser, "valve-intake").text
    assert "Crank hub slipped" in seen(browser, "case").text
    assert "Open up" in seen(browser, "case").text


def test_a_collapsed_lobe_is_one_cylinders_own(browser: WebDriver, server: str) -> None:
    open_job(browser, server, "Lighthouse jeep 1", "7")
    assert "the cam signal says otherwise" in reads(browser, "headline", "Cylinder 3: exhaust opens")
    assert "they do not agree" in seen(browser, "corners").text
    press(browser, Keys.ARROW_UP)
    assert "its valves move as the profile says" in reads(browser, "headline", "Cylinder 1")
    press(browser, Keys.ARROW_DOWN)
    reads(browser, "headline", "Cylinder 3")


def test_cycles_units_and_axes_change_by_key(browser: WebDriver, server: str) -> None:
    open_job(browser, server, "Lighthouse jeep 1", "7")
    reads(browser, "cycle", "mean of")
    press(browser, Keys.ARROW_RIGHT)
    reads(browser, "cycle", "cycle 1 of")
    press(browser, "0")
    reads(browser, "cycle", "mean of")
    assert "bar" in reads(browser, "figures", "Peak")
    press(browser, "p")
    assert "psi" in reads(browser, "figures", "psi")
    assert "psi" in seen(browser, "all-cylinders").text
    press(browser, "p")
    reads(browser, "figures", "kPa")
    press(browser, "p")
    reads(browser, "figures", "bar")
    assert "logarithmic" in seen(browser, "volume").text
    press(browser, "v")
    assert "plain" in reads(browser, "volume", "plain")


def test_without_a_pressure_it_says_how_to_record_one_and_what_to_mind(browser: WebDriver, server: str) -> None:
    new_job(browser, server, "Winch 11")
    press(browser, "7")
    body = page_reads(browser, "No pressure has been recorded yet")
    assert "Let the pressure off" in body
    assert "licensed practice" in body


def test_a_corner_is_set_by_hand_with_keys_alone_and_given_back(browser: WebDriver, server: str) -> None:
    open_job(browser, server, "Ambulance 1", "7")
    found = reads(browser, "corners", "intake closes")
    press(browser, "h")
    assert "Intake closes by hand" in reads(browser, "hand-mark", "after its TDC")
    press(browser, Keys.TAB)
    assert "Exhaust opens by hand" in reads(browser, "hand-mark", "Exhaust")
    for _ in range(4):
        press(browser, Keys.ARROW_RIGHT)
    press(browser, Keys.ENTER)
    assert "exhaust opens by hand" in reads(browser, "corners", "by hand")
    reads(browser, "hand-mark", "Back to found")
    press(browser, Keys.DELETE)
    reads(browser, "corners", found)
    press(browser, Keys.ESCAPE)
    assert not browser.find_elements(By.CSS_SELECTOR, "[data-testid='hand-mark']")


def test_the_cranks_own_speed_shows_where_the_pistons_are(browser: WebDriver, server: str) -> None:
    open_job(browser, server, "Mail van 3", "7")
    words = reads(browser, "torque", "losses account for")
    assert "The crank wheel stands 8" in words or "The crank wheel stands 9" in words
    assert "late" in words
