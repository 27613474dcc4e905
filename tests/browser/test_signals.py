"""A foreign recording: dropped, its channels named, looked at, counted; by keyboard wherever a hand is free."""

from __future__ import annotations

import re
import urllib.request
from pathlib import Path

import pytest
from selenium.common.exceptions import StaleElementReferenceException
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.actions.wheel_input import ScrollOrigin
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.expected_conditions import staleness_of
from selenium.webdriver.support.ui import Select

from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.formats import WRITTEN, Table
from tests.browser.hands import drop, page_reads, press, reads, seen, tab_to, to_station, waits
from tests.browser.test_first_job import new_job, open_board
from tests.builders import FOUR, run_recording

OWN_PLACES = ("web/src/features/signals", "web/src/features/import")

MARK = "input[placeholder='what happened then']"
SLOW = ScopeSettings(rate_hz=20_000.0)


def foreign_csv(seed: int) -> bytes:
    """Semicolons, decimal commas, a preamble and names of its own; the last channel is nothing that helps."""
    probes = [Probe("crank"), Probe("cam", cam="B1I"), Probe("cam", cam="B1E"), Probe("intake_pulse")]
    recording = run_recording(FOUR, probes, seed, settings=SLOW)[0]
    columns = {f"In {k + 1}": channel.samples for k, channel in enumerate(recording.channels)}
    text = (
        next(form for form in WRITTEN if form.name == "CSV").write(Table(0.0, recording.interval_s, columns)).decode()
    )
    return ("Yard scope\n\n" + text.replace(",", ";").replace(".", ",").replace("time_s", "Zeit", 1)).encode()


def roles(browser: WebDriver) -> list[str]:
    selects = browser.find_elements(By.CSS_SELECTOR, "[data-testid='channel'] select[aria-label='Role']")
    return [Select(one).first_selected_option.text for one in selects]


def dropped(browser: WebDriver, server: str, vehicle: str, seed: int) -> None:
    new_job(browser, server, vehicle)
    drop(browser, [("yard.csv", foreign_csv(seed))])
    reads(browser, "sheet", "In 4")


def test_a_foreign_recording_is_recognised_corrected_and_measured(browser: WebDriver, server: str) -> None:
    dropped(browser, server, "Road roller 3", 81)
    assert roles(browser)[:3] == ["Crank", "Cam", "Cam"]
    assert "58 pulses a turn" in seen(browser, "sheet").text
    assert "decimal commas" in seen(browser, "sheet").text
    assert "channels not confirmed: not measured" in reads(browser, "capture", "yard")
    last = browser.find_elements(By.CSS_SELECTOR, "select[aria-label='Role']")[-1]
    last.send_keys("Not")
    assert roles(browser)[-1] == "Not used"
    condition = browser.find_element(By.CSS_SELECTOR, "select[aria-label='Condition']")
    condition.send_keys("cranking")
    tab_to(browser, "Closer")
    tab_back_to(browser, "That is right, measure it").send_keys(Keys.ENTER)
    assert "cranking" in reads(browser, "capture", "cranking")
    press(browser, "6")
    reads(browser, "headline", "cam")
    seen(browser, "turn-strip")


def tab_back_to(browser: WebDriver, name: str) -> WebElement:
    for _ in range(60):
        here = browser.switch_to.active_element
        if name in here.text:
            return here
        here.send_keys(Keys.SHIFT, Keys.TAB)
    raise AssertionError(f"no way back by keyboard to {name!r}")


def plot(browser: WebDriver) -> WebElement:
    return seen(browser, "signal-plot")


def span(browser: WebDriver) -> tuple[float, float]:
    low, _, rest = seen(browser, "span").text.partition(" to ")
    return float(low), float(rest.removesuffix(" s"))


