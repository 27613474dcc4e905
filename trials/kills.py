"""Kills a workshop's process at random moments of import, description and backup; what is lost or half afterwards."""

from __future__ import annotations

import itertools
import os
import signal
import subprocess
import sys
import time
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from phasko.bench.pool import pool_engine
from phasko.jobs.captures import change_description, import_data_file, list_captures
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.opening import open_job
from phasko.keeping import back_up, check_workshop
from phasko.keeping.checking import check_file
from phasko.store import Database
from phasko.store.arriving import forget_halves

ROWS = 20_000


LONGEST_S = 0.8


ACKNOWLEDGED = "acknowledged"


@dataclass(frozen=True)
class Killed:
    """After one kill: captures that were acknowledged and are gone, and what the check found."""

    acknowledged: int
    lost: int
    faults: Sequence[str]


def workshop_in(folder: Path) -> None:
    """An empty workshop with one job."""
    database = Database(folder)
    profile = pool_engine("corvane-2.1-four").model_dump_json(by_alias=True, exclude_none=True).encode()
    engine = save_engine(database, profile, "engine.json")
    open_job(database, vehicle="Van", make_model="", complaint="", codes=[], engine_id=engine.id)
    database.close()


def _work(folder: Path, seed: int) -> None:
    """Works until it is killed."""
    database = Database(folder)
    forget_halves(database)
    with (folder / ACKNOWLEDGED).open("ab", buffering=0) as told:
        for k in itertools.count():
            rng = np.random.default_rng([seed, k])
            rows = "\n".join(f"{i * 1e-4:.4f},{v:.4f}" for i, v in enumerate(rng.normal(size=ROWS)))
            stored = import_data_file(database, 1, f"{seed}-{k}.csv", f"time_s,c1\n{rows}\n".encode())
            told.write(f"capture {stored.id}\n".encode())
            change_description(database, stored.id, {"temperature": "hot" if k % 2 else "cold"})
            if k % 3 == 2:
                back_up(folder, folder / f"copy-{seed}-{k}.sqlite3")
                told.write(f"copy copy-{seed}-{k}.sqlite3\n".encode())


def serve_forks(folder: Path) -> None:
    """A child for every line that comes, so that nothing is loaded anew."""
    print("ready", flush=True)
    for line in sys.stdin:
        child = os.fork()
        if child == 0:
            _work(folder, int(line))
        print(child, flush=True)
        os.waitpid(child, 0)


def killed(folder: Path, seeds: Sequence[int]) -> list[Killed]:
    """One after the other in the same folder."""
    found = []
    command = [sys.executable, "-m", "trials.kills", str(folder)]
    with subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True) as running:
        assert running.stdin is not None
        assert running.stdout is not None
        assert running.stdout.readline().strip() == "ready"
        for seed in seeds:
            print(seed, file=running.stdin, flush=True)
            child = int(running.stdout.readline())
            time.sleep(float(np.random.default_rng(seed).uniform(0.0, LONGEST_S)))
            os.kill(child, signal.SIGKILL)
            # The forking process has seen it end as soon as it answers the next line; here it may still be dying.
            while Path(f"/proc/{child}").exists() and "Z" not in _state(child):
                time.sleep(0.005)
            found.append(_looked_at(folder))
        running.stdin.close()
    return found


def _state(process: int) -> str:
    try:
        return Path(f"/proc/{process}/stat").read_text(encoding="utf-8").rsplit(")", 1)[1].split()[0]
    except OSError:
        return "Z"


def _looked_at(folder: Path) -> Killed:
    log = folder / ACKNOWLEDGED
    told = [line.split() for line in log.read_text(encoding="utf-8").splitlines()] if log.exists() else []
    database = Database(folder)
    forget_halves(database)
    listed = list_captures(database, 1)
    database.close()
    here = {one.id for one in listed if one.unreadable is None}
    captures = [int(name) for what, name in told if what == "capture"]
    copies = [folder / name for what, name in told if what == "copy"]
    faults = [one.words for one in check_workshop(folder)]
    faults += [one.unreadable for one in listed if one.unreadable is not None]
    for copy in copies:
        faults += [f"{copy.name}: {one.words}" for one in check_file(copy)] if copy.exists() else [f"no {copy.name}"]
    return Killed(len(told), sum(number not in here for number in captures), faults)


if __name__ == "__main__":
    serve_forks(Path(sys.argv[1]))
