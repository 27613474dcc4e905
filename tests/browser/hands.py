"""What a technician's hands and eyes do, for the browser tests."""

from __future__ import annotations

import base64
from collections.abc import Sequence
from contextlib import suppress

from selenium.common.exceptions import NoSuchElementException, StaleElementReferenceException
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webdriver import WebDriver
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support import expected_conditions as until
from selenium.webdriver.support.ui import WebDriverWait

from phasko.bench.pool import pool_engine
from phasko.core.looks import QUESTIONS, asked_of

PATIENCE_S = 60

DROP = """
const [zone, files] = arguments;
const carried = new DataTransfer();
for (const [name, content] of files) {
  const bytes = Uint8Array.from(atob(content), (c) => c.charCodeAt(0));
  carried.items.add(new File([bytes], name, { type: name.endsWith(".png") ? "image/png" : "" }));
}
for (const type of ["dragover", "drop"])
  zone.dispatchEvent(new DragEvent(type, { bubbles: true, cancelable: true, dataTransfer: carried }));
"""


def waits(browser: WebDriver, *overlooked: type[Exception]) -> WebDriverWait[WebDriver]:
    """Looks again and again, as a person does; the usual half second between two looks would be most of the time that
    a test takes."""
    return WebDriverWait(browser, PATIENCE_S, poll_frequency=0.05, ignored_exceptions=overlooked)


def seen(browser: WebDriver, test_id: str) -> WebElement:
    """Waits for the part of the screen with that name."""
    place = (By.CSS_SELECTOR, f"[data-testid='{test_id}']")
    return waits(browser).until(until.visibility_of_element_located(place))


def reads(browser: WebDriver, test_id: str, words: str) -> str:
    """Waits until that part shows these words; returns all it shows."""
    place = (By.CSS_SELECTOR, f"[data-testid='{test_id}']")

    def shown(driver: WebDriver) -> str | bool:
        text = str(driver.find_element(*place).text)
        return text if words in text else False

    # A screen that is drawn anew while it is read is read again.
    return str(waits(browser, NoSuchElementException, StaleElementReferenceException).until(shown))


def asked(engine: str) -> int:
    """How many things there are to look at on that engine."""
    return sum(asked_of(question, pool_engine(engine)) for question in QUESTIONS)


def several(browser: WebDriver, test_id: str, count: int) -> list[WebElement]:
    """Waits until there are so many parts with that name."""
    place = (By.CSS_SELECTOR, f"[data-testid='{test_id}']")
    waits(browser).until(lambda driver: len(driver.find_elements(*place)) == count)
    return browser.find_elements(*place)


def gone(browser: WebDriver, test_id: str) -> None:
    place = (By.CSS_SELECTOR, f"[data-testid='{test_id}']")
    waits(browser).until(until.invisibility_of_element_located(place))


def press(browser: WebDriver, *keys: str) -> None:
    """Keys go to whatever has the focus at that moment, as from a keyboard: the page may have been drawn anew since."""
    for key in keys:
        ActionChains(browser).send_keys(key).perform()


def to_station(browser: WebDriver, number: str, name: str) -> None:
    """To a station by its key, until it is there: what is found before belongs to the one before."""
    press(browser, number)
    here = f"nav a[aria-current='page'][href$='/{name}']"
    waits(browser).until(lambda b: b.find_elements(By.CSS_SELECTOR, here))


def tab_to(browser: WebDriver, name: str, most: int = 60) -> WebElement:
    """Tabs until the focus is on the control with that name, as somebody without a mouse does."""
    for _ in range(most):
        # What had the focus may be drawn anew while it is asked.
        with suppress(StaleElementReferenceException):
            here = browser.switch_to.active_element
            if here.tag_name not in ("body", "main") and (
                name in (here.get_attribute("aria-label") or "") or name in here.text
            ):
                return here
            here.send_keys(Keys.TAB)
    raise AssertionError(f"no way by keyboard to {name!r}")


def drop(browser: WebDriver, files: Sequence[tuple[str, bytes]]) -> None:
    """Drops files onto the place for them."""
    zone = browser.find_element(By.XPATH, "//*[contains(text(), 'Drop one file')]")
    carried = [[name, base64.b64encode(content).decode()] for name, content in files]
    browser.execute_script(DROP, zone, carried)


def page_reads(browser: WebDriver, words: str) -> str:
    """Waits until an alert or the page shows these words; returns the whole page."""
    waits(browser).until(until.text_to_be_present_in_element((By.TAG_NAME, "body"), words))
    return str(browser.find_element(By.TAG_NAME, "body").text)