@pytest.mark.exhaustive
def test_zoom_pan_and_rulers_by_keyboard_count_the_teeth(browser: WebDriver, server: str) -> None:
    """As many rising crank edges as wheel teeth lie between the rulers, two fewer where the gap does."""
    dropped(browser, server, "Road roller 4", 82)
    whole = span(browser)
    area = plot(browser)
    area.send_keys(Keys.ARROW_UP, Keys.ARROW_UP, Keys.ARROW_UP, Keys.ARROW_UP)
    waits(browser).until(lambda b: span(b)[1] - span(b)[0] < 0.1 * (whole[1] - whole[0]))
    before = span(browser)
    area.send_keys(Keys.ARROW_RIGHT)
    waits(browser).until(lambda b: span(b)[0] > before[0])
    area.send_keys("a", "b")
    for name, steps in (("Ruler A", 1), ("Ruler B", 21)):
        ruler = browser.find_element(By.CSS_SELECTOR, f"[aria-label='{name}']")
        for _ in range(steps):
            ruler.send_keys(Keys.ARROW_UP)
    text = reads(browser, "ruler-reading", "wheel teeth")
    told = browser.find_element(By.CSS_SELECTOR, "[aria-label='Ruler B']")
    waits(browser).until(
        lambda _: re.fullmatch(r"\d+\.\d\d ms, \d+\.\d° crank from A to B", told.get_attribute("aria-valuetext") or "")
    )
    waits(browser).until(lambda b: teeth(seen(b, "ruler-reading").text) > 7.0)
    text = seen(browser, "ruler-reading").text
    assert "rpm" in text
    assert any(abs(teeth(text) - rising_crank_edges(text) - gap) < 1.01 for gap in (0, 2))
    area.send_keys("f")
    waits(browser).until(lambda b: span(b) == whole)


def teeth(text: str) -> float:
    return float(next(line for line in text.splitlines() if "wheel teeth" in line).split(" ")[0])


def rising_crank_edges(text: str) -> int:
    """Counted on the crank's own signal, which knows nothing of angles."""
    crank = next(part for part in text.split(" · ") if "Crank" in part)
    return int(crank.rsplit(", ", 1)[1].split(" ")[0])


@pytest.mark.exhaustive
def test_the_mouse_zooms_about_its_place_and_drags(browser: WebDriver, server: str) -> None:
    dropped(browser, server, "Road roller 9", 86)
    whole = span(browser)
    area = plot(browser)
    browser.execute_script("arguments[0].scrollIntoView({block: 'center'})", area)
    origin = ScrollOrigin.from_element(area, 150, 0)
    ActionChains(browser).scroll_from_origin(origin, 0, -900).perform()
    waits(browser).until(lambda b: span(b)[1] - span(b)[0] < 0.6 * (whole[1] - whole[0]))
    near = span(browser)
    assert near[0] > whole[0]
    ActionChains(browser).move_to_element(area).click_and_hold().move_by_offset(80, 0).release().perform()
    waits(browser).until(lambda b: span(b)[0] < near[0])
    moved = span(browser)
    assert abs((moved[1] - moved[0]) - (near[1] - near[0])) < 0.01 * (near[1] - near[0]) + 0.002


@pytest.mark.exhaustive
def test_lanes_are_hidden_and_laid_over(browser: WebDriver, server: str) -> None:
    dropped(browser, server, "Road roller 5", 83)
    high = plot(browser).size["height"]
    next(b for b in browser.find_elements(By.TAG_NAME, "button") if b.text == "Lanes").click()
    lanes = seen(browser, "lane-list")
    lanes.find_elements(By.XPATH, ".//button[text()='Hide']")[0].click()
    waits(browser).until(lambda b: plot(b).size["height"] < high)
    lanes.find_elements(By.XPATH, ".//button[text()='Over the one above']")[2].click()
    waits(browser).until(lambda b: plot(b).size["height"] < high - 100)


