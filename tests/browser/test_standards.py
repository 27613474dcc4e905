"""What stands beside the phase measurement, in a real browser: standards, drive, sweep, known goods, conditions."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import replace

import httpx
import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver
from selenium.webdriver.support.ui import Select

from phasko.bench.job_sheet import BenchSheet, recorded_files
from phasko.bench.probe import Probe
from phasko.bench.scenario import Scenario, clear_flood_cranking
from tests.browser.hands import press, reads, seen, several, tab_to
from tests.browser.test_seal_station import open_job
from tests.builders import pool_engine

pytestmark = [pytest.mark.browser, pytest.mark.exhaustive]
OWN_PLACES = ("web/src/features/standards", "src/phasko/jobs/library")

TRIPLE = "pellowe-1.0-triple"


def recorded(server: str, vehicle: str, seed: int, scenario: Scenario) -> int:
    """A job of its own with one capture of that engine, as another technician would leave it."""
    with httpx.Client(base_url=server, headers={"origin": server}, timeout=60.0) as workshop:
        engines = workshop.get("/api/engines").json()
        engine = next(one["id"] for one in engines if one["name"] == pool_engine(TRIPLE).name)
        job = int(workshop.post("/api/jobs", json={"vehicle": vehicle, "engine_id": engine}).json()["id"])
        probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in pool_engine(TRIPLE).cams)]
        files = recorded_files(BenchSheet(engine=TRIPLE, seed=seed, scenario=scenario, probes=probes), vehicle)
        sent = {
            "description": (f"{vehicle}.capture.json", files[f"{vehicle}.capture.json"]),
            "data": (f"{vehicle}.csv", files[f"{vehicle}.csv"]),
        }
        workshop.post(f"/api/jobs/{job}/captures", files=sent).raise_for_status()
    return job


@pytest.fixture
def library_as_it_was(server: str) -> Iterator[None]:
    """Nothing that a test keeps as known good may be compared with by another one."""
    yield
    with httpx.Client(base_url=server, headers={"origin": server}, timeout=60.0) as workshop:
        for row in workshop.get("/api/jobs").json():
            if not row["job"]["vehicle"].startswith("Milk float"):
                continue
            for capture in workshop.get(f"/api/jobs/{row['job']['id']}/captures").json():
                workshop.put(f"/api/captures/{capture['id']}/known-good", json={"good": False}).raise_for_status()


def open_phase(browser: WebDriver, server: str, job: int) -> None:
    browser.get(f"{server}/jobs/{job}/phase")
    seen(browser, "headline")


def test_a_worn_chain_stands_against_a_range_of_five(browser: WebDriver, server: str) -> None:
    open_job(browser, server, "Library bus 7", "6")
    assert "5 known good engines" in reads(browser, "standards", "● headline")
    assert "The headline compares with the known good engines" in seen(browser, "standards").text
    press(browser, "v")
    assert reads(browser, "together", "longer chain") == "Later the further along the strand: a longer chain."
    assert "% longer than new" in reads(browser, "elongation", "It stays in every condition")
    accused = browser.find_elements(By.CSS_SELECTOR, "[data-testid='loop'][data-accused='true']")
    assert len(accused) == 2
    assert "not a whole number" in several(browser, "chain-row", 4)[0].text
    press(browser, "k")
    rows = several(browser, "library-row", 5)
    assert all("marks seen true" in row.text for row in rows)
    assert "What they teach the profile" in reads(browser, "proposal", "Edges of B1I")


@pytest.mark.usefixtures("library_as_it_was")
def test_a_known_good_is_kept_and_a_later_job_is_compared_with_it(browser: WebDriver, server: str) -> None:
    good = recorded(server, "Milk float 1", 71, clear_flood_cranking(2.8))
    later = recorded(server, "Milk float 2", 72, clear_flood_cranking(2.8))
    open_phase(browser, server, later)
    assert "The profile" in reads(browser, "standards", "● headline")
    open_phase(browser, server, good)
    press(browser, "k")
    seen(browser, "library")
    Select(browser.find_element(By.CSS_SELECTOR, "select[aria-label='Keep as known good']")).select_by_value(
        "runs_well"
    )
    reads(browser, "library", "This capture is kept for other jobs")
    open_phase(browser, server, later)
    assert "One known good engine" in reads(browser, "standards", "● headline")
    press(browser, "k")
    assert "runs well, no codes" in several(browser, "library-row", 1)[0].text
    cold = recorded(server, "Milk float 3", 73, replace(clear_flood_cranking(2.8), temperature="cold"))
    open_phase(browser, server, cold)
    assert "One known good" not in reads(browser, "standards", "● headline")
    press(browser, "k")
    assert "◆ refused: hot, not cold" in reads(browser, "library", "refused")
    tab_to(browser, "Compare with Milk float 1, Milk float 1 all the same").send_keys(Keys.ENTER)
    assert "the range is wider" in reads(browser, "library", "yes, although hot, not cold")
    press(browser, "s")
    assert "One known good engine" in reads(browser, "standards", "One known good engine")


def fill(browser: WebDriver, label: str, text: str) -> None:
    field = browser.find_element(By.CSS_SELECTOR, f"[data-testid='figure-form'] [aria-label='{label}']")
    field.clear()
    field.send_keys(text)


def pick(browser: WebDriver, text: str) -> None:
    form = seen(browser, "figure-form")
    next(b for b in form.find_elements(By.TAG_NAME, "button") if b.text == text).click()


def test_figures_are_typed_as_teeth_and_off_a_picture(browser: WebDriver, server: str) -> None:
    """The first intake edge of the triple stands at 60 degrees after TDC 1, tooth 1 at 78: 342 degrees after tooth 1,
    57 of its 6 degree teeth, or 0.95 of the way from gap to gap."""
    job = recorded(server, "Milk float 4", 74, clear_flood_cranking(2.8))
    open_phase(browser, server, job)
    reads(browser, "standards", "● headline")
    tab_to(browser, "Type a figure").send_keys(Keys.ENTER)
    fill(browser, "Figure", "57.0")
    fill(browser, "From", "workshop note")
    tab_to(browser, "Compare with it").send_keys(Keys.ENTER)
    reads(browser, "standards", "57 wheel teeth after tooth 1, missing ones counted (workshop note)")
    tab_to(browser, "Type a figure").send_keys(Keys.ENTER)
    pick(browser, "Off a picture")
    for label, text in (("One gap at", "12"), ("Next gap at", "92"), ("Edge at", "88"), ("Read to within ±", "0.4")):
        fill(browser, label, text)
    tab_to(browser, "Compare with it").send_keys(Keys.ENTER)
    reads(browser, "standards", "read off a picture")
    with httpx.Client(base_url=server) as workshop:
        result = workshop.get(f"/api/jobs/{job}/result").json()
    rows = {row["kind"]: row for row in result["captures"][0]["standards"]}
    for kind in ("figure", "picture"):
        assert abs(rows[kind]["offset_deg"]) < rows[kind]["total_u95_deg"], json.dumps(rows[kind])


def test_a_phaser_that_comes_back_off_park_is_seen_and_the_solenoid_first(browser: WebDriver, server: str) -> None:
    open_job(browser, server, "Snow blower 1", "6")
    words = reads(browser, "sweep-words", "Intake cam phaser moves")
    assert "comes to rest 9° early of where it began" in words
    assert "screen" in seen(browser, "sweep-advice").text
    assert "Swap the solenoids before anything is condemned" in seen(browser, "solenoid-swap").text
    assert "bar" in seen(browser, "sweep-panel").text
    assert "comes back off park" in seen(browser, "case").text
    assert "Covers stay on" in seen(browser, "case").text


def test_what_is_there_hot_only_is_said_to_be_no_elongation(browser: WebDriver, server: str) -> None:
    open_job(browser, server, "Ferry shuttle 1", "6")
    seen(browser, "standards")
    press(browser, "n")
    words = reads(browser, "conditions", "What comes and goes is no elongation")
    assert "late hot" in words
    assert len(several(browser, "condition-row", 4)) == 4


@pytest.mark.parametrize("width", [768, 1280])
def test_every_panel_is_reached_by_its_key_and_fits(browser: WebDriver, server: str, width: int) -> None:
    metrics = {"width": width, "height": 800, "deviceScaleFactor": 1, "mobile": False}
    browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
    open_job(browser, server, "Library bus 7", "6")
    for key, panel in (
        ("s", "standards"),
        ("v", "drive-panel"),
        ("p", "sweep-panel"),
        ("k", "library"),
        ("n", "conditions"),
    ):
        press(browser, key)
        place = seen(browser, panel)
        assert place.size["width"] <= width
        assert browser.execute_script("return document.documentElement.scrollWidth") <= width
