"""What somebody gets who installs the wheel: the application with its page, without any Node."""

from __future__ import annotations

import socket
import subprocess
import sys
import sysconfig
import time
import urllib.error
import urllib.request
import venv
import zipfile
from collections.abc import Iterator
from pathlib import Path

import pytest

OWN_PLACES = ("pyproject.toml", "hatch_build.py", "scripts/front_end.py", "requirements-run.lock", "web/package.json")

ROOT = Path(__file__).parents[2]


@pytest.fixture(scope="module")
def wheel(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The wheel of the tree as it stands."""
    folder = tmp_path_factory.mktemp("wheel")
    pip = [sys.executable, "-m", "pip", "wheel", "--quiet", "--no-deps", "--no-build-isolation"]
    subprocess.run([*pip, "--wheel-dir", str(folder), str(ROOT)], check=True, capture_output=True)
    return next(folder.glob("phasko-*.whl"))


@pytest.fixture(scope="module")
def installed(wheel: Path, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """An empty environment with the wheel in it. Third-party packages are lent by the environment that runs the tests,
    so that nothing is downloaded; its own phasko, an editable one, is not seen from there."""
    folder = tmp_path_factory.mktemp("empty") / "venv"
    venv.create(folder)
    python = folder / "bin" / "python"
    pip = [sys.executable, "-m", "pip", "--python", str(python)]
    subprocess.run([*pip, "install", "--quiet", "--no-deps", "--no-index", str(wheel)], check=True)
    inside = subprocess.run(
        [python, "-c", "import sysconfig; print(sysconfig.get_path('purelib'))"],
        capture_output=True,
        text=True,
        check=True,
    )
    (Path(inside.stdout.strip()) / "lent.pth").write_text(sysconfig.get_path("purelib") + "\n", encoding="utf-8")
    return folder


@pytest.fixture
def address(installed: Path, tmp_path: Path) -> Iterator[str]:
    """The server from that environment, with no program on the path but its own."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    command = [installed / "bin" / "phasko", "serve", "--port", str(port), "--data", str(tmp_path)]
    with subprocess.Popen(command, env={"PATH": str(installed / "bin")}, cwd=tmp_path) as server:
        yield f"http://127.0.0.1:{port}"
        server.terminate()


def _get(address: str) -> bytes:
    """The answer, once the server is up."""
    last: Exception = TimeoutError(address)
    for _ in range(300):
        try:
            with urllib.request.urlopen(address) as answer:
                return bytes(answer.read())
        except urllib.error.URLError as error:
            last = error
            time.sleep(0.1)
    raise last


@pytest.mark.exhaustive
def test_the_page_is_served_from_the_wheel(address: str) -> None:
    page = _get(f"{address}/").decode()
    script = page.split('src="')[1].split('"')[0]
    assert b"Phasko" in page.encode()
    assert len(_get(address + script)) > 10_000


@pytest.mark.exhaustive
def test_the_wheel_holds_page_typeface_and_engines_but_no_tests(wheel: Path) -> None:
    names = zipfile.ZipFile(wheel).namelist()
    assert "phasko/web/static/index.html" in names
    assert any(name.endswith(".woff2") for name in names)
    assert any(name.startswith("phasko/bench/pool/") and name.endswith(".json") for name in names)
    assert not any(name.startswith(("tests/", "web/")) for name in names)
