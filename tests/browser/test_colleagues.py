"""What a colleague stores moves every screen that shows it, without a hand on it."""

from __future__ import annotations

import httpx
import pytest
from selenium.common.exceptions import NoSuchElementException, StaleElementReferenceException
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webdriver import WebDriver

from phasko.bench import Shift, capture_files
from phasko.bench.pool import pool_engine
from tests.browser.hands import reads, seen, waits
from trials.recordings import record

pytestmark = pytest.mark.browser

ENGINE = "corvane-2.1-four"
PITCH_DEG = 360.0 / 21


def test_a_colleagues_capture_moves_the_case_and_the_board(browser: WebDriver, server: str) -> None:
    with httpx.Client(base_url=server, timeout=60.0) as colleague:
        named = {row["name"]: row["id"] for row in colleague.get("/api/engines").json()}
        body = {
            "vehicle": "Quay crane 9",
            "complaint": "Rattles when cold",
            "engine_id": named[pool_engine(ENGINE).name],
        }
        job = colleague.post("/api/jobs", json=body).json()["id"]
        browser.get(f"{server}/jobs/{job}/call")
        before = seen(browser, "case").text
        case = browser.current_window_handle
        browser.switch_to.new_window("tab")
        browser.get(f"{server}/")
        row = f"//a[@href='/jobs/{job}/complaint' or starts-with(@href, '/jobs/{job}/')]"
        assert "Quay crane 9" in patiently(browser, row, "Quay crane 9")
        made = capture_files(
            record(pool_engine(ENGINE), 60, shift=Shift({"B1I": PITCH_DEG, "B1E": PITCH_DEG}), name="late")
        )
        files = {
            "data": ("late.csv", made["late.csv"]),
            "description": ("late.capture.json", made["late.capture.json"]),
        }
        colleague.post(f"/api/jobs/{job}/captures", files=files).raise_for_status()
        patiently(browser, row, "Chain jumped")
        # A page that nobody saw meanwhile is told when it comes into view.
        browser.switch_to.window(case)
        after = reads(browser, "case", "Chain jumped")
        assert after != before


def patiently(browser: WebDriver, xpath: str, words: str) -> str:
    """Waits until the row shows these words; returns all it shows."""

    def shown(driver: WebDriver) -> str | bool:
        text = str(driver.find_element(By.XPATH, xpath).text)
        return text if words in text else False

    return str(waits(browser, NoSuchElementException, StaleElementReferenceException).until(shown))
