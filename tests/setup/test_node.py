"""Which Node may build the front end, and the one that is fetched where there is none."""

from __future__ import annotations

import json

import pytest
from scripts.front_end import NODE_PACKAGE, ROOT, allowed

ASKED = "^20.19.0 || >=22.12.0"


@pytest.mark.parametrize(
    ("version", "fits"),
    [
        ("v18.20.4", False),
        ("v20.18.1", False),
        ("v20.19.0", True),
        ("v20.20.2", True),
        ("v21.7.0", False),
        ("v22.11.0", False),
        ("v22.20.0", True),
        ("v24.1.0", True),
        ("no such thing", False),
    ],
)
def test_versions(version: str, fits: bool) -> None:
    assert allowed(version, ASKED) is fits


def test_the_locked_one_is_what_the_front_end_asks_for() -> None:
    asked = json.loads((ROOT / "web" / "package.json").read_text())["engines"]["node"]
    assert allowed(NODE_PACKAGE, asked)
    lock = (ROOT / "requirements-node.lock").read_text()
    assert lock.startswith(NODE_PACKAGE)
    assert "--hash=sha256:" in lock
