"""What tests of several layers stand on, and which of them share what is slow to set up."""

import os
import shutil
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest
from hypothesis import settings
from xdist.scheduler import LoadScopeScheduling

from phasko.store import Database
from tests.levels import LEVELS, Record, select
from trials.cache import cache_folder, forget_old_entries

# What an example takes says how busy the machine is, not whether the code is right.
settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")


def pytest_addoption(parser: pytest.Parser) -> None:
    group = parser.getgroup("levels")
    group.addoption("--level", choices=LEVELS, default="normal", help="how much is tested: see CONTRIBUTING.md")
    group.addoption("--record", action="store_true", help="store durations, and which files were green")


def pytest_configure(config: pytest.Config) -> None:
    # Read where decorators need it, before there is a fixture.
    os.environ["PHASKO_LEVEL"] = config.getoption("--level")
    # Workers report to the first process, which alone keeps the records.
    if hasattr(config, "workerinput"):
        return
    forget_old_entries(cache_folder())
    if config.getoption("--record"):
        config.pluginmanager.register(Record())


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    chosen, left_out = select(items, config.getoption("--level"))
    if left_out:
        config.hook.pytest_deselected(items=left_out)
        items[:] = chosen


@pytest.fixture(scope="session")
def level(pytestconfig: pytest.Config) -> str:
    """How much is tested: ``quick``, ``normal`` or ``all``."""
    return str(pytestconfig.getoption("--level"))


@pytest.fixture(scope="session")
def empty_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The file of an empty workshop in the newest layout: making it takes longer than most tests."""
    with closing(Database(tmp_path_factory.mktemp("empty"))) as made:
        return made.path


@pytest.fixture
def database(tmp_path: Path, empty_file: Path) -> Iterator[Database]:
    """An empty workshop."""
    shutil.copy(empty_file, tmp_path)
    opened = Database(tmp_path)
    yield opened
    opened.close()


class Together(LoadScopeScheduling):
    """Sends to one worker what shares a slow fixture, so that it is set up once; everything else goes where there is
    room."""

    def _split_scope(self, nodeid: str) -> str:
        path = nodeid.partition("::")[0]
        return path if path in SHARING else nodeid


SHARING = (
    "tests/core/call/test_call_statistics.py",
    "tests/core/capture/test_accuracy.py",
    "tests/core/channels/test_proposal.py",
    "tests/core/handover/test_first_word.py",
    "tests/core/handover/test_owner.py",
    "tests/core/handover/test_proof.py",
    "tests/core/phasers/test_sweep_statistics.py",
    "tests/fleet/test_running.py",
    "tests/hostile/test_memory.py",
    "tests/jobs/carrying/test_round_trip.py",
    "tests/setup/test_wheel.py",
    "tests/web/test_patience.py",
)


def pytest_xdist_make_scheduler(config: pytest.Config, log: object) -> Together:
    return Together(config, log)
