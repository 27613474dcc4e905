"""The Phase station: signals that are not sound, counting teeth either way, an engine nobody described."""

from __future__ import annotations

import json

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver

from tests.browser.hands import drop, press, reads, seen, tab_to
from tests.browser.test_first_job import open_board, small_capture

pytestmark = pytest.mark.browser
OWN_PLACES = ("web/src/features/phase",)


def open_phase(browser: WebDriver, server: str, vehicle: str) -> None:
    open_board(browser, server)
    next(r for r in browser.find_elements(By.CSS_SELECTOR, "[data-testid='job']") if vehicle in r.text).click()
    seen(browser, "case")
    press(browser, "6")
    seen(browser, "turn-strip")


def test_a_dying_sensor_is_dated_and_leads_to_its_place(browser: WebDriver, server: str) -> None:
    open_phase(browser, server, "Grader 2")
    assert "is gone for" in seen(browser, "headline").text
    assert "windows bad" in reads(browser, "wheel-note", "60-2, as the profile has it")
    press(browser, "i")
    assert "A to B" in reads(browser, "ruler-reading", "wheel teeth")
    assert seen(browser, "irregularity").get_attribute("aria-pressed") == "true"
    assert "Exhaust cam sensor" in seen(browser, "case").text


def test_teeth_are_counted_from_the_gap_either_way(browser: WebDriver, server: str) -> None:
    open_phase(browser, server, "pick-up")
    press(browser, "t", "e")
    after = reads(browser, "loupe", "wheel teeth after tooth 1")
    words = after.split("; ")[1].split(" ")
    forwards, backwards = float(words[0]), float(after.split(", ")[-1].split(" ")[0])
    assert forwards + backwards == pytest.approx(60.0, abs=0.02)
    reads(browser, "turn-strip", f"{forwards:.1f}")
    press(browser, "t")
    reads(browser, "turn-strip", f"{backwards:.1f}")


@pytest.mark.exhaustive
def test_the_trend_stands_under_the_table(browser: WebDriver, server: str) -> None:
    open_phase(browser, server, "pick-up")
    assert "Intake cam" in reads(browser, "trend", "Offset from cycle to cycle")


@pytest.mark.exhaustive
def test_a_low_pass_says_what_it_does(browser: WebDriver, server: str) -> None:
    open_phase(browser, server, "pick-up")
    press(browser, "r")
    panel = seen(browser, "filters")
    panel.find_elements(By.XPATH, ".//button[text()='500 Hz']")[0].click()
    assert "at most" in reads(browser, "filters", "moves edges by")
    seen(browser, "filters").find_elements(By.XPATH, ".//button[text()='Off']")[0].click()
    reads(browser, "trend", "Offset from cycle to cycle")


BARE = {
    "schema": "phasko.engine/1",
    "name": "Undescribed four",
    "cylinders": 4,
    "firing_order": [1, 3, 4, 2],
    "crank": {},
}


@pytest.mark.exhaustive
def test_an_undescribed_engine_is_learnt_by_keyboard(browser: WebDriver, server: str) -> None:
    open_board(browser, server)
    browser.execute_async_script(
        """
        const [engine, done] = arguments;
        const form = new FormData();
        form.append("profile", new File([engine], "bare.json"));
        fetch("/api/engines", { method: "POST", body: form })
          .then((answer) => answer.json())
          .then((made) => fetch("/api/jobs", { method: "POST", headers: { "content-type": "application/json" },
            body: JSON.stringify({ vehicle: "Hay baler", engine_id: made.id }) }))
          .then(() => done());
        """,
        json.dumps(BARE),
    )
    browser.refresh()
    seen(browser, "job")
    next(r for r in browser.find_elements(By.CSS_SELECTOR, "[data-testid='job']") if "baler" in r.text).click()
    seen(browser, "case")
    press(browser, "4")
    drop(browser, small_capture("baler", 51))
    reads(browser, "capture", "baler")
    press(browser, "6")
    assert "Not known" in reads(browser, "learnt", "60-2")
    assert "A 60-2 crank wheel" in seen(browser, "headline").text
    tab_to(browser, "Name of the new profile").send_keys("Baler four", Keys.TAB, Keys.ENTER)
    assert "no reference yet" in reads(browser, "kept", "Baler four")
    reads(browser, "wheel-note", "60-2, as the profile has it")
    seen(browser, "engine-link").click()
    assert "known to be good" in seen(browser, "open-points").text
    assert "Where tooth 1 passes" in reads(browser, "open-points", "Where tooth 1 passes")
    assert "58 teeth" in (seen(browser, "wheel").get_attribute("aria-label") or "")
