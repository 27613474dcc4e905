"""The end of a job in a real browser: first word copied, the repair, the same capture again, closed, found again."""

from __future__ import annotations

import base64
import io
from pathlib import Path

import httpx
import pytest
from PIL import Image
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver

from tests.browser.hands import drop, gone, page_reads, press, reads, seen, several, tab_to, to_station, waits
from tests.browser.test_first_job import new_job, open_board, small_capture

pytestmark = pytest.mark.browser
OWN_PLACES = ("web/src/features/handover", "web/src/features/logbook", "web/src/features/photos")

NAME = "Regatta launch 4"


def job_of(server: str, vehicle: str) -> int:
    rows = httpx.get(f"{server}/api/logbook", params={"vehicle": vehicle}, timeout=60.0).json()["rows"]
    return int(rows[0]["job"]["id"])


def after_the_repair(name: str, seed: int) -> list[tuple[str, bytes]]:
    """A capture whose description says that it was taken after the repair."""
    (data_name, data), (said_name, said) = small_capture(name, seed)
    return [(data_name, data), (said_name, said.replace(b'"schema"', b'"repair": "after",\n "schema"', 1))]


def test_from_the_call_to_the_proof_by_keyboard(browser: WebDriver, server: str) -> None:
    new_job(browser, server, NAME)
    drop(browser, small_capture("launch-before", 71, B1I=17.14, B1E=17.14))
    reads(browser, "case", "Chain jumped one pitch late")
    press(browser, "9")
    reads(browser, "hand-over-headline", "Chain jumped one pitch late. Confirm first, the covers stay on.")
    press(browser, "r")
    tab_to(browser, "As expected: Chain jumped").send_keys(Keys.ENTER)
    reads(browser, "found", "the timing drive had jumped")
    tab_to(browser, "Hours").send_keys("5.5", Keys.TAB)
    tab_to(browser, "Done on").send_keys("11202026")
    tab_to(browser, "Save the repair").send_keys(Keys.ENTER)
    page_reads(browser, "Nothing is recorded from after a repair yet.")
    press(browser, "4")
    page_reads(browser, "launch-before")
    drop(browser, after_the_repair("launch-after", 72))
    reads(browser, "case", "Timing as it should be")
    press(browser, "9")
    reads(browser, "hand-over-headline", "After the repair: timing as it should be.")
    press(browser, "r")
    assert "Intake cam" in reads(browser, "proof", "launch-before and launch-after")
    press(browser, "x")
    tab_to(browser, "Close the job", most=40)
    seen(browser, "close-job").send_keys(Keys.ENTER)
    reads(browser, "closed", "cause confirmed")
    assert "Called then: Chain jumped one pitch late" in seen(browser, "closed").text
    open_board(browser, server)
    assert NAME not in browser.find_element(By.TAG_NAME, "body").text
    press(browser, "j")
    seen(browser, "found-count")
    press(browser, "launch jumped")
    reads(browser, "found-count", "One job")
    press(browser, Keys.ARROW_DOWN, Keys.ENTER)
    reads(browser, "hand-over-headline", "confirmed. After the repair")
    browser.get(f"{server}/learning")
    assert NAME in reads(browser, "closed-call", NAME)


@pytest.mark.exhaustive
def test_the_first_word_is_copied_with_one_key(browser: WebDriver, server: str) -> None:
    browser.execute_cdp_cmd(
        "Browser.grantPermissions", {"permissions": ["clipboardReadWrite", "clipboardSanitizedWrite"]}
    )
    browser.get(f"{server}/jobs/{job_of(server, 'Harbour pick-up 7')}/hand-over")
    reads(browser, "hand-over-headline", "Chain jumped one pitch late. Open the covers.")
    press(browser, Keys.ENTER)
    reads(browser, "copied", "Copied: picture and five lines.")
    kept = browser.execute_async_script(
        """
        const done = arguments[0];
        navigator.clipboard.read().then(async (items) => {
          const text = await (await items[0].getType("text/plain")).text();
          const bytes = new Uint8Array(await (await items[0].getType("image/png")).arrayBuffer());
          done([text, btoa(bytes.reduce((all, one) => all + String.fromCharCode(one), ""))]);
        }, (error) => done([String(error), ""]));
        """
    )
    lines = kept[0].strip().splitlines()
    assert len(lines) == 6 and lines[0].startswith("Harbour pick-up 7: Chain jumped one pitch late.")
    assert Image.open(io.BytesIO(base64.b64decode(kept[1]))).width > 1000


