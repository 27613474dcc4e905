"""How long the free bench takes from a movement of the hand to the painted picture: in a browser, for every engine.

python -m benchmarks.free_bench [MOVEMENTS]

It rests on the machine's own speed; what the same physics take at the step of a recording stands beside it.
"""

from __future__ import annotations

import shutil
import statistics
import sys
import tempfile
import time
from pathlib import Path

from selenium import webdriver
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select
from selenium.webdriver.support.wait import WebDriverWait

from phasko.bench.pool import pool_engine, pool_engines
from phasko.bench.run import run_engine
from phasko.bench.scenario import clear_flood_cranking
from trials.serving import served


def _browser() -> webdriver.Chrome:
    options = webdriver.ChromeOptions()
    options.binary_location = shutil.which("chromium") or "/usr/bin/chromium"
    for flag in ("--headless=new", "--no-sandbox", "--disable-gpu", "--window-size=1280,800"):
        options.add_argument(flag)
    return webdriver.Chrome(options=options, service=Service(shutil.which("chromedriver") or "/usr/bin/chromedriver"))


def redraws_ms(browser: webdriver.Chrome, movements: int) -> list[float]:
    """Milliseconds of each of so many movements of the size's slider, one after the other."""
    slider = browser.find_element(By.CSS_SELECTOR, "[data-testid='size']")
    found = []
    for i in range(movements):
        drawn = browser.find_element(By.CSS_SELECTOR, "[data-testid='drawn']")
        before = drawn.get_attribute("data-asked")
        slider.send_keys(Keys.ARROW_LEFT if i % 2 else Keys.ARROW_RIGHT)
        WebDriverWait(browser, 20).until(lambda _, d=drawn, b=before: d.get_attribute("data-asked") != b)
        time.sleep(0.3)
        found.append(float(drawn.get_attribute("data-redraw-ms") or "nan"))
    return found


def recording_ms(engine: str) -> float:
    """The same cycle from standstill in the step of a recording."""
    profile = pool_engine(engine)
    begun = time.perf_counter()
    run_engine(profile, clear_flood_cranking(1.8, stop_s=0.0), 1)
    return 1000.0 * (time.perf_counter() - begun)


def main() -> None:
    movements = int(sys.argv[1]) if len(sys.argv) > 1 else 12
    browser = _browser()
    with tempfile.TemporaryDirectory() as folder, served(Path(folder)) as running:
        browser.get(f"{running.address}/practice/bench")
        WebDriverWait(browser, 60).until(lambda b: b.find_elements(By.CSS_SELECTOR, "[data-testid='cycle']"))
        print("| engine | cranking, ms (median) | slowest | at idle, ms | a recording's step, ms |")
        print("|---|---:|---:|---:|---:|")
        for name in sorted(pool_engines()):
            Select(browser.find_element(By.CSS_SELECTOR, "select[aria-label='Engine']")).select_by_value(name)
            Select(browser.find_element(By.CSS_SELECTOR, "select[aria-label='What is wrong']")).select_by_value(
                "weak_cylinder"
            )
            time.sleep(1.0)
            cranked = redraws_ms(browser, movements)
            browser.find_element(By.XPATH, "//button[.='at idle']").click()
            time.sleep(1.0)
            idled = redraws_ms(browser, movements)
            browser.find_element(By.XPATH, "//button[.='cranking, pedal down']").click()
            print(
                f"| {name} | {statistics.median(cranked):.0f} | {max(cranked):.0f} | {statistics.median(idled):.0f} "
                f"| {recording_ms(name):.0f} |",
                flush=True,
            )
    browser.quit()


if __name__ == "__main__":
    main()
