"""The main job in a real browser: open the demo's jumped chain, read it, add captures, all by keyboard, too."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver

from phasko.bench import Cranking, HookUp, Shift, capture_files
from tests.browser.hands import asked, drop, gone, page_reads, press, reads, seen, several, tab_to, waits
from tests.builders import FOUR, pool_engine
from trials.recordings import record

pytestmark = pytest.mark.browser
OWN_PLACES = ("web/src/features/captures", "web/src/features/job", "web/src/features/import")


def small_capture(name: str, seed: int, **cams_deg: float) -> list[tuple[str, bytes]]:
    """Both files of a short capture at 20 kS/s."""
    made = record(
        pool_engine(FOUR),
        seed,
        shift=Shift(cams_deg),
        cranking=Cranking(cycles=3.3),
        hookup=HookUp(sample_rate_hz=20_000),
        name=name,
    )
    files = capture_files(made)
    return [(n, files[n]) for n in (f"{name}.csv", f"{name}.capture.json")]


def open_board(browser: WebDriver, server: str) -> None:
    browser.get(server)
    seen(browser, "job")


def new_job(browser: WebDriver, server: str, vehicle: str) -> None:
    """Opens a job for the four of the demo, by keyboard."""
    open_board(browser, server)
    press(browser, "n")
    waits(browser).until(lambda b: b.switch_to.active_element.tag_name == "input")
    press(browser, vehicle, Keys.TAB, "Corvane Skiff", Keys.TAB, Keys.TAB, Keys.TAB, "Cor")
    tab_to(browser, "Open the job").send_keys(Keys.ENTER)
    reads(browser, "headline", "Nothing recorded yet")


def captures_listed(browser: WebDriver) -> int:
    return len(browser.find_elements(By.CSS_SELECTOR, "[data-testid='capture']"))


def test_the_jumped_job_reads_one_pitch(browser: WebDriver, server: str) -> None:
    open_board(browser, server)
    row = next(r for r in browser.find_elements(By.CSS_SELECTOR, "[data-testid='job']") if "pick-up" in r.text)
    row.click()
    number = reads(browser, "headline-number", "late")
    assert abs(float(number.split("°")[0]) - 360 / 21) < 0.2
    assert seen(browser, "headline").text == f"Both cam signals read {number}, one chain pitch"
    case = seen(browser, "case").text
    assert "Chain jumped one pitch late" in case
    # The crank's own speed has told that the pistons stand where the wheel says: it did not move.
    assert "Crank wheel" not in case
    main = browser.find_element(By.TAG_NAME, "main").text
    assert "TDC confirmed by cylinder pressure and the crank's own speed" in main
    assert "Open up" in case, "two corners of cylinder 3 follow the cam signals"
    assert "NEXT TEST" not in case.upper(), "nothing would change the call"
    assert "Stop cranking." in case
    several(browser, "cam-row", 2)


def test_a_dropped_capture_moves_the_case(browser: WebDriver, server: str) -> None:
    new_job(browser, server, "Ferry tender 3")
    assert "No call yet" in seen(browser, "case").text
    drop(browser, small_capture("tender-3", 31, B1I=17.14, B1E=17.14))
    reads(browser, "capture", "tender-3")
    assert "Chain jumped one pitch late" in reads(browser, "case", "Confirm first")
    press(browser, "6")
    reads(browser, "headline", "Both cam signals read 17.1° late, one chain pitch")


def test_a_broken_capture_says_where_and_leaves_the_job(browser: WebDriver, server: str) -> None:
    new_job(browser, server, "Ferry tender 4")
    drop(browser, small_capture("good", 32))
    reads(browser, "capture", "good")
    before = reads(browser, "case", "Timing as it should be")
    (_, data), description = small_capture("broken", 33)
    lines = data.split(b"\n")
    broken = [line.replace(b",", b",oops", 1) if k >= 4 and k % 500 == 4 else line for k, line in enumerate(lines)]
    drop(browser, [("broken.csv", b"\n".join(broken)), description])
    page = page_reads(browser, "broken.csv, line 5")
    assert "is not a number" in page
    assert "The job is as it was." in page
    assert captures_listed(browser) == 1
    assert seen(browser, "case").text == before


@pytest.mark.exhaustive
def test_a_description_without_its_data_is_explained(browser: WebDriver, server: str) -> None:
    new_job(browser, server, "Ferry tender 5")
    drop(browser, small_capture("lonely", 34)[1:])
    assert "lonely.csv" in page_reads(browser, "which did not come with it")
    assert captures_listed(browser) == 0


def test_everything_by_keyboard(browser: WebDriver, server: str) -> None:
    open_board(browser, server)
    press(browser, Keys.ARROW_DOWN)
    while "pick-up" not in browser.switch_to.active_element.text:
        press(browser, Keys.ARROW_DOWN)
    press(browser, Keys.ENTER)
    reads(browser, "headline-number", "17.1° late")
    seen(browser, "turn-strip")
    reads(browser, "cycle", "all ")
    press(browser, Keys.ARROW_RIGHT, Keys.ARROW_RIGHT)
    reads(browser, "cycle", "cycle 2 of ")
    press(browser, Keys.ARROW_LEFT)
    reads(browser, "cycle", "cycle 1 of ")
    press(browser, "0")
    reads(browser, "cycle", "all ")
    press(browser, "e")
    assert "edge 1 rising" in seen(browser, "loupe").text
    press(browser, "e")
    reads(browser, "loupe", "edge 2 falling")
    press(browser, Keys.ESCAPE)
    gone(browser, "loupe")
    press(browser, "t")
    reads(browser, "flag-B1I", "2.9 wheel teeth late")
    press(browser, "r")
    seen(browser, "ruler-reading")
    ruler = tab_to(browser, "Ruler A")
    before = seen(browser, "ruler-reading").text
    ruler.send_keys(Keys.SHIFT + Keys.ARROW_RIGHT)
    assert seen(browser, "ruler-reading").text != before
    press(browser, "8")
    reads(browser, "headline", "Open up: chain jumped one pitch late")
    browser.get(f"{server}/jobs/11/phase")
    reads(browser, "case", "Confirm first")
    tab_to(browser, "Show me how").send_keys(Keys.ENTER)
    assert len(seen(browser, "next-test").text.splitlines()) > 2, "how it is done unfolds"
    browser.get(f"{server}/jobs/17/phase")
    reads(browser, "headline-number", "17.1° late")
    press(browser, "2")
    reads(browser, "headline", f"2 of {asked(FOUR)} looked at")
    press(browser, "3")
    reads(browser, "headline", "leads")
    press(browser, "d")
    assert "dark" in browser.find_element(By.TAG_NAME, "html").get_attribute("class")
    press(browser, "?")
    keys = page_reads(browser, "Go to that station")
    assert "6 Phase" in keys


@pytest.mark.exhaustive
def test_out_and_back_by_keyboard(browser: WebDriver, server: str) -> None:
    new_job(browser, server, "Ferry tender 6")
    drop(browser, small_capture("tender-6", 35))
    reads(browser, "capture", "tender-6")
    tab_to(browser, "Take out tender-6").send_keys(Keys.ENTER)
    reads(browser, "headline", "Nothing recorded yet")
    reads(browser, "case", "No call yet")
    press(browser, "u")
    reads(browser, "headline", "One capture recorded")
    reads(browser, "case", "Timing as it should be")


@pytest.mark.exhaustive
def test_at_768_the_case_is_a_bar_that_opens(browser: WebDriver, server: str) -> None:
    metrics = {"width": 768, "height": 1024, "deviceScaleFactor": 1, "mobile": False}
    browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
    browser.get(f"{server}/jobs/11/phase")
    reads(browser, "case", "Confirm first")
    assert not browser.find_elements(By.CSS_SELECTOR, "[data-testid='gate']")[0].is_displayed()
    press(browser, "c")
    assert "nothing yet has felt the valves, or seen the marks" in seen(browser, "gate").text
    wide = browser.execute_script("return document.documentElement.scrollWidth")
    assert wide <= 768


def test_an_old_link_explains_itself(browser: WebDriver, server: str) -> None:
    browser.get(f"{server}/jobs/999/phase")
    assert "There is no job number 999" in page_reads(browser, "no job number")