def paper_text(browser: WebDriver) -> str:
    return str(
        browser.execute_script(
            "return document.querySelector('[data-testid=paper] div').shadowRoot.textContent.replace(/\\s+/g, ' ')"
        )
    )


@pytest.mark.exhaustive
def test_every_page_is_shown_as_it_is_printed(browser: WebDriver, server: str) -> None:
    browser.get(f"{server}/jobs/{job_of(server, 'Post car 5')}/hand-over")
    reads(browser, "hand-over-headline", "Chain jumped one pitch early, confirmed.")
    seen(browser, "paper")
    waits(browser).until(lambda _: "What was excluded" in paper_text(browser))
    assert "Marks as found" in paper_text(browser) and "Before and after" in paper_text(browser)
    tab_to(browser, "For the owner")
    browser.find_element(By.XPATH, "//*[@aria-label='Page']//button[contains(., 'owner')]").click()
    waits(browser).until(lambda _: "What you told us" in paper_text(browser))
    browser.set_window_size(768, 900)
    metrics = {"width": 768, "height": 900, "deviceScaleFactor": 1, "mobile": False}
    browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
    wide = browser.execute_script("return document.documentElement.scrollWidth")
    assert wide <= 768


@pytest.mark.exhaustive
def test_a_photo_is_added_captioned_and_brought_back(browser: WebDriver, server: str, tmp_path: Path) -> None:
    new_job(browser, server, "Ferry tender 6")
    to_station(browser, "2", "look")
    path = tmp_path / "mark.jpg"
    Image.new("RGB", (300, 200), "grey").save(path)
    browser.find_element(By.CSS_SELECTOR, "[data-testid='photo-file']").send_keys(str(path))
    several(browser, "photo", 1)
    caption = browser.find_element(By.CSS_SELECTOR, "[aria-label='Caption of mark.jpg']")
    caption.send_keys("the mark", Keys.ENTER)
    waits(browser).until(lambda b: b.find_elements(By.CSS_SELECTOR, "[aria-label='Take out the mark']"))
    tab_to(browser, "Take out the mark").send_keys(Keys.ENTER)
    gone(browser, "photo")
    browser.find_element(By.XPATH, "//button[contains(., 'Bring it back')]").click()
    several(browser, "photo", 1)
    press(browser, "3")
    page_reads(browser, "Photos")
    assert browser.find_elements(By.CSS_SELECTOR, "[data-testid='photo']") == []


@pytest.mark.exhaustive
def test_a_vehicle_over_the_years_and_a_new_job_of_it(browser: WebDriver, server: str) -> None:
    job_id = job_of(server, "Post car 5")
    browser.get(f"{server}/jobs/{job_id}/vehicle")
    assert "Found: guide broken" in reads(browser, "timeline-job", "Called: Chain jumped one pitch early")
    tab_to(browser, "New job with this engine").send_keys(Keys.ENTER)
    page_reads(browser, "No complaint noted")
    assert len(httpx.get(f"{server}/api/jobs/{job_id}/timeline", timeout=60.0).json()["entries"]) == 2


@pytest.mark.exhaustive
def test_a_capture_gets_a_name(browser: WebDriver, server: str) -> None:
    new_job(browser, server, "Ferry tender 7")
    drop(browser, small_capture("tender-7", 73))
    reads(browser, "capture", "tender-7")
    tab_to(browser, "Rename tender-7").send_keys(Keys.ENTER)
    press(browser, "Cranked cold", Keys.ENTER)
    assert "tender-7" in reads(browser, "capture", "Cranked cold")
