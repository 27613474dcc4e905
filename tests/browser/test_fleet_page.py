"""The fleet's page over tables of made-up cars: what it shows, what is accepted, and the work begun from it."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import numpy as np
import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver
from selenium.webdriver.support.ui import WebDriverWait

from phasko.fleet.view import keep_view
from phasko.store import Database
from tests.browser.hands import press, reads, seen, waits
from tests.builders import job_with_capture
from tests.fleet.test_teaching import car, kept, pistons_felt
from trials.serving import served

pytestmark = [pytest.mark.browser, pytest.mark.exhaustive]
OWN_PLACES = ("web/src/features/fleet", "src/phasko/fleet")


@pytest.fixture(scope="module")
def island(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """A workshop with one job, and the tables of a fleet beside it."""
    folder = tmp_path_factory.mktemp("island")
    with closing(Database(folder)) as database:
        job_with_capture(database, seed=3)
    _fleet(folder)
    with served(folder) as running:
        yield running.address


def _fleet(folder: Path) -> None:
    rng = np.random.default_rng(5)
    sound = [pistons_felt(i, rng, age_years=float(i) / 3) for i in range(40)]
    own = {"workshop": str(folder.resolve()), "job_id": 1, "fault": "chain_jumped", "probability": 0.9, "gate": "go"}
    out = kept(folder, [*sound, car(60, rng, late_deg=17.1, **own)])
    keep_view(out)
    out.rename(folder / "fleet")


def test_the_page_shows_the_kind_and_what_lies_apart(browser: WebDriver, island: str) -> None:
    browser.get(f"{island}/")
    waits(browser).until(lambda b: b.find_elements(By.CSS_SELECTOR, "main h1"))
    press(browser, "f")
    assert reads(browser, "headline", "41 captures of one kind of engine: one drifts with distance")
    assert re.search(
        r"2\.\d ± 1\.\d° late against the profile, by the pistons of 40 cars", seen(browser, "kind-index").text
    )
    assert "Its furthest cam drifts" in reads(browser, "kind", "the chain grows")
    picture = seen(browser, "cars").find_element(By.TAG_NAME, "svg")
    assert (
        picture.get_attribute("aria-label") == "B1I of Corvane 2.1 twin-cam four: 41 cars over distance, one lies apart"
    )
    assert len(picture.find_elements(By.TAG_NAME, "circle")) == 40
    assert len(picture.find_elements(By.TAG_NAME, "rect")) == 1
    press(browser, Keys.ARROW_RIGHT, "a")
    assert "B1E" in _label(browser, "over age")
    assert "40 cars over age" in _label(browser, "over age")
    apart = seen(browser, "apart")
    assert "drive jumped, 90%" in apart.text
    apart.find_element(By.LINK_TEXT, "car 60").click()
    waits(browser).until(lambda b: "/jobs/1/phase" in b.current_url)


def test_what_it_teaches_is_accepted_and_the_work_is_begun_from_it(browser: WebDriver, island: str) -> None:
    browser.get(f"{island}/fleet")
    proposal = seen(browser, "fleet-proposal")
    assert "Edges of B1I" in proposal.text and "± 0.5° → ± 0.7°" in proposal.text
    assert "Index, tooth 1 to TDC" in proposal.text
    proposal.find_element(By.CSS_SELECTOR, "[aria-label='Take over B1E']").click()
    proposal.find_element(By.XPATH, ".//button[contains(., 'next version')]").click()
    assert "Saved as version 2" in reads(browser, "kind", "Saved as version 2")
    seen(browser, "fleet-work").find_element(By.XPATH, ".//button[contains(., 'up to date')]").click()
    # The made-up cars are gone from the disk: what is there now is the workshop's one job.
    patient = WebDriverWait(browser, 600)
    patient.until(lambda b: "One capture of one kind" in b.find_element(By.CSS_SELECTOR, "[data-testid=headline]").text)
    assert "Too few distances are known" in seen(browser, "kind").text


def _label(browser: WebDriver, words: str) -> str:
    def drawn(driver: WebDriver) -> str | bool:
        told = str(driver.find_element(By.CSS_SELECTOR, "[data-testid=cars] svg").get_attribute("aria-label"))
        return told if words in told else False

    return str(waits(browser).until(drawn))
