"""Importing from another machine over plain http, and a clamp that was not zeroed."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver

from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.bench.sensors.transducers import CurrentClamp
from phasko.formats import WRITTEN, Table
from tests.browser.hands import drop, reads, seen, tab_to
from tests.browser.test_first_job import new_job, small_capture
from tests.builders import FOUR, run_recording

pytestmark = pytest.mark.browser
OWN_PLACES = ("web/src/features/import",)

PLAIN_HTTP = "delete Crypto.prototype.randomUUID; delete crypto.subtle;"
"""What a page that came over plain http from another machine has to do without."""


def test_an_import_needs_nothing_that_plain_http_lacks(browser: WebDriver, server: str) -> None:
    browser.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": PLAIN_HTTP})
    new_job(browser, server, "Dock tug 1")
    assert browser.execute_script("return typeof crypto.randomUUID") == "undefined"
    drop(browser, small_capture("tug-1", 41))
    reads(browser, "capture", "tug-1")


def test_nothing_thrown_stays_unseen(browser: WebDriver, server: str) -> None:
    """Something else that the page counts on is missing: the drop says so instead of doing nothing."""
    broken = "crypto.getRandomValues = () => { throw new Error('no random bytes here'); };"
    browser.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": broken})
    new_job(browser, server, "Dock tug 2")
    drop(browser, small_capture("tug-2", 43))
    assert "What is stored is safe" in reads(browser, "unseen", "no random bytes here")
    browser.get_log("browser")  # What was thrown here on purpose is no failure of the page.


def clamp_capture() -> list[tuple[str, bytes]]:
    """A crank sensor and a clamp of 1 mV/A that read 25 A with nothing flowing."""
    probes = [Probe("crank"), Probe("starter_current", clamp=CurrentClamp(zero_a=25.0))]
    recording = run_recording(FOUR, probes, 42, settings=ScopeSettings(rate_hz=20_000.0))[0]
    columns = {channel.description.column: channel.samples for channel in recording.channels}
    written = next(form for form in WRITTEN if form.name == "CSV").write(Table(0.0, recording.interval_s, columns))
    description = recording.description.model_copy(update={"data": "clamp.csv"})
    described = description.model_dump_json(by_alias=True, exclude_none=True)
    return [("clamp.csv", written), ("clamp.capture.json", described.encode())]


@pytest.mark.exhaustive
def test_one_button_takes_the_clamps_zero_and_tells_what_it_then_reads(browser: WebDriver, server: str) -> None:
    new_job(browser, server, "Dock tug 3")
    drop(browser, clamp_capture())
    reads(browser, "capture", "clamp")
    next(b for b in browser.find_elements(By.TAG_NAME, "button") if b.text == "Channels").click()
    reads(browser, "sheet", "Use this zero")
    tab_to(browser, "Use this zero").send_keys(Keys.ENTER)
    assert "It then reads 0 A at rest" in reads(browser, "sheet", "It then reads")
    zeros = seen(browser, "sheet").find_elements(By.CSS_SELECTOR, "[aria-label='reads at rest']")
    used = [float(zero.get_attribute("value") or "0") for zero in zeros]
    assert max(used) == pytest.approx(0.025, abs=0.003)
    tab_to(browser, "Leave the zero as it was").send_keys(Keys.ENTER)
    reads(browser, "sheet", "Use this zero")
