"""The real server with demo data, and a real browser without a screen."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.chrome.service import Service

from phasko.web.app import STATIC
from tests.serving import served

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
    """Address of a server with the demo data."""
    assert (STATIC / "index.html").is_file(), "build the front end first: npm run build in web/"
    with served(tmp_path_factory.mktemp("workshop"), "--demo") as running:
        yield running.address


@pytest.fixture
def browser(tmp_path: Path) -> Iterator[webdriver.Chrome]:
    options = webdriver.ChromeOptions()
    options.binary_location = shutil.which("chromium") or "/usr/bin/chromium"
    for flag in [*FLAGS, f"--user-data-dir={tmp_path / 'browser'}"]:
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = webdriver.Chrome(options=options, service=Service(shutil.which("chromedriver") or "/usr/bin/chromedriver"))
    metrics = {"width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": False}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
    yield driver
    severe = [entry["message"] for entry in driver.get_log("browser") if entry["level"] == "SEVERE"]
    driver.quit()
    refusals = tuple(f"status of {number}" for number in (401, 403, 404, 409, 412, 422))
    assert [m for m in severe if not any(refusal in m for refusal in refusals)] == []
