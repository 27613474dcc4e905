"""A workshop of many jobs: how long the board, a search and a vehicle's timeline take, against an empty answer of the
same server.

    python -m benchmarks.logbook [jobs]

The jobs are invented: some years of an island's motor pool, each with words, a result's head, captures' rows and notes.
Times are the median of several calls through the HTTP interface in one process; the ratio is to GET /api/session.
"""

from __future__ import annotations

import json
import random
import statistics
import sys
import tempfile
import time
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path

from fastapi.testclient import TestClient

from phasko.bench.pool import pool_engine, pool_engines
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.logbook.words import index_jobs
from phasko.store import Database, jobs, results
from phasko.store.models import Capture, Job, Vehicle
from phasko.web.app import create_app
from phasko.web.door import Door

SEED = 20261128
CALLS = 15
VEHICLES = ("Harbour pick-up", "School van", "Fire engine", "Library bus", "Snow plough", "Post car", "Milk lorry")
TROUBLES = ("stalls on the ramp", "rattles when cold", "no start after rain", "lacks power uphill", "shakes at idle")
CALLED = ("Chain jumped one pitch late", "Phaser off park", "Timing as it should be", "Cylinder 3 does not seal")
CODES = ("P0016", "P0017", "P0340", "P0301", "P0011", "")


def filled(database: Database, count: int) -> None:
    """So many jobs over ten years, each vehicle back every few of them."""
    drawn = random.Random(SEED)
    engines = [
        save_engine(database, pool_engine(name).model_dump_json(by_alias=True, exclude_none=True).encode(), name).id
        for name in pool_engines()
    ]
    begin = datetime(2016, 1, 1, tzinfo=UTC)
    for first in range(0, count, 200):
        with database.transaction() as session:
            for number in range(first, min(count, first + 200)):
                at = (begin + timedelta(days=3650 * number / count)).isoformat(timespec="seconds")
                called = drawn.choice(CALLED)
                closed = number % 8 != 0
                told = {
                    "schema": "phasko.job/1",
                    "complaint": {"text": drawn.choice(TROUBLES), "distance_km": 20_000 + 60 * number},
                    "notes": [{"text": f"spoke to the owner, slip {number}", "by": "Ida"}],
                    "repair": {"found": [{"text": f"guide broken, batch {number % 97}"}]},
                }
                job = Job(
                    vehicle=Vehicle(name=f"{drawn.choice(VEHICLES)} {number % 40}", make_model="Corvane Skiff"),
                    engine_version=jobs.engine_version(session, drawn.choice(engines)),
                    complaint=str(told["complaint"]["text"]),  # type: ignore[index]
                    codes=drawn.choice(CODES),
                    told=json.dumps(told),
                    created_at=at,
                    closed_at=at if closed else None,
                    cause="confirmed" if closed else None,
                )
                session.add(job)
                session.flush()
                head = {"finding": f"Both cam signals read {number % 30}° late", "leader": called, "teardown": "no"}
                results.store_result(session, job.id, f"{number:064x}", "{}", json.dumps(head))
                session.add(
                    Capture(
                        job_id=job.id,
                        name=f"cranking-{number}.capture.json",
                        sha256=f"{number:064x}",
                        data_sha256=f"{number:064x}",
                        description=json.dumps(
                            {
                                "schema": "phasko.capture/1",
                                "data": "c.csv",
                                "channels": [{"column": "c1", "role": "crank"}],
                            }
                        ),
                        start_s=0.0,
                        interval_s=1e-4,
                        sample_count=1000,
                        arrived_at=at,
                    )
                )


def timed(client: TestClient, path: str) -> tuple[float, float]:
    """(median, slowest) milliseconds of a GET."""
    times = []
    for _ in range(CALLS):
        begin = time.perf_counter()
        answer = client.get(path)
        times.append(1000.0 * (time.perf_counter() - begin))
        assert answer.status_code == 200, answer.text
    return statistics.median(times), max(times)


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 2000
    with tempfile.TemporaryDirectory() as folder, closing(Database(Path(folder))) as database:
        filled(database, count)
        begin = time.perf_counter()
        index_jobs(database)
        print(f"{count} jobs; all of them read for the search in {time.perf_counter() - begin:.2f} s")
        app = create_app(database, Door(tuple, loopback_only=True))
        with TestClient(app, base_url="http://127.0.0.1") as client:
            bare, _ = timed(client, "/api/session")
            for name, path in (
                ("open jobs on the board", "/api/logbook?state=open&most=200"),
                ("newest fifty", "/api/logbook"),
                ("one word that many hold", "/api/logbook?text=chain"),
                ("three words, the last begun", "/api/logbook?text=guide%20batch%2013"),
                ("a word that one holds", f"/api/logbook?text=slip%20{count - 7}"),
                ("words that none holds", "/api/logbook?text=zebra"),
                ("code, cause and years", "/api/logbook?code=P0016&cause=confirmed&since=2020-01-01"),
                ("by the gate of the call", "/api/logbook?gate=no&state=open"),
                ("a vehicle's timeline", f"/api/jobs/{count}/timeline"),
                ("every job of all", "/api/jobs"),
            ):
                median, slowest = timed(client, path)
                print(f"{name:<32} {median:7.1f} ms   slowest {slowest:7.1f} ms   {median / bare:6.1f} x")
            print(f"{'(nothing: the session)':<32} {bare:7.1f} ms")


if __name__ == "__main__":
    main()
