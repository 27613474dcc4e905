"""A practice car from its beginning to the truth, and lessons read right and wrong, in a real browser."""

from __future__ import annotations

import httpx
import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver

from phasko.bench.lessons import lesson_picture
from phasko.bench.pool import pool_engine
from phasko.core.practice.lessons import LESSONS
from tests.browser.hands import page_reads, press, reads, tab_to, waits

pytestmark = [pytest.mark.browser, pytest.mark.exhaustive]
OWN_PLACES = ("web/src/features/practice", "src/phasko/jobs/practice")


def test_a_car_is_taken_looked_at_called_and_told(browser: WebDriver, server: str) -> None:
    browser.get(f"{server}/practice")
    page_reads(browser, "Say who and which class")
    who = browser.find_element(By.CSS_SELECTOR, "main form input")
    who.send_keys("Ada", Keys.TAB)
    browser.switch_to.active_element.send_keys("Autumn course", Keys.ENTER)
    page_reads(browser, "Take car 1")
    tab_to(browser, "Take car 1").send_keys(Keys.ENTER)
    page_reads(browser, "Car 1 of Autumn course")
    reads(browser, "Clock", "0 min")
    press(browser, "2")
    tab_to(browser, "Do it: Timing marks", most=90).send_keys(Keys.ENTER)
    reads(browser, "Clock", "6 min")
    assert "Timing marks" in browser.find_element(By.CSS_SELECTOR, "[data-testid='steps']").text
    number = browser.current_url.split("/jobs/")[1].split("/")[0]
    refused = httpx.get(f"{server}/practice/api/jobs/{number}/why", timeout=30.0)
    assert refused.status_code == 403 and "machine" in refused.json()["what"]
    press(browser, "8")
    page_reads(browser, "What is it?")
    tab_to(browser, "all in order").send_keys(Keys.ENTER)
    tab_to(browser, "Leave them on").send_keys(Keys.ENTER)
    tab_to(browser, "Call it").send_keys(Keys.ENTER)
    waits(browser).until(lambda b: b.find_elements(By.CSS_SELECTOR, "[data-testid='truth']"))
    reads(browser, "headline", "It was:")
    assert "points of 100" in browser.find_element(By.CSS_SELECTOR, "[data-testid='points']").text
    page_reads(browser, "The machine, after each test")
    # The workshop has no job of it.
    rows = httpx.get(f"{server}/api/logbook", timeout=30.0).json()["rows"]
    assert not any(row["job"]["holder"] == "Ada" for row in rows)


def test_the_free_bench_follows_a_hand_and_makes_a_car_for_the_class(browser: WebDriver, server: str) -> None:
    browser.get(f"{server}/practice")
    browser.execute_script(
        "localStorage.setItem('phasko-learner', JSON.stringify({person: 'Kit', className: 'Bench course'}))"
    )
    browser.get(f"{server}/practice")
    page_reads(browser, "Take car 1")
    press(browser, "f")
    reads(browser, "headline", "Free bench")
    page_reads(browser, "Bank 1 intake cam")
    size = browser.find_element(By.CSS_SELECTOR, "[data-testid='size']")
    size.send_keys(Keys.ARROW_RIGHT)
    page_reads(browser, "2 pitches late")
    engine = pool_engine("brimholt-3.2-six")
    assert engine.drive is not None and engine.drive.crank_sprocket_teeth is not None
    pitch = 360.0 / engine.drive.crank_sprocket_teeth
    waits(browser).until(lambda _: abs(_first_cam_deg(browser) - 2 * pitch) < 2.0)
    size.send_keys(Keys.ARROW_LEFT)
    waits(browser).until(lambda _: abs(_first_cam_deg(browser) - pitch) < 2.0)
    tab_to(browser, "Give it to Bench course", most=40).send_keys(Keys.ENTER)
    reads(browser, "given", "It is car 1 of Bench course now")
    begun = {"person": "Ada", "class_name": "bench course", "number": 1}
    taken = httpx.post(f"{server}/api/practice/cars", json=begun, timeout=30.0).json()
    assert taken["kind"] == "blind"
    press(browser, Keys.ESCAPE)
    page_reads(browser, "Cars with a hidden fault")


def _first_cam_deg(browser: WebDriver) -> float:
    row = browser.find_element(By.CSS_SELECTOR, "table[aria-label='What each cam reads'] tbody tr")
    return float(row.find_elements(By.TAG_NAME, "td")[1].text.split("°")[0])


@pytest.mark.parametrize("lesson", [one.id for one in LESSONS])
def test_a_lesson_is_read_right_and_then_wrong(browser: WebDriver, server: str, lesson: str) -> None:
    body = {"person": "Ada", "seed": 5}
    begun = httpx.post(f"{server}/api/practice/lessons/{lesson}", json=body, timeout=60.0).json()
    truth = lesson_picture(lesson, 5).truth
    browser.get(f"{server}/practice/lessons/{begun['job_id']}")
    page_reads(browser, "With the rulers")
    for asked in begun["asked"]:
        field = browser.find_element(By.CSS_SELECTOR, f"[data-testid='asked-{asked['id']}'] input")
        field.send_keys(f"{truth[asked['id']]:.2f}")
    tab_to(browser, "Mark it").send_keys(Keys.ENTER)
    reads(browser, "points", "100 of 100")
    tab_to(browser, "Another picture").send_keys(Keys.ENTER)
    page_reads(browser, "Still to read")
    for field in browser.find_elements(By.CSS_SELECTOR, "aside input"):
        field.send_keys("777")
    tab_to(browser, "Mark it").send_keys(Keys.ENTER)
    reads(browser, "points", "0 of 100")
    page_reads(browser, "yours is")
