"""Every test that the page on security names is there."""

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
NAMED = sorted(set(re.findall(r"`(tests/[\w/]+\.py)::(\w+)`", (ROOT / "docs" / "security.md").read_text())))


def test_many_are_named() -> None:
    assert len(NAMED) > 30


@pytest.mark.parametrize(("file", "name"), NAMED)
def test_it_is_there(file: str, name: str) -> None:
    assert f"\ndef {name}(" in (ROOT / file).read_text()
