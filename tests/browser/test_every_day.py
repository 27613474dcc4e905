"""What happens every day: a file dropped wherever one is, a capture taken out by mistake, a sensor in some cylinder."""

from __future__ import annotations

import base64

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver
from selenium.webdriver.support.ui import Select, WebDriverWait

from phasko.bench.probe import Probe
from phasko.formats import WRITTEN, Table
from tests.browser.hands import DROP, drop, gone, page_reads, press, reads, seen, tab_to
from tests.browser.test_first_job import new_job, open_board, small_capture
from tests.builders import FOUR, run_recording

pytestmark = pytest.mark.browser


def focus(browser: WebDriver) -> str:
    here = browser.switch_to.active_element
    return f"{here.tag_name} {here.get_attribute('aria-label') or here.text}"


def test_a_file_dropped_at_another_station_is_caught(browser: WebDriver, server: str) -> None:
    new_job(browser, server, "Ferry tender 21")
    press(browser, "6")
    page_reads(browser, "Nothing")
    carried = [[name, base64.b64encode(content).decode()] for name, content in small_capture("caught", 41)]
    browser.execute_script(DROP, browser.find_element(By.TAG_NAME, "main"), carried)
    reads(browser, "capture", "caught")
    assert browser.current_url.endswith("/captures")


def test_a_file_dropped_outside_of_a_job_says_where_it_belongs(browser: WebDriver, server: str) -> None:
    open_board(browser, server)
    carried = [["a.csv", base64.b64encode(b"t,a").decode()]]
    browser.execute_script(DROP, browser.find_element(By.TAG_NAME, "main"), carried)
    reads(browser, "file-drop", "open the job first")
    assert browser.current_url.rstrip("/") == server.rstrip("/"), "the page is not replaced by the file"


def test_what_was_taken_out_can_always_be_brought_back(browser: WebDriver, server: str) -> None:
    new_job(browser, server, "Ferry tender 22")
    drop(browser, small_capture("out", 42))
    reads(browser, "capture", "out")
    drop(browser, small_capture("out", 42))
    page_reads(browser, "already in the job, as out")
    tab_to(browser, "Take out out", most=90).send_keys(Keys.ENTER)
    gone(browser, "capture")
    WebDriverWait(browser, 5).until(lambda b: "Bring it back" in focus(b))
    browser.refresh()
    reads(browser, "out-of-job", "out")
    tab_to(browser, "Bring back out", most=90).send_keys(Keys.ENTER)
    reads(browser, "capture", "out")
    gone(browser, "out-of-job")
    assert not focus(browser).startswith("body"), "the focus is not lost with the button"


def test_a_pressure_asks_for_its_cylinder(browser: WebDriver, server: str) -> None:
    recording = run_recording(FOUR, [Probe("crank"), Probe("cylinder_pressure", cylinder=3)], 43)[0]
    columns = {f"Ch {k}": c.samples for k, c in enumerate(recording.channels, start=1)}
    csv = next(form for form in WRITTEN if form.name == "CSV")
    new_job(browser, server, "Ferry tender 23")
    drop(browser, [("felt.csv", csv.write(Table(0.0, recording.interval_s, columns)))])
    sheet = seen(browser, "sheet")
    which = Select(sheet.find_element(By.CSS_SELECTOR, "select[aria-label='Cylinder']"))
    assert which.first_selected_option.text == "which cylinder?"
    tab_to(browser, "That is right, measure it", most=90).send_keys(Keys.ENTER)
    page_reads(browser, "In which cylinder was the sensor?")
    which.select_by_value("3")
    tab_to(browser, "That is right, measure it", most=90).send_keys(Keys.ENTER)
    gone(browser, "sheet")
    reads(browser, "capture", "cylinder pressure")
