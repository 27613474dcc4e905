"""What happens every day: a file dropped wherever one is, a capture taken out by mistake, a sensor in some cylinder."""

from __future__ import annotations

import base64
import io
import re

import httpx
import pypdfium2
import pytest
from PIL import Image
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver
from selenium.webdriver.support.ui import Select

from phasko.bench.probe import Probe
from phasko.formats import WRITTEN, Table
from tests.browser.hands import DROP, drop, gone, page_reads, press, reads, seen, tab_to, waits
from tests.browser.test_first_job import new_job, open_board, small_capture
from tests.builders import FOUR, run_recording

pytestmark = pytest.mark.browser
OWN_PLACES = (
    "web/src/ui",
    "web/src/features/settings",
    "web/src/features/job",
    "web/src/features/why",
    "web/src/features/glossary",
)


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


@pytest.mark.exhaustive
def test_a_photo_dropped_at_a_station_stays_there(browser: WebDriver, server: str) -> None:
    new_job(browser, server, "Ferry tender 24")
    press(browser, "2")
    reads(browser, "headline", "Nothing noted yet")
    picture = io.BytesIO()
    Image.new("RGB", (40, 30), "white").save(picture, "PNG")
    carried = [["marks.png", base64.b64encode(picture.getvalue()).decode()]]
    browser.execute_script(DROP, browser.find_element(By.TAG_NAME, "main"), carried)
    seen(browser, "photo")
    assert browser.current_url.endswith("/look")


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
    waits(browser).until(lambda b: "Bring it back" in focus(b))
    browser.refresh()
    reads(browser, "out-of-job", "out")
    tab_to(browser, "Bring it back: out", most=90).send_keys(Keys.ENTER)
    reads(browser, "capture", "out")
    gone(browser, "out-of-job")
    assert not focus(browser).startswith("body"), "the focus is not lost with the button"


@pytest.mark.exhaustive
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


@pytest.mark.exhaustive
def test_a_station_on_paper_holds_its_finding_and_the_case(browser: WebDriver, server: str) -> None:
    browser.get(f"{server}/jobs/17/call")
    reads(browser, "headline", "Open up")
    press(browser, "d")
    for station, told in (("phase", "17.1° late"), ("call", "The call without it"), ("look", "looked at")):
        browser.get(f"{server}/jobs/17/{station}")
        reads(browser, "headline", " ")
        reads(browser, "case", "Open up")
        sheet = browser.execute_cdp_cmd("Page.printToPDF", {"preferCSSPageSize": True, "printBackground": False})
        pages = pypdfium2.PdfDocument(base64.b64decode(sheet["data"]))
        assert 1 <= len(pages) <= 4
        text = " ".join(page.get_textpage().get_text_range() for page in pages)
        assert told in text
        assert "Harbour pick-up 7" in text
        assert "Stop cranking" in text, "the caution of the case goes along"
        assert "Logbook" not in text, "what can only be pressed stays on the screen"
        picture = pages[0].render(scale=0.3).to_pil().convert("L")
        assert sum(picture.histogram()[200:]) > 0.8 * picture.width * picture.height, (
            "white, though it is dark on screen"
        )


@pytest.mark.exhaustive
def test_keys_of_one_letter_can_be_switched_off(browser: WebDriver, server: str) -> None:
    browser.get(server)
    seen(browser, "job")
    press(browser, ",")
    reads(browser, "headline", "Settings")
    tab_to(browser, "Off").send_keys(Keys.ENTER)
    press(browser, "g", "j", "?")
    assert browser.current_url.endswith("/settings")
    assert not browser.find_elements(By.CSS_SELECTOR, "[role=dialog]")
    browser.get(server)
    seen(browser, "job")
    press(browser, Keys.ARROW_DOWN, Keys.ENTER)
    waits(browser).until(lambda b: "/jobs/" in b.current_url)
    press(browser, "5")
    assert not browser.current_url.endswith("/seal")
    browser.get(f"{server}/settings")
    tab_to(browser, "On").send_keys(Keys.ENTER)
    press(browser, "g")
    waits(browser).until(lambda b: b.current_url.endswith("/engines"))


@pytest.mark.exhaustive
def test_units_are_set_once(browser: WebDriver, server: str) -> None:
    browser.get(f"{server}/settings")
    tab_to(browser, "kPa").send_keys(Keys.ENTER)
    tab_to(browser, "Teeth before gap").send_keys(Keys.ENTER)
    browser.get(f"{server}/jobs/17/cylinder")
    peak = re.search(r"Peak (\d+) ± \d+ kPa", reads(browser, "figures", "kPa"))
    assert peak is not None
    assert 1000 < int(peak.group(1)) < 1400
    press(browser, "6")
    reads(browser, "flag-B1I", "wheel teeth late")


