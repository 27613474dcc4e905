"""Builds the front end: finds a Node that is new enough, installs its packages, builds the page.

Needs nothing but Python's standard library: it runs before any package is installed, and when a wheel is built.

    front_end.py fits      status 0 where the Node on the path can build the front end, else 1
    front_end.py build     installs what changed and builds what is stale
"""

from __future__ import annotations

import gzip
import hashlib
import json
import os
import re
import shutil
import subprocess
import sys
from collections.abc import Iterable
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
WEB = ROOT / "web"
STATIC = ROOT / "src" / "phasko" / "web" / "static"
DONE = ROOT / ".setup"
NODE_PACKAGE = (ROOT / "requirements-node.in").read_text(encoding="ascii").strip()
"""The Node of the Python registry, for machines whose own is missing or older."""


def allowed(version: str, engines: str) -> bool:
    """Whether a Node version (``v20.20.2``) is within what package.json asks for (``^20.19.0 || >=22.12.0``)."""
    own = _numbers(version)
    for part in engines.split("||"):
        least = _numbers(part)
        if own >= least and (not part.strip().startswith("^") or own[0] == least[0]):
            return True
    return False


def node_fits() -> bool:
    """Whether node and npm are on the path and new enough. Debian's own Node 18 is not."""
    if shutil.which("npm") is None or shutil.which("node") is None:
        return False
    told = subprocess.run(["node", "--version"], capture_output=True, text=True, check=False)
    engines = json.loads((WEB / "package.json").read_text(encoding="utf-8"))["engines"]["node"]
    return told.returncode == 0 and allowed(told.stdout, engines)


def build() -> None:
    """Installs packages and builds the page, each only when what it rests on has changed."""
    lock = [WEB / "package-lock.json"]
    if not (WEB / "node_modules").is_dir() or not _done_before("front-end-packages", lock):
        print("Installing front-end packages", flush=True)
        _npm("ci", "--silent", "--no-audit", "--no-fund")
        _remember("front-end-packages", lock)
    sources = list(_sources())
    made = (STATIC / "index.html", WEB / "src" / "api" / "schema.d.ts")
    if not all(path.is_file() for path in made) or not _done_before("front-end", sources):
        print("Building the front end", flush=True)
        _npm("run", "--silent", "build")
        _pack()
        _remember("front-end", sources)


def _pack() -> None:
    """Every large file of text a second time, packed: the server sends that to whoever can unpack it."""
    for path in sorted((STATIC / "assets").iterdir()):
        if path.suffix in (".js", ".css", ".svg") and path.stat().st_size > 1024:
            packed = gzip.compress(path.read_bytes(), compresslevel=9, mtime=0)
            path.with_name(f"{path.name}.gz").write_bytes(packed)


def _numbers(version: str) -> tuple[int, ...]:
    found = re.search(r"(\d+)\.(\d+)\.(\d+)", version)
    return tuple(int(part) for part in found.groups()) if found else (0, 0, 0)


def _sources() -> Iterable[Path]:
    for place in ("src", "public"):
        yield from sorted(p for p in (WEB / place).rglob("*") if p.is_file() and p.name != "schema.d.ts")
    yield from (WEB / name for name in ("index.html", "vite.config.ts", "package.json", "package-lock.json"))
    yield ROOT / "docs" / "openapi.json"


def _npm(*arguments: str) -> None:
    program = shutil.which("npm")
    if program is None:
        sys.exit("npm is missing: run scripts/prepare.sh, which puts one into the virtual environment")
    told = subprocess.run([program, *arguments], cwd=WEB, env=os.environ, stdout=subprocess.PIPE, check=False)
    if told.returncode:
        sys.stderr.buffer.write(told.stdout)
        sys.exit(f"npm {' '.join(arguments)} failed in web/")


def _hash(paths: Iterable[Path]) -> str:
    found = hashlib.sha256()
    for path in paths:
        found.update(f"{path.relative_to(ROOT)}\n".encode())
        found.update(path.read_bytes())
    return found.hexdigest()


def _done_before(name: str, paths: Iterable[Path]) -> bool:
    note = DONE / name
    return note.is_file() and note.read_text(encoding="ascii") == _hash(paths)


def _remember(name: str, paths: Iterable[Path]) -> None:
    DONE.mkdir(exist_ok=True)
    (DONE / name).write_text(_hash(paths), encoding="ascii")


if __name__ == "__main__":
    match sys.argv[1:]:
        case ["fits"]:
            sys.exit(0 if node_fits() else 1)
        case ["build"]:
            build()
        case _:
            sys.exit(__doc__)
