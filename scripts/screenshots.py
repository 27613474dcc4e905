"""Takes the pictures in docs/screenshots from the demo data. Needs the front end built and Chromium.

.venv/bin/python -m scripts.screenshots
"""

from __future__ import annotations

import json
import socket
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from selenium import webdriver
from selenium.webdriver.chrome.service import Service

from benchmarks.fleet import make_fleet

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
SETTLE_S = 1.5
RECORDS_S = 5.0
CARS = 300
"""Of five engines, for the picture of a fleet."""

VIEWS: list[tuple[str, str, str, int, int, str]] = [
    ("board", "/", "light", 1280, 800, ""),
    ("phase-light", "/jobs/17/phase", "light", 1280, 800, ""),
    ("phase-dark", "/jobs/7/phase", "dark", 1280, 800, ""),
    ("phase-raw", "/jobs/17/phase", "light", 1280, 1500, "r"),
    ("complaint", "/jobs/15/complaint", "light", 1280, 1000, ""),
    ("hook-up", "/jobs/10/hook-up", "light", 1280, 1300, ""),
    ("recording", "/jobs/7/captures", "light", 1280, 800, " "),
    ("captures", "/jobs/17/captures", "light", 1280, 800, ""),
    ("look", "/jobs/17/look", "light", 1280, 800, ""),
    ("seal", "/jobs/10/seal", "light", 1280, 800, ""),
    ("road", "/jobs/14/seal", "light", 1280, 1500, ""),
    ("engine", "/engines/1", "light", 1280, 1000, ""),
    ("cylinder", "/jobs/15/cylinder", "light", 1280, 1200, ""),
    ("workshop", "/workshop", "light", 1280, 800, ""),
    ("call", "/jobs/17/call", "light", 1280, 1300, ""),
    ("hand-over", "/jobs/17/hand-over", "light", 1280, 1500, ""),
    ("repair", "/jobs/8/hand-over", "light", 1280, 1200, "r"),
    ("free-bench", "/practice/bench", "light", 1280, 900, ""),
    ("fleet", "/fleet", "light", 1280, 800, ""),
]
"""(file, address, mode, width, height, keys pressed before the picture)"""


@contextmanager
def demo_server() -> Iterator[str]:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    with tempfile.TemporaryDirectory() as data, tempfile.TemporaryDirectory() as island:
        make_fleet(Path(island), CARS)
        command = [sys.executable, "-m", "phasko", "serve", "--demo", "--port", str(port), "--data", data]
        command += ["--fleet", island]
        with subprocess.Popen(command, stdout=subprocess.DEVNULL) as running:
            address = f"http://127.0.0.1:{port}"
            while True:
                try:
                    urllib.request.urlopen(f"{address}/api/session", timeout=1).close()
                    break
                except (urllib.error.URLError, ConnectionError):
                    time.sleep(0.2)
            _analyse_fleet(address)
            yield address
            running.terminate()


def _analyse_fleet(address: str) -> None:
    urllib.request.urlopen(urllib.request.Request(f"{address}/api/fleet", method="POST"), timeout=10).close()
    while True:
        with urllib.request.urlopen(f"{address}/api/fleet", timeout=10) as told:
            if not json.load(told)["running"]:
                return
        time.sleep(1.0)


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    flags = ["--headless=new", "--no-sandbox", "--disable-gpu", "--hide-scrollbars", "--force-device-scale-factor=1"]
    for flag in [*flags, "--disable-background-networking", f"--user-data-dir={tempfile.mkdtemp()}"]:
        options.add_argument(flag)
    driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    with demo_server() as address:
        driver.get(address)
        for name, path, mode, width, height, keys in VIEWS:
            metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
            driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
            driver.execute_script("localStorage.setItem('theme', arguments[0])", mode)
            driver.get(address + path)
            time.sleep(SETTLE_S)
            if keys:
                driver.switch_to.active_element.send_keys(keys)
                # A recording has to get under way: its engine is cranked for some cycles first.
                time.sleep(SETTLE_S + (RECORDS_S if name == "recording" else 0.0))
            driver.save_screenshot(str(FOLDER / f"{name}.png"))
    driver.quit()


if __name__ == "__main__":
    main()
