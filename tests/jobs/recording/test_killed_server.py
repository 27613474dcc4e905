"""A server that is killed while it records: what was received is kept, and marked as cut."""

from __future__ import annotations

import signal
import time
from contextlib import closing
from pathlib import Path

import httpx

from phasko.jobs.captures import list_captures
from phasko.store import Database
from tests.builders import FOUR
from tests.jobs.recording.test_recordings import job_of, samples_of
from trials.serving import served


def test_a_killed_server_keeps_what_it_received(tmp_path: Path) -> None:
    with closing(Database(tmp_path)) as database:
        job = job_of(database, FOUR, "sensor")
    with served(tmp_path) as running:
        with httpx.Client(base_url=running.address, headers={"origin": running.address}, timeout=60.0) as workshop:
            workshop.post(f"/api/jobs/{job}/recording", json={}).raise_for_status()
            while workshop.get(f"/api/jobs/{job}/recording").json()["seconds"] < 3.2:
                time.sleep(0.1)
        running.process.send_signal(signal.SIGKILL)
        running.process.wait(20)
    with served(tmp_path) as again:
        listed = httpx.get(f"{again.address}/api/jobs/{job}/captures", timeout=60.0).json()
        assert [capture["cut_off"] is not None for capture in listed] == [True]
    with closing(Database(tmp_path)) as database:
        kept = list_captures(database, job)[0]
        assert kept.cut_off is not None and "The server ended while it was recorded" in kept.cut_off
        # Pieces of a second are written together: no more than the last of them is lost.
        assert samples_of(database, kept.id).duration_s > 2.0
