"""A fleet on this machine's workers: its tables, a kill in the middle, workers that are killed, and other machines."""

import os
import signal
import subprocess
import sys
import time
from collections.abc import Callable
from contextlib import ExitStack
from pathlib import Path

import pyarrow.parquet as pq
import pytest

from phasko.core.errors import RefusedError
from phasko.fleet import running
from phasko.fleet.progress import Progress
from phasko.fleet.running import Cluster, analyse_fleet
from phasko.fleet.tables import FleetTables
from phasko.fleet.units import found_units
from trials.serving import free_port

OWN_PLACES = ("src/phasko/fleet",)

NAMES = {"island/jumped/late", *(f"island/sound/car{i}" for i in range(6))}


@pytest.fixture(scope="module")
def analysed(fleet_folder: Path, tmp_path_factory: pytest.TempPathFactory) -> tuple[Path, list[Progress]]:
    out, said = tmp_path_factory.mktemp("tables") / "out", []
    analyse_fleet(found_units([fleet_folder]), out, Cluster(workers=1), said.append)
    return out, said


def test_every_capture_has_its_rows_and_the_torn_one_its_reason(analysed: tuple[Path, list[Progress]]) -> None:
    out, said = analysed
    captures = pq.read_table(out / "captures.parquet").to_pylist()
    assert {row["name"] for row in captures} == NAMES
    (torn,) = pq.read_table(out / "bad.parquet").to_pylist()
    assert torn["name"] == "island/sound/torn"
    assert "not JSON" in torn["reason"]
    assert (said[-1].done, said[-1].every, said[-1].bad) == (8, 8, 1)
    assert "8 of 8" in said[-1].words
    cams = pq.read_table(out / "cams.parquet").to_pylist()
    by_name = {row["unit"]: row["name"] for row in captures}
    late = {by_name[row["unit"]]: row["pitches"] for row in cams}
    assert late["island/jumped/late"] == pytest.approx(2.0, abs=0.1)
    assert abs(late["island/sound/car0"]) < 0.1
    cylinders = pq.read_table(out / "cylinders.parquet").to_pylist()
    assert {row["cylinder"] for row in cylinders} == {1, 2, 3}


@pytest.mark.parametrize(
    ("progress", "words"),
    [
        (Progress(600, 5000, 0, 2.44), "600 of 5000, 2.4 a second, 30 min to go"),
        (Progress(4, 18, 1, 0.02), "4 of 18, 1 a minute, 1 cannot be read, 12 min to go"),
        (Progress(18, 18, 0, 0.5), "18 of 18, 30 a minute"),
    ],
)
def test_its_pace_is_told_in_numbers_that_say_something(progress: Progress, words: str) -> None:
    assert progress.words == words


def test_again_nothing_is_done(analysed: tuple[Path, list[Progress]], fleet_folder: Path) -> None:
    said: list[Progress] = []
    counts = analyse_fleet(found_units([fleet_folder]), analysed[0], Cluster(workers=1), said.append)
    assert said == []
    assert counts["captures"] == 7


def test_a_second_command_on_the_same_tables_is_refused_and_costs_the_first_nothing(
    fleet_folder: Path, tmp_path: Path
) -> None:
    begun = tmp_path / "out" / "batches" / "a.begun"
    with FleetTables(tmp_path / "out").alone():
        begun.mkdir()
        with pytest.raises(RefusedError, match="Another command is writing"):
            analyse_fleet(found_units([fleet_folder]), tmp_path / "out", Cluster(workers=1))
        assert begun.is_dir()


def test_killed_in_the_middle_and_started_again_none_is_lost_and_none_twice(fleet_folder: Path, tmp_path: Path) -> None:
    out = tmp_path / "out"
    script = (
        "from pathlib import Path\n"
        "from phasko.fleet import running\n"
        "from phasko.fleet.units import found_units\n"
        "running.BATCH = 2\n"
        "if __name__ == '__main__':\n"
        f"    found = found_units([Path({str(fleet_folder)!r})])\n"
        "    here = running.Cluster(workers=1)\n"
        f"    running.analyse_fleet(found, Path({str(out)!r}), here, lambda p: print(p.done, flush=True))\n"
    )
    (tmp_path / "fleet.py").write_text(script, encoding="utf-8")
    command = [sys.executable, str(tmp_path / "fleet.py")]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, start_new_session=True) as begun:
        assert begun.stdout is not None
        while int(begun.stdout.readline() or 99) < 4:
            pass
        os.killpg(begun.pid, signal.SIGKILL)
    kept = len(list((out / "batches").iterdir()))
    assert 1 <= kept < 4
    subprocess.run(command, check=True, capture_output=True, timeout=120)
    names = pq.read_table(out / "captures.parquet").column("name").to_pylist()
    assert sorted(names) == sorted(NAMES)