def test_a_mark_is_set_named_and_kept_though_the_page_is_left_at_once(browser: WebDriver, server: str) -> None:
    dropped(browser, server, "Road roller 6", 84)
    plot(browser).send_keys("a", "m")
    named = waits(browser).until(lambda b: b.find_element(By.CSS_SELECTOR, MARK))
    named.send_keys("stumble")
    browser.execute_script("arguments[0].blur(); window.location.reload()", named)
    waits(browser).until(staleness_of(named))
    reads(browser, "capture", "yard")
    next(b for b in browser.find_elements(By.TAG_NAME, "button") if b.text == "Channels").click()
    waits(browser).until(lambda b: marks(b) == ["stumble"])


@pytest.mark.exhaustive
def test_marks_named_one_right_after_the_other_are_all_kept(browser: WebDriver, server: str) -> None:
    """Each is made from what the one before left: nobody is told that somebody else, who is himself, was faster."""
    dropped(browser, server, "Road roller 7", 84)
    plot(browser).send_keys(Keys.ARROW_UP, Keys.ARROW_UP, *(["a", "m", "m", Keys.ARROW_RIGHT] * 3))
    waits(browser).until(lambda b: marks(b) == ["", "", ""])
    for field, words in zip(browser.find_elements(By.CSS_SELECTOR, MARK), ("start", "cough", "stall"), strict=True):
        field.send_keys(words)
    taken_out = browser.find_elements(By.XPATH, "//button[starts-with(@aria-label, 'Take out the mark')]")[1]
    taken_out.click()
    waits(browser, StaleElementReferenceException).until(lambda b: marks(b) == ["start", "stall"])
    assert not browser.find_elements(By.CSS_SELECTOR, "[role='alert']")


def marks(browser: WebDriver) -> list[str | None]:
    return [field.get_attribute("value") for field in browser.find_elements(By.CSS_SELECTOR, MARK)]


@pytest.mark.exhaustive
def test_a_bundle_is_handed_on_and_opened(browser: WebDriver, server: str, tmp_path: Path) -> None:
    """What a colleague gets opens as a job of its own, with the same reading."""
    open_board(browser, server)
    rows = browser.find_elements(By.CSS_SELECTOR, "[data-testid='job']")
    next(row for row in rows if "pick-up" in row.text).click()
    seen(browser, "case")
    press(browser, "6")
    reading = reads(browser, "headline-number", "late")
    press(browser, "4")
    reads(browser, "capture", "kS/s")
    next(b for b in browser.find_elements(By.TAG_NAME, "button") if b.text == "Channels").click()
    seen(browser, "sheet")
    link = next(a for a in browser.find_elements(By.TAG_NAME, "a") if a.text == "For a colleague, without the vehicle")
    bundle = tmp_path / "handed.bundle.zip"
    with urllib.request.urlopen(str(link.get_attribute("href"))) as answer:
        bundle.write_bytes(answer.read())
    open_board(browser, server)
    browser.find_element(By.CSS_SELECTOR, "[data-testid='bundle-file']").send_keys(str(bundle))
    # The board shows it too, as soon as it stands there: the case is on its own page.
    seen(browser, "case")
    page_reads(browser, "From a colleague")
    to_station(browser, "6", "phase")
    assert reads(browser, "headline-number", "late") == reading


def test_raw_signals_open_in_view_and_take_the_keys(browser: WebDriver, server: str) -> None:
    """R on Phase opens them below; they scroll into view with the focus, and B is then a ruler and not the board."""
    open_board(browser, server)
    next(row for row in browser.find_elements(By.CSS_SELECTOR, "[data-testid='job']") if "pick-up" in row.text).click()
    seen(browser, "case")
    press(browser, "6")
    seen(browser, "turn-strip")
    press(browser, "r")
    waits(browser).until(lambda b: b.switch_to.active_element.get_attribute("data-testid") == "signal-plot")
    box = browser.execute_script("return arguments[0].getBoundingClientRect().toJSON()", plot(browser))
    assert 0 <= box["top"] < 700
    before = seen(browser, "ruler-reading").text
    press(browser, Keys.ARROW_UP, Keys.ARROW_UP, "b")
    waits(browser).until(lambda b: seen(b, "ruler-reading").text != before)
    assert browser.current_url.endswith("/phase")
