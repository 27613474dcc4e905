"""What tests of several layers stand on."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import settings

from phasko.store import Database

# What an example takes says how busy the machine is, not whether the code is right.
settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")


@pytest.fixture
def database(tmp_path: Path) -> Iterator[Database]:
    """An empty workshop."""
    opened = Database(tmp_path)
    yield opened
    opened.close()
