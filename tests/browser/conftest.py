"""The real server with demo data, and a real browser without a screen."""

from __future__ import annotations

import shutil
from collections.abc import Iterator

import pytest
from selenium import webdriver
from selenium.webdriver.chrome.service import Service

from phasko.web.app import STATIC
from trials.filled_demo import copy_of_filled_demo
from trials.serving import served

FLAGS = [
    "--headless=new",
    "--no-sandbox",
    "--disable-dev-shm-usage",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--hide-scrollbars",
    "--force-device-scale-factor=1",
    "--window-size=1280,800",
]


@pytest.fixture(scope="session")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """Address of a server with the demo data, one for each worker."""
    assert (STATIC / "index.html").is_file(), "build the front end first: npm run build in web/"
    workshop = tmp_path_factory.mktemp("served") / "workshop"
    copy_of_filled_demo(workshop)
    with served(workshop, "--demo") as running:
        yield running.address


@pytest.fixture(scope="session")
def chromium(tmp_path_factory: pytest.TempPathFactory) -> Iterator[webdriver.Chrome]:
    """One browser for all tests of a worker: starting one takes longer than most of them."""
    options = webdriver.ChromeOptions()
    options.binary_location = shutil.which("chromium") or "/usr/bin/chromium"
    for flag in [*FLAGS, f"--user-data-dir={tmp_path_factory.mktemp('browser')}"]:
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = webdriver.Chrome(options=options, service=Service(shutil.which("chromedriver") or "/usr/bin/chromedriver"))
    yield driver
    driver.quit()


@pytest.fixture
def browser(chromium: webdriver.Chrome, server: str) -> Iterator[webdriver.Chrome]:
    """The browser as if nobody had used it: one empty window of 1280 by 800, nothing kept, nothing said of light, size,
    connection or paper."""
    _as_new(chromium, server)
    yield chromium
    severe = [entry["message"] for entry in chromium.get_log("browser") if entry["level"] == "SEVERE"]
    refusals = tuple(f"status of {number}" for number in (401, 403, 404, 409, 412, 422))
    assert [m for m in severe if not any(refusal in m for refusal in refusals)] == []


def _as_new(driver: webdriver.Chrome, server: str) -> None:
    before = driver.window_handles
    # What was said of a window's size, scripts or connection goes with it.
    driver.switch_to.new_window("tab")
    fresh = driver.current_window_handle
    for window in before:
        driver.switch_to.window(window)
        driver.close()
    driver.switch_to.window(fresh)
    driver.get_log("browser")
    for origin in (server, server.replace("127.0.0.1", "localhost")):
        driver.execute_cdp_cmd("Storage.clearDataForOrigin", {"origin": origin, "storageTypes": "all"})
    driver.execute_cdp_cmd("Network.clearBrowserCookies", {})
    metrics = {"width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": False}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
