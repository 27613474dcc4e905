"""A workshop's file of an older version opens, with everything that was in it."""

import os
import signal
import sqlite3
import subprocess
import sys
import time
from contextlib import suppress
from pathlib import Path

import numpy as np
import pytest

from phasko.core.documents.capture import ChannelDescription
from phasko.core.errors import StorageError
from phasko.store import Database, captures
from tests.store.older import AMPERES, every_layout, older_file

LAYOUTS = every_layout()
MOMENTS = 18
"""Of the oldest layout, whose upgrade goes through every other one's; of the others a third."""


@pytest.fixture
def older(tmp_path: Path) -> Path:
    """The first layout with one capture."""
    return older_file(tmp_path, "0001").parent


def test_samples_mean_what_they_meant(older: Path) -> None:
    database = Database(older)
    with database.transaction() as session:
        capture = captures.get_capture(session, 1)
        recording = captures.load_recording(session, capture)
        described = recording.channels[0].description
        assert (capture.confirmed_at, len(capture.data_sha256)) == ("then", 64)
        assert captures.original_files(session, 1)["data"][1].startswith(b"time_s,c1")
    np.testing.assert_array_equal(recording.channels[0].samples, AMPERES)
    assert (described.scale, recording.channels[0].unit) == (1.0, "A")
    database.close()


@pytest.mark.parametrize("points", [5, 20, 2000])
def test_its_pictures_are_whole(older: Path, points: int) -> None:
    database = Database(older)
    with database.transaction() as session:
        channel = ChannelDescription(column="c1", role="starter_current")
        found = captures.load_envelope(session, captures.get_capture(session, 1), channel, 0.0, 3.0, points)
    assert np.nanmin(found.levels) == AMPERES.min()
    assert np.nanmax(found.levels) == AMPERES.max()
    database.close()


@pytest.mark.parametrize("layout", LAYOUTS)
def test_every_released_layout_opens_with_all_that_was_in_it(tmp_path: Path, layout: str) -> None:
    older_file(tmp_path, layout, captures=0 if layout == LAYOUTS[-1] else 2)
    assert_whole(tmp_path, 0 if layout == LAYOUTS[-1] else 2)


def assert_whole(folder: Path, count: int) -> None:
    database = Database(folder)
    with database.reading() as session:
        held = captures.captures_of(session, 1)
        assert len(held) == count
        for capture in held:
            samples = captures.load_recording(session, capture).channels[0].samples
            np.testing.assert_array_equal(samples, AMPERES)
            assert captures.original_files(session, capture.id)["data"][1].startswith(b"time_s,c1")
    database.close()


def test_the_file_as_it_was_is_kept_beside(tmp_path: Path) -> None:
    before = older_file(tmp_path, "0002")
    held = before.stat().st_size
    Database(tmp_path).close()
    kept = list((tmp_path / "backups").glob("before-upgrade-from-0002-*.sqlite3"))
    assert [path.stat().st_size for path in kept] == [held]
    with sqlite3.connect(kept[0]) as raw:
        assert raw.execute("SELECT version_num FROM alembic_version").fetchone() == ("0002",)
    raw.close()
    assert {path.name for path in tmp_path.iterdir()} == {"phasko.sqlite3", "backups"}


def test_a_description_that_cannot_be_read_stops_the_step_and_leaves_the_file(tmp_path: Path) -> None:
    path = older_file(tmp_path, "0001", captures=2, description="{not json")
    before = path.read_bytes()
    with pytest.raises(StorageError, match=r"Number 1 of the captures \(x.capture.json\) cannot be read") as caught:
        Database(tmp_path)
    assert "version before opens it" in caught.value.kept
    assert path.read_bytes() == before


def test_a_file_of_a_newer_version_is_left_alone(tmp_path: Path) -> None:
    Database(tmp_path).close()
    with sqlite3.connect(tmp_path / "phasko.sqlite3") as raw:
        raw.execute("UPDATE alembic_version SET version_num = '9999'")
    raw.close()
    with pytest.raises(StorageError, match="newer version"):
        Database(tmp_path)


@pytest.mark.parametrize(
    ("content", "said"),
    [(b"no database at all, but long enough to be looked at" * 40, "is no database"), (b"SQLite format 3\0", "no d")],
)
def test_a_file_that_is_none_of_ours(tmp_path: Path, content: bytes, said: str) -> None:
    (tmp_path / "phasko.sqlite3").write_bytes(content)
    with pytest.raises(StorageError, match=said):
        Database(tmp_path)
    assert (tmp_path / "phasko.sqlite3").read_bytes() == content


def test_somebody_elses_database_is_left_alone(tmp_path: Path) -> None:
    with sqlite3.connect(tmp_path / "phasko.sqlite3") as raw:
        raw.execute("CREATE TABLE songs (name TEXT)")
    raw.close()
    with pytest.raises(StorageError, match="no workshop's file"):
        Database(tmp_path)


UPGRADES = """
import os, sys
from pathlib import Path
from phasko.store import Database
folder = Path(sys.argv[1])
print("ready", flush=True)
for line in sys.stdin:
    child = os.fork()
    if child == 0:
        Database(folder / line.strip()).close()
        os._exit(0)
    print(child, flush=True)
    os.waitpid(child, 0)
"""


@pytest.mark.parametrize("layout", LAYOUTS[:-1])
def test_a_kill_at_any_moment_of_an_upgrade_loses_nothing(tmp_path: Path, layout: str) -> None:
    """Killed at moments spread over the whole upgrade: afterwards the file opens, with everything in it."""
    moments = MOMENTS if layout == LAYOUTS[0] else MOMENTS // 3
    older_file(tmp_path / made(tmp_path, "trial"), layout, captures=3)
    for k in range(moments):
        (tmp_path / str(k)).mkdir()
        (tmp_path / str(k) / "phasko.sqlite3").write_bytes((tmp_path / "trial" / "phasko.sqlite3").read_bytes())
    began = time.monotonic()
    Database(tmp_path / "trial").close()
    whole_s = time.monotonic() - began
    command = [sys.executable, "-c", UPGRADES, str(tmp_path)]
    with subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True) as running:
        assert running.stdin is not None
        assert running.stdout is not None
        assert running.stdout.readline().strip() == "ready"
        for k in range(moments):
            print(k, file=running.stdin, flush=True)
            child = int(running.stdout.readline())
            time.sleep(1.1 * whole_s * k / moments)
            # The last moments may come after the upgrade's own end.
            with suppress(ProcessLookupError):
                os.kill(child, signal.SIGKILL)
        running.stdin.close()
    for k in range(moments):
        assert_whole(tmp_path / str(k), 3)


def made(folder: Path, name: str) -> str:
    (folder / name).mkdir()
    return name