@pytest.mark.exhaustive
def test_words_and_reasons_are_one_key_or_one_press_away(browser: WebDriver, server: str) -> None:
    browser.get(f"{server}/jobs/17/phase")
    reads(browser, "headline-number", "17.1° late")
    press(browser, "q")
    first = seen(browser, "glossary").find_element(By.TAG_NAME, "h3")
    assert first.text == "At this station"
    assert seen(browser, "glossary").find_elements(By.TAG_NAME, "svg")
    tab_to(browser, "Find a word").send_keys("loss")
    words = seen(browser, "glossary").find_elements(By.TAG_NAME, "h4")
    assert "Loss angle" in [word.text for word in words]
    press(browser, Keys.ESCAPE)
    gone(browser, "glossary")
    mark = browser.find_element(By.CSS_SELECTOR, "[aria-label='Why is this? Intake cam, offset']")
    mark.send_keys(Keys.ENTER)
    why = reads(browser, "why", "17.1° late ± 0.7°")
    for told in ("mean over the edges", "of the reference", "7 cycles", "JCGM 100:2008"):
        assert told in why
    press(browser, Keys.ESCAPE)
    gone(browser, "why")
    assert "Why is this?" in focus(browser), "the focus goes back to the number"


def test_what_must_be_seen_is_large_at_every_size(browser: WebDriver, server: str) -> None:
    """From a metre: 30 px, on a narrow screen and at 200 % zoom (640 px) 22 px, the board 18 px."""
    browser.get(server)
    board = seen(browser, "row-stop")
    assert size_px(browser, board) >= 18
    for width, least in ((1280, 30), (768, 30), (640, 22), (390, 22)):
        metrics = {"width": width, "height": 900, "deviceScaleFactor": 1, "mobile": False}
        browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
        browser.get(f"{server}/jobs/17/phase")
        reads(browser, "headline-number", "late")
        words = [e for e in browser.find_elements(By.XPATH, "//*[text()='Open up']") if e.is_displayed()]
        assert max(size_px(browser, one) for one in words) >= least, width
        stops = [e for e in browser.find_elements(By.XPATH, "//*[text()='Stop cranking']") if e.is_displayed()]
        assert max(size_px(browser, one) for one in stops) >= (19 if width >= 768 else 22), width
        small = browser.execute_script(SMALL)
        assert small == [], width


SMALL = """
const told = [];
for (const node of document.querySelectorAll("main *, aside *, nav *")) {
  const own = [...node.childNodes].some((one) => one.nodeType === 3 && one.textContent.trim());
  if (!own || !node.getClientRects().length) continue;
  const size = parseFloat(getComputedStyle(node).fontSize);
  const least = node.closest("svg") ? 11 : 13;
  if (size < least) told.push(`${node.textContent.trim().slice(0, 40)}: ${size}`);
}
return told;
"""


def size_px(browser: WebDriver, element: object) -> float:
    return float(browser.execute_script("return parseFloat(getComputedStyle(arguments[0]).fontSize)", element))


LONG_NAME = ("Ferry tender of the outer harbour, which pulls the barges with gravel from the pier to the quarry " * 3)[
    :200
]
TWELVE = ["P0016", "P0017", "P0335", "P0340", "P0300", "P0301", "P0302", "P0303", "P0304", "P0011", "P0014", "P0420"]


@pytest.mark.exhaustive
def test_a_name_of_two_hundred_letters_and_twelve_codes_fold(browser: WebDriver, server: str) -> None:
    body = {"vehicle": LONG_NAME, "complaint": "Stalls at the first bump. " * 12, "codes": TWELVE, "engine_id": 1}
    job = httpx.post(f"{server}/api/jobs", json=body, timeout=30.0).json()["id"]
    for width in (1280, 768, 390):
        metrics = {"width": width, "height": 900, "deviceScaleFactor": 1, "mobile": False}
        browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
        for screen in ("", f"jobs/{job}/complaint", f"jobs/{job}/captures", f"jobs/{job}/hand-over"):
            browser.get(f"{server}/{screen}")
            waits(browser).until(lambda b: b.find_elements(By.CSS_SELECTOR, "main h1"))
            assert browser.execute_script(BEYOND) == [], (width, screen)


BEYOND = """
const main = document.querySelector("main");
const told = main.scrollWidth > main.clientWidth ? [`content by ${main.scrollWidth - main.clientWidth} px`] : [];
const parts = [...document.querySelector("header").children].filter((one) => one.getClientRects().length);
const [lefts, rights] = ["left", "right"].map((side) => parts.map((one) => one.getBoundingClientRect()[side]));
if (lefts.some((left, i) => i && left < rights[i - 1] - 1)) told.push("the bar's parts lie over each other");
if (getComputedStyle(parts[1]).overflowX !== "hidden") told.push("the name is not cut where its place ends");
return told;
"""
