"""A workshop as a fleet: every job as it would be judged now, and the workshop left as it was."""

import hashlib
from pathlib import Path

import pyarrow.parquet as pq
import pytest

from phasko.cli import main
from phasko.fleet.running import Cluster, analyse_fleet
from phasko.fleet.units import found_units
from phasko.jobs.analysing import analyse_stored_job
from phasko.jobs.captures import import_capture
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.opening import open_job
from phasko.store import Database
from tests.builders import FOUR, bench_files, pool_engine


@pytest.fixture(scope="module")
def workshop(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Two jobs, one of them late by a pitch, with nothing judged yet; and one without captures."""
    folder = tmp_path_factory.mktemp("workshop")
    database = Database(folder)
    document = pool_engine(FOUR).model_dump_json(by_alias=True, exclude_none=True)
    engine = save_engine(database, document.encode(), "engine.json")
    for vehicle, shifts in (("Sound cart", {}), ("Late cart", {"B1I": 17.1, "B1E": 17.1}), ("Empty cart", None)):
        job = open_job(database, vehicle=vehicle, make_model="", complaint="", codes=[], engine_id=engine.id)
        if shifts is not None:
            import_capture(database, job.id, bench_files(**shifts))
    database.close()
    return folder


def test_rows_say_what_the_call_says_and_nothing_was_written(workshop: Path, tmp_path: Path) -> None:
    before = hashlib.sha256((workshop / "phasko.sqlite3").read_bytes()).hexdigest()
    counts = analyse_fleet(found_units([workshop]), tmp_path / "out", Cluster(workers=1))
    assert hashlib.sha256((workshop / "phasko.sqlite3").read_bytes()).hexdigest() == before
    assert counts["captures"] == 2
    rows = {row["vehicle"]: row for row in pq.read_table(tmp_path / "out" / "captures.parquet").to_pylist()}
    assert set(rows) == {"Sound cart", "Late cart"}
    database = Database(workshop)
    for number, vehicle in ((1, "Sound cart"), (2, "Late cart")):
        stored = analyse_stored_job(database, number)
        assert stored is not None
        leader = stored.analysis.verdict.faults[0]
        assert (rows[vehicle]["fault"], rows[vehicle]["gate"]) == (leader.fault, stored.analysis.verdict.teardown)
        assert rows[vehicle]["probability"] == pytest.approx(leader.probability)
    database.close()


def test_the_file_itself_may_be_named(workshop: Path) -> None:
    assert found_units([workshop / "phasko.sqlite3"]).units == found_units([workshop]).units


def test_the_command_tells_its_rows(workshop: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["fleet", "analyse", str(workshop), "--out", str(tmp_path / "out"), "--workers", "1"]) == 0
    told = capsys.readouterr()
    assert "2 rows in captures.parquet" in told.out
    assert "2 of 2" in told.err
    assert main(["fleet", "analyse", str(tmp_path / "nowhere"), "--out", str(tmp_path / "out")]) == 2
    assert "no such folder" in capsys.readouterr().err