@pytest.mark.exhaustive
def test_a_killed_worker_costs_nothing(fleet_folder: Path, tmp_path: Path) -> None:
    killed: list[int] = []

    def kill_one(progress: Progress) -> None:
        if progress.done == 2 and not killed:
            workers = _workers()
            killed.extend(workers[:1])
            for pid in killed:
                os.kill(pid, signal.SIGKILL)

    analyse_fleet(found_units([fleet_folder]), tmp_path / "out", Cluster(workers=2), kill_one)
    assert killed
    names = pq.read_table(tmp_path / "out" / "captures.parquet").column("name").to_pylist()
    assert sorted(names) == sorted(NAMES)


def _workers() -> list[int]:
    """Processes of Dask's workers: grandchildren of this one that spawn made."""
    time.sleep(0.1)
    found = []
    for folder in Path("/proc").iterdir():
        if folder.name.isdigit():
            try:
                status = (folder / "status").read_text(encoding="utf-8")
                told = (folder / "cmdline").read_bytes()
            except OSError:
                continue
            if f"PPid:\t{os.getpid()}\n" in status and b"spawn_main" in told:
                found.append(int(folder.name))
    return found


@pytest.mark.parametrize("address", ["tcp://192.0.2.7:8786", "192.0.2.7:8786", "tls://192.0.2.7:8786"])
def test_another_machine_is_reached_over_tls_with_certificates_alone(
    fleet_folder: Path, tmp_path: Path, address: str
) -> None:
    with pytest.raises(RefusedError, match="TLS"):
        analyse_fleet(found_units([fleet_folder]), tmp_path / "out", Cluster(scheduler=address))


def test_a_cluster_that_does_not_answer_is_told_in_words(
    fleet_folder: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(running, "ANSWERS_WITHIN", "1s")
    nobody = Cluster(scheduler=f"tcp://127.0.0.1:{free_port()}")
    with pytest.raises(RefusedError, match="does not answer"):
        analyse_fleet(found_units([fleet_folder]), tmp_path / "out", nobody)


@pytest.mark.exhaustive
def test_a_cluster_lost_on_the_way_costs_nothing_that_was_done(
    fleet_folder: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """First nobody works there; then its scheduler is killed; the workers of this machine do the rest."""
    monkeypatch.setattr(running, "ANSWERS_WITHIN", "120s")
    found, out, port = found_units([fleet_folder]), tmp_path / "out", free_port()
    there = Cluster(scheduler=f"tcp://127.0.0.1:{port}")
    with ExitStack() as ended:
        scheduler = _dask(ended, "scheduler", "--host", "127.0.0.1", "--port", str(port))
        with pytest.raises(RefusedError, match="has no workers"):
            analyse_fleet(found, out, there)
        _dask(ended, "worker", there.scheduler, "--nthreads", "1", "--no-nanny")

        def lost(progress: Progress) -> None:
            if progress.done == 2:
                scheduler.kill()

        with pytest.raises(RefusedError, match="lost on the way"):
            _once_somebody_works(lambda: analyse_fleet(found, out, there, lost))
    said: list[Progress] = []
    assert analyse_fleet(found, out, Cluster(workers=1), said.append)["captures"] == len(NAMES)
    assert [progress.done for progress in said] == list(range(3, 9))


def _dask(ended: ExitStack, kind: str, *more: str) -> subprocess.Popen[bytes]:
    command = [sys.executable, "-m", f"distributed.cli.dask_{kind}", *more, "--no-dashboard"]
    process = ended.enter_context(subprocess.Popen(command, stderr=subprocess.DEVNULL))
    ended.callback(process.kill)
    return process


def _once_somebody_works(begin: Callable[[], object]) -> None:
    while True:
        try:
            begin()
            return
        except RefusedError as error:
            if "has no workers" not in error.what:
                raise
            time.sleep(0.5)
