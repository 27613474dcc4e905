"""From the complaint to the recorded capture and its call, without a mouse; a drive turned; the hook-up on paper."""

from __future__ import annotations

import re

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver

from tests.browser.hands import page_reads, press, reads, seen, several, tab_to, waits
from tests.browser.test_first_job import new_job
from tests.browser.test_seal_station import open_job

pytestmark = pytest.mark.browser
OWN_PLACES = ("web/src/features/record", "web/src/features/hookup", "src/phasko/jobs/recording")

PATIENCE_S = 40


def tick_all(browser: WebDriver) -> None:
    """Walks the cautions by keyboard and ticks each."""
    boxes = browser.find_elements(By.CSS_SELECTOR, "[data-testid='caution']")
    for box in boxes:
        if not box.is_selected():
            press(browser, " ")
        press(browser, Keys.ARROW_DOWN)
    page_reads(browser, "Everything is ticked.")


def wide(browser: WebDriver, width: int) -> None:
    metrics = {"width": width, "height": 900, "deviceScaleFactor": 1, "mobile": False}
    browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)


@pytest.mark.parametrize(
    ("width", "vehicle"),
    [
        (1280, "Sled dog van 1"),
        pytest.param(768, "Sled dog van 2", marks=pytest.mark.exhaustive),
        pytest.param(390, "Sled dog van 4", marks=pytest.mark.exhaustive),
    ],
)
def test_a_whole_job_without_a_mouse(browser: WebDriver, server: str, width: int, vehicle: str) -> None:
    wide(browser, width)
    new_job(browser, server, vehicle)
    assert "No hook-up is planned yet" in seen(browser, "record-card").text
    press(browser, "1")
    reads(browser, "headline", "No complaint noted")
    press(browser, "t")
    press(browser, "Dies at the lights", Keys.ENTER)
    reads(browser, "headline", "Dies at the lights")
    press(browser, Keys.ESCAPE, "a")
    press(browser, "p0016 pending")
    assert "Camshaft Position Correlation (Bank 1 Sensor A)" in seen(browser, "typed-title").text
    press(browser, Keys.ENTER)
    assert "Seen once" in reads(browser, "code", "intake cam")
    assert "parts" in seen(browser, "plan").text
    press(browser, Keys.ESCAPE, "3")
    reads(browser, "headline", "leads")
    # The first of the cautions is looked at; everything is ticked by the space bar.
    tick_all(browser)
    press(browser, "4")
    reads(browser, "record-missing", "Simulated scope, 50 kS/s")
    press(browser, " ")
    waits(browser).until(lambda b: b.find_elements(By.CSS_SELECTOR, "[data-testid='recording']"))
    finding = waits(browser).until(lambda b: text if "cycles" in (text := seen(b, "headline").text) else False)
    assert re.match(r"Recording: both cams read .*cycles", str(finding))
    assert "58 of 58" in seen(browser, "tiles").text
    lanes = browser.find_elements(By.CSS_SELECTOR, "[data-testid='live-lane']")
    assert len(lanes) == 4 and all("whole" in lane.text or "no defect" in lane.text for lane in lanes)
    press(browser, "m", "n")
    waits(browser).until(lambda b: b.switch_to.active_element.tag_name == "input")
    press(browser, "it shook", Keys.ENTER)
    reads(browser, "so-far", "it shook") if width > 1000 else None
    press(browser, " ")
    assert "timing-and-seal" in reads(browser, "capture", "cranking")
    assert "Timing as it should be" in reads(browser, "case", "Timing as it should be")
    press(browser, "8")
    reads(browser, "headline", "Covers stay on: timing as it should be")
    press(browser, "9")
    reads(browser, "hand-over-headline", "Timing as it should be")
    press(browser, "x")
    seen(browser, "close-job").send_keys(Keys.ENTER)
    page_reads(browser, "Open it again")
    fits(browser)


def fits(browser: WebDriver) -> None:
    """Nothing is cut off at the right, and nothing has to be pushed sideways to be read."""
    beyond = "const m = document.querySelector('main'); return m.scrollWidth - m.clientWidth"
    assert browser.execute_script(beyond) <= 0


def test_a_caution_that_is_not_ticked_keeps_the_button_off(browser: WebDriver, server: str) -> None:
    new_job(browser, server, "Sled dog van 3")
    press(browser, "3")
    reads(browser, "headline", "leads")
    press(browser, " ", Keys.ARROW_DOWN, " ")
    page_reads(browser, "2 of 8 ticked")
    press(browser, "4")
    assert "and 5 more" in reads(browser, "record-missing", "Still to tick")
    press(browser, " ")
    assert not browser.find_elements(By.CSS_SELECTOR, "[data-testid='recording']")


@pytest.mark.exhaustive
def test_the_sync_drive_is_turned_into_its_window(browser: WebDriver, server: str) -> None:
    open_job(browser, server, "Beach tractor 2", "4")
    reads(browser, "record-missing", "Simulated scope")
    press(browser, " ")
    waits(browser).until(lambda b: b.find_elements(By.CSS_SELECTOR, "[data-testid='adjusting']"))
    before = waits(browser).until(lambda b: text if "early" in (text := seen(b, "adjusting-now").text) else False)
    assert 9.0 < float(str(before).split("°")[0]) < 12.0
    # The body is turned by the right arrow; from 0 on, so that one press brings it near the window.
    press(browser, Keys.ARROW_RIGHT)
    waits(browser).until(lambda b: "Tighten, rev, look again" in seen(b, "adjusting").text)
    press(browser, " ")
    several(browser, "capture", 2)


@pytest.mark.exhaustive
def test_the_hook_up_goes_on_one_page(browser: WebDriver, server: str) -> None:
    open_job(browser, server, "Quarry crane 1", "3")
    reads(browser, "headline", "rounds")
    press(browser, "o")
    page = seen(browser, "hook-up-page").text
    assert "Round 2" in page and "☑ Chock the wheels" in page and "one sample is" in page
    press(browser, Keys.ESCAPE)
    reads(browser, "headline", "rounds")


@pytest.mark.exhaustive
def test_readings_with_a_meter_give_a_verdict(browser: WebDriver, server: str) -> None:
    open_job(browser, server, "Grader 2", "3")
    reads(browser, "headline", "leads")
    tab_to(browser, "A good ground").send_keys(Keys.ENTER)
    tab_to(browser, "While cranking, mV")
    press(browser, "450", Keys.ENTER)
    assert "bare metal" in reads(browser, "verdict", "450 mV")
