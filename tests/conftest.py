"""What tests of several layers stand on."""

from collections.abc import Iterator
from pathlib import Path

import pytest

from phasko.store import Database


@pytest.fixture
def database(tmp_path: Path) -> Iterator[Database]:
    """An empty workshop."""
    opened = Database(tmp_path)
    yield opened
    opened.close()
