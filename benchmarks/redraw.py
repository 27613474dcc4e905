"""How long the signal strip's own drawing code takes in Chromium for 8 lanes of 4000 steps, every frame anew.

    python -m benchmarks.redraw

The very modules of the front end are stripped of their types and run in a page without anything else; a pixel is read
back after every frame, so that the drawing has really happened.
"""

from __future__ import annotations

import shutil
import statistics
import subprocess
import tempfile
from pathlib import Path

from selenium import webdriver
from selenium.webdriver.chrome.service import Service

WEB = Path(__file__).parents[1] / "web"
MODULES = ("band.ts", "draw.ts")
STRIP = """
const ts = require("typescript");
const fs = require("node:fs");
for (const file of process.argv.slice(1)) {
  const options = { compilerOptions: { target: "es2022", module: "esnext" } };
  const made = ts.transpileModule(fs.readFileSync(file, "utf8"), options);
  console.log(made.outputText.replace(/^import .*$/gm, "").replace(/^export /gm, ""));
}
"""
FRAMES = """
const [lanes, steps, frames] = arguments;
const canvas = document.createElement("canvas");
canvas.width = 1200; canvas.height = 62 * lanes;
const context = canvas.getContext("2d", { willReadFrequently: true });
const channels = Array.from({ length: lanes }, (_, k) => {
  const low = new Float32Array(steps), high = new Float32Array(steps);
  for (let i = 0; i < steps; i++) {
    const v = Math.sin(i * (0.02 + 0.01 * k)) + 0.05 * Math.random();
    low[i] = v; high[i] = v + 0.3 * Math.random();
  }
  return { column: String(k), unit: "V", start_s: 0, step_s: 1 / steps, steps, low, high };
});
const took = [];
for (let n = 0; n < frames; n++) {
  const begin = performance.now();
  context.clearRect(0, 0, canvas.width, canvas.height);
  channels.forEach((channel, k) => {
    const box = { left: 94, top: 62 * k, width: 1094, height: 62 };
    drawBand(context, channel, { fromS: 0, toS: 1 }, box, "#17688f", valueScale(channel, box, 1));
  });
  context.getImageData(600, 31, 1, 1);
  took.push(performance.now() - begin);
}
return took;
"""


def drawing_code() -> str:
    files = [str(WEB / "src" / "features" / "signals" / name) for name in MODULES]
    made = subprocess.run(["node", "-e", STRIP, *files], cwd=WEB, capture_output=True, text=True, check=True)
    return made.stdout


def main() -> None:
    options = webdriver.ChromeOptions()
    options.binary_location = shutil.which("chromium") or "/usr/bin/chromium"
    with tempfile.TemporaryDirectory() as folder:
        for flag in ("--headless=new", "--no-sandbox", "--disable-gpu", f"--user-data-dir={folder}"):
            options.add_argument(flag)
        driver = webdriver.Chrome(options=options, service=Service(shutil.which("chromedriver") or ""))
        driver.get("about:blank")
        took = driver.execute_script(drawing_code() + FRAMES, 8, 4000, 120)
        driver.quit()
    median, slow = statistics.median(took[10:]), sorted(took[10:])[-6]
    print(f"8 lanes of 4000 steps in Chromium: {median:.1f} ms a frame, 95 % under {slow:.1f} ms (limit 16)")


if __name__ == "__main__":
    main()
