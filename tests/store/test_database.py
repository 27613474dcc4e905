"""The workshop's file: layout, whole transactions, a kill in the middle."""

import signal
import sqlite3
import subprocess
import sys
import time
from pathlib import Path

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext

from phasko.core.errors import NotFoundError
from phasko.store import Database
from phasko.store.models import Base, Job, Vehicle

KILLED = """
import sys, time
from pathlib import Path
from phasko.store import Database
from phasko.store.models import Vehicle
database = Database(Path(sys.argv[1]))
with database.transaction() as session:
    for i in range(2000):
        session.add(Vehicle(name="half " + "x" * 100))
    session.flush()
    print("in the middle", flush=True)
    time.sleep(60)
"""


def test_migrations_make_what_the_models_say(tmp_path: Path) -> None:
    database = Database(tmp_path)
    # The index of words is a virtual table with tables of its own; no model describes it.
    without = {"include_name": lambda name, kind, _: kind != "table" or not str(name).startswith("job_words")}
    with database._engine.connect() as connection:
        difference = compare_metadata(MigrationContext.configure(connection, opts=without), Base.metadata)
    database.close()
    assert difference == []


def test_opening_twice_changes_nothing(tmp_path: Path) -> None:
    first = Database(tmp_path)
    with first.transaction() as session:
        session.add(Vehicle(name="Snow plough 1"))
    first.close()
    second = Database(tmp_path)
    with second.transaction() as session:
        assert session.query(Vehicle).one().name == "Snow plough 1"
    second.close()


def test_an_error_leaves_nothing_behind(tmp_path: Path) -> None:
    database = Database(tmp_path)
    with pytest.raises(NotFoundError), database.transaction() as session:
        session.add(Vehicle(name="never"))
        session.flush()
        raise NotFoundError("stop")
    with database.transaction() as session:
        assert session.query(Vehicle).count() == 0
    database.close()


def test_a_job_needs_its_vehicle(tmp_path: Path) -> None:
    from sqlalchemy.exc import IntegrityError

    database = Database(tmp_path)
    with pytest.raises(IntegrityError), database.transaction() as session:
        session.add(Job(vehicle_id=99, engine_version_id=99))
    database.close()


def test_a_kill_in_the_middle_leaves_the_state_before(tmp_path: Path) -> None:
    with subprocess.Popen([sys.executable, "-c", KILLED, str(tmp_path)], stdout=subprocess.PIPE, text=True) as running:
        assert running.stdout is not None
        assert running.stdout.readline().strip() == "in the middle"
        time.sleep(0.1)
        running.send_signal(signal.SIGKILL)
    database = Database(tmp_path)
    with database.transaction() as session:
        assert session.query(Vehicle).count() == 0
    database.close()
    with sqlite3.connect(tmp_path / "phasko.sqlite3") as raw:
        assert raw.execute("PRAGMA integrity_check").fetchone() == ("ok",)
    raw.close()
