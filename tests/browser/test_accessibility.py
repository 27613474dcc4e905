"""Every screen by the rules of WCAG 2.2 AA, as axe-core measures them, in daylight and under the bonnet; and the ways
by keyboard that no tool measures."""

from __future__ import annotations

import json
from pathlib import Path

import httpx
import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver

from tests.browser.hands import press, seen, waits

pytestmark = [pytest.mark.browser, pytest.mark.exhaustive]
OWN_PLACES = ("web/src/ui", "web/src/features")

AXE = (Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text(encoding="utf-8")
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
MEASURE = """
const done = arguments[1];
const told = (rule) => `${rule.id}: ${rule.nodes.map((node) => node.html.slice(0, 120)).join(" | ")}`;
axe.run(document, { runOnly: arguments[0], resultTypes: ["violations"] }).then(
  (found) => done(found.violations.map(told)),
  (error) => done([String(error)]),
);
"""
STATIONS = ("complaint", "look", "hook-up", "captures", "seal", "phase", "cylinder", "call", "hand-over")
SCREENS = (
    "",
    "logbook",
    "learning",
    "engines",
    "engines/1",
    "workshop",
    "fleet",
    "updates",
    "settings",
    "jobs/{job}/vehicle",
    *(f"jobs/{{job}}/{station}" for station in STATIONS),
)


@pytest.fixture(scope="module")
def job_id(server: str) -> int:
    rows = httpx.get(f"{server}/api/logbook", params={"vehicle": "Harbour pick-up 7"}, timeout=60.0).json()["rows"]
    return int(rows[0]["job"]["id"])


def settled(browser: WebDriver) -> None:
    """Waits until nothing is awaited any more."""
    waiting = "[role=status] .chakra-spinner"
    waits(browser).until(lambda b: b.find_elements(By.TAG_NAME, "h1") and not b.find_elements(By.CSS_SELECTOR, waiting))


def at_rest(browser: WebDriver) -> None:
    """What fades in, or from one light into the other, is measured once it is there."""
    waits(browser).until(lambda b: b.execute_script("return document.getAnimations().length") == 0)


def broken_rules(browser: WebDriver) -> list[str]:
    """The rules that the screen breaks as it stands once it is at rest."""
    at_rest(browser)
    return list(browser.execute_async_script(MEASURE, RULES))


def test_no_screen_breaks_a_rule_in_either_light(browser: WebDriver, server: str, job_id: int) -> None:
    broken = {}
    for screen in SCREENS:
        browser.get(f"{server}/{screen.format(job=job_id)}")
        settled(browser)
        browser.execute_script(AXE)
        for light in ("daylight", "under-bonnet"):
            found = broken_rules(browser)
            if found:
                broken[f"/{screen} {light}"] = found
            press(browser, Keys.ESCAPE, "d")
    assert broken == {}


def test_no_screen_of_practice_breaks_a_rule_in_either_light(browser: WebDriver, server: str) -> None:
    asked = {"person": "Ida", "class_name": "Rules", "number": 1}
    car = httpx.post(f"{server}/api/practice/cars", json=asked, timeout=60.0).json()["job_id"]
    called = httpx.post(f"{server}/api/practice/cars", json=asked | {"number": 2}, timeout=60.0).json()["job_id"]
    call = {"fault": "none", "sure": 0.5, "covers": "on"}
    httpx.post(f"{server}/api/practice/jobs/{called}/call", json=call, timeout=90.0).raise_for_status()
    begun = {"person": "Ida", "seed": 3}
    lesson = httpx.post(f"{server}/api/practice/lessons/teeth", json=begun, timeout=60.0).json()["job_id"]
    browser.get(f"{server}/practice")
    learner = json.dumps({"person": "Ida", "className": "Rules"})
    browser.execute_script("localStorage.setItem('phasko-learner', arguments[0])", learner)
    own = [f"jobs/{car}/{station}" for station in ("complaint", "look", "captures", "call")]
    broken = {}
    for screen in ("", "bench", f"lessons/{lesson}", *own, f"jobs/{called}/call"):
        browser.get(f"{server}/practice/{screen}")
        settled(browser)
        browser.execute_script(AXE)
        for light in ("daylight", "under-bonnet"):
            found = broken_rules(browser)
            if found:
                broken[f"/practice/{screen} {light}"] = found
            press(browser, "d")
    assert broken == {}


def test_no_rule_is_broken_on_a_phone_and_under_what_opens(browser: WebDriver, server: str, job_id: int) -> None:
    metrics = {"width": 390, "height": 844, "deviceScaleFactor": 1, "mobile": False}
    broken = {}
    browser.get(f"{server}/jobs/{job_id}/call")
    settled(browser)
    browser.execute_script(AXE)
    for opened in ("q", "?"):
        press(browser, opened)
        waits(browser).until(lambda b: b.find_elements(By.CSS_SELECTOR, "[role=dialog] h2"))
        at_rest(browser)
        found = broken_rules(browser)
        if found:
            broken[f"key {opened}"] = found
        press(browser, Keys.ESCAPE)
        waits(browser).until(lambda b: not b.find_elements(By.CSS_SELECTOR, "[role=dialog]"))
    browser.find_element(By.CSS_SELECTOR, "[data-why=gate]").click()
    seen(browser, "why")
    at_rest(browser)
    found = broken_rules(browser)
    if found:
        broken["why"] = found
    browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
    for station in ("complaint", "hook-up", "look", "captures", "phase", "call"):
        browser.get(f"{server}/jobs/{job_id}/{station}")
        settled(browser)
        browser.execute_script(AXE)
        found = broken_rules(browser)
        if found:
            broken[f"390 px {station}"] = found
    assert broken == {}


def test_tab_reaches_the_content_of_a_job_in_two_presses(browser: WebDriver, server: str, job_id: int) -> None:
    browser.get(f"{server}/jobs/{job_id}/phase")
    seen(browser, "headline")
    press(browser, Keys.TAB)
    assert browser.switch_to.active_element.text == "To the content"
    press(browser, Keys.ENTER)
    assert browser.switch_to.active_element.tag_name == "main"


def test_every_screen_has_a_title_of_its_own(browser: WebDriver, server: str, job_id: int) -> None:
    titles = set()
    for screen in ("", "logbook", "learning", "engines", "workshop", f"jobs/{job_id}/phase", f"jobs/{job_id}/call"):
        browser.get(f"{server}/{screen}")
        whose = "Harbour pick-up 7 · Phasko" if screen.startswith("jobs/") else " · Phasko"
        waits(browser).until(lambda b, whose=whose: whose in b.title)
        titles.add(browser.title)
    assert len(titles) == 7 and "Phase, Harbour pick-up 7 · Phasko" in titles
