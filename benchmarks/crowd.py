"""Twenty people at work while a recording of 300 MB is imported: how long each of their requests takes.

    python -m benchmarks.crowd [seconds] [people] [MB]

The server runs as a process of its own, behind people with names. Every person signs in, and then does what screens do:
the board, a job, its captures, its call, a strip, a window of the raw signals, what was noted; one request in twenty is
a change. All of them listen for what the others change. Beside them one imports the recording, again and again. Times
are the client's, in ms; a reference in the same run is the time of the smallest request while nobody else is there.
Told beside: the server's memory, how long until a change is heard, and whether every change is in the log.
"""

from __future__ import annotations

import asyncio
import json
import subprocess
import sys
import tempfile
import time
from collections.abc import AsyncIterator, Sequence
from contextlib import asynccontextmanager, closing
from dataclasses import dataclass
from pathlib import Path

import httpx
import numpy as np

from phasko.bench import Shift, capture_files, record
from phasko.bench.pool import pool_engine
from phasko.formats import CaptureFiles
from phasko.jobs.captures import import_capture
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.opening import open_job
from phasko.keeping.people import add_person
from phasko.store import Database
from phasko.store.audit import log_entries

ENGINE = "corvane-2.1-four"
SECRET = "four good long words"
PAUSE_S = 0.4
"""Between two requests of one person, in the mean; exponential."""
JOBS = 6


@dataclass(frozen=True)
class Asked:
    """One request: what, when it began (s), how long it took (ms), its status."""

    what: str
    began_s: float
    took_ms: float
    status: int
    capture: int = 0


@dataclass(frozen=True)
class Crowd:
    """All requests; from when to when (s) a recording was imported beside them; what was heard, when (s), of which
    captures, by whom; the server's memory (MiB) every few seconds."""

    asked: Sequence[Asked]
    imports: Sequence[tuple[float, float]]
    heard: Sequence[tuple[float, Sequence[int], int]]
    memory: Sequence[float]

    def during(self, one: Asked) -> bool:
        ends = one.began_s + one.took_ms / 1e3
        return any(one.began_s < until and ends > since for since, until in self.imports)


def workshop(folder: Path, people: int) -> None:
    """Jobs with one capture each, and so many technicians."""
    profile = pool_engine(ENGINE)
    with closing(Database(folder)) as database:
        add_person(database, "lead", "lead", SECRET)
        for k in range(people):
            add_person(database, f"person {k}", "technician", SECRET)
        text = profile.model_dump_json(by_alias=True, exclude_none=True).encode()
        engine = save_engine(database, text, "engine.json")
        for k in range(JOBS):
            job = open_job(
                database, vehicle=f"Van {k}", make_model="", complaint="rattles", codes=["P0016"], engine_id=engine.id
            )
            made = capture_files(record(profile, 50 + k, shift=Shift({"B1I": 4.0 * k}), name=f"van{k}"))
            described, data = f"van{k}.capture.json", f"van{k}.csv"
            import_capture(database, job.id, CaptureFiles(described, made[described], data, made[data]))


def recording(megabytes: float, seed: int) -> bytes:
    """A CSV of about that size: time and four channels of noise."""
    rng = np.random.default_rng(seed)
    count = int(megabytes * 1e6 / 40)
    block = 100_000
    parts = ["time_s,crank,cam,current,coil\n"]
    for start in range(0, count, block):
        size = min(block, count - start)
        values = np.round(rng.normal(size=(size, 4)), 4)
        times = (start + np.arange(size)) * 1e-6
        parts.append(
            "".join(
                f"{t:.6f},{a:.4f},{b:.4f},{c:.4f},{d:.4f}\n"
                for t, (a, b, c, d) in zip(times.tolist(), values.tolist(), strict=True)
            )
        )
    return "".join(parts).encode()


@asynccontextmanager
async def person(address: str, name: str) -> AsyncIterator[httpx.AsyncClient]:
    async with httpx.AsyncClient(base_url=address, timeout=120.0) as client:
        answer = await client.post("/api/session", json={"name": name, "passphrase": SECRET})
        answer.raise_for_status()
        yield client


async def _works(address: str, number: int, until: float, found: list[Asked]) -> None:
    rng = np.random.default_rng(number)
    async with person(address, f"person {number}") as client:
        while time.monotonic() < until:
            await asyncio.sleep(float(rng.exponential(PAUSE_S)))
            job = int(rng.integers(1, JOBS + 1))
            found.append(await _one(client, job, rng))


async def _one(client: httpx.AsyncClient, job: int, rng: np.random.Generator) -> Asked:
    looks = [
        ("GET", "/api/jobs", "board"),
        ("GET", f"/api/jobs/{job}", "job"),
        ("GET", f"/api/jobs/{job}/captures", "captures"),
        ("GET", f"/api/jobs/{job}/analysis", "call"),
        ("GET", f"/api/captures/{job}/strip", "strip"),
        ("GET", f"/api/captures/{job}/raw?points=1600", "raw"),
        ("GET", f"/api/jobs/{job}/looks", "looks"),
        ("GET", "/api/engines", "engines"),
    ]
    begun = time.monotonic()
    if rng.random() < 0.05:
        column = f"/api/captures/{job}/marks"
        # Never the same twice: what changes nothing is not in the log.
        answer = await client.put(column, json={"marks": [{"t_s": float(rng.uniform(0, 1))}]})
        what = "mark"
    else:
        method, path, what = looks[int(rng.integers(len(looks)))]
        answer = await client.request(method, path)
    return Asked(what, begun, 1e3 * (time.monotonic() - begun), answer.status_code, job if what == "mark" else 0)


async def _listens(address: str, number: int, heard: list[tuple[float, Sequence[int], int]]) -> None:
    async with person(address, f"person {number}") as client, client.stream("GET", "/api/changes") as stream:
        async for line in stream.aiter_lines():
            if line.startswith("data: "):
                heard.append((time.monotonic(), json.loads(line.removeprefix("data: "))["captures"], number))


async def _watches_memory(pid: int, found: list[float]) -> None:
    while True:
        # What it holds for itself: pages of mapped files can be taken back at any time.
        lines = Path(f"/proc/{pid}/status").read_text(encoding="ascii").splitlines()
        found.append(next(int(line.split()[1]) / 1024.0 for line in lines if line.startswith("RssAnon")))
        await asyncio.sleep(5.0)


async def _imports(address: str, data: bytes, name: str) -> tuple[float, float]:
    async with person(address, "lead") as client:
        begun = time.monotonic()
        answer = await client.post("/api/jobs/1/captures", files={"data": (name, data)}, timeout=600.0)
        answer.raise_for_status()
        return begun, time.monotonic()


async def crowd(address: str, seconds: float, people: int, data: bytes, pid: int) -> Crowd:
    """So many people for so long; a recording is imported over and over beside them, each time another one."""
    found: list[Asked] = []
    heard: list[tuple[float, Sequence[int], int]] = []
    memory: list[float] = []
    beside = [asyncio.create_task(_listens(address, k, heard)) for k in range(people)]
    beside.append(asyncio.create_task(_watches_memory(pid, memory)))
    await asyncio.sleep(2.0)
    until = time.monotonic() + seconds
    working = [asyncio.create_task(_works(address, k, until, found)) for k in range(people)]
    imports = []
    while data and time.monotonic() < until - 5.0:
        imports.append(await _imports(address, _other(data, len(imports)), f"large{len(imports)}.csv"))
    await asyncio.gather(*working)
    await asyncio.sleep(2.0)
    for task in beside:
        task.cancel()
    await asyncio.gather(*beside, return_exceptions=True)
    return Crowd(found, imports, heard, memory)


def _other(data: bytes, number: int) -> bytes:
    """The same recording with a comment that makes it another one."""
    return f"# {number}\n".encode() + data


async def _alone(address: str) -> float:
    """The smallest request while nobody else is there: the median of fifty, in ms."""
    async with person(address, "lead") as client:
        took = []
        for _ in range(50):
            begun = time.perf_counter()
            await client.get("/api/session")
            took.append(1e3 * (time.perf_counter() - begun))
    return float(np.median(took))


async def _warm(address: str) -> None:
    async with person(address, "lead") as client:
        for job in range(1, JOBS + 1):
            await client.get(f"/api/jobs/{job}/analysis")
            await client.get(f"/api/captures/{job}/strip")


def _table(found: Crowd, reference_ms: float) -> str:
    rows = ["| request | how many | median | 95 % | longest | refused |", "|---|---:|---:|---:|---:|---:|"]
    groups = {what: [one for one in found.asked if one.what == what] for what in sorted({o.what for o in found.asked})}
    groups["while it is imported"] = [one for one in found.asked if found.during(one)]
    groups["all"] = list(found.asked)
    for what, own in groups.items():
        if not own:
            continue
        took = np.array([one.took_ms for one in own])
        wrong = sum(one.status >= 400 for one in own)
        low, high, most = np.median(took), np.percentile(took, 95), took.max()
        rows.append(f"| {what} | {len(own)} | {low:.0f} ms | {high:.0f} ms | {most:.0f} ms | {wrong} |")
    took = np.array([one.took_ms for one in found.asked])
    rows.append(f"\n95 % is {np.percentile(took, 95) / reference_ms:.0f} times the reference of {reference_ms:.1f} ms.")
    return "\n".join(rows)


def _beside(found: Crowd, people: int, logged: int) -> str:
    """Memory, how soon changes are heard, and whether all are there."""
    marks = [one for one in found.asked if one.what == "mark" and one.status < 400]
    delays = []
    for mark in marks:
        stored = mark.began_s + mark.took_ms / 1e3
        by: dict[int, float] = {}
        for at, captures, number in found.heard:
            if at >= mark.began_s and mark.capture in captures:
                by.setdefault(number, at - stored)
        delays += by.values()
        delays += [float("inf")] * (people - len(by))
    late = np.maximum(np.array(delays), 0.0)
    third = max(1, len(found.memory) // 3)
    first, last = (float(np.median(part)) for part in (found.memory[:third], found.memory[-third:]))
    return (
        f"{len(marks)} changes answered, {logged} in the log. Heard by each of {people} after "
        f"{np.median(late):.2f} s in the median, {np.percentile(late, 95):.2f} s at 95 %, {late.max():.2f} s at most.\n"
        f"Memory of the server: {first:.0f} MiB in the first third, {last:.0f} MiB in the last, "
        f"{max(found.memory):.0f} MiB at most."
    )


def _marks_logged(folder: Path) -> int:
    with closing(Database(folder)) as database, database.reading() as session:
        return sum("marks" in line.fields.split("\n") for line in log_entries(session))


def main() -> None:
    seconds = float(sys.argv[1]) if len(sys.argv) > 1 else 120.0
    people = int(sys.argv[2]) if len(sys.argv) > 2 else 20
    megabytes = float(sys.argv[3]) if len(sys.argv) > 3 else 300.0
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        workshop(folder, people)
        data = recording(megabytes, 1) if megabytes > 0.0 else b""
        command = [sys.executable, "-m", "phasko", "serve", "--port", "8971", "--data", str(folder)]
        with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as server:
            assert server.stdout is not None
            print(server.stdout.readline().strip())
            address = "http://127.0.0.1:8971"
            time.sleep(1.0)
            try:
                asyncio.run(_warm(address))
                reference = asyncio.run(_alone(address))
                found = asyncio.run(crowd(address, seconds, people, data, server.pid))
            finally:
                server.terminate()
        logged = _marks_logged(folder)
    took = [until - since for since, until in found.imports]
    print(
        f"{people} people for {seconds:.0f} s; {len(data) / 1e6:.0f} MB imported beside them {len(took)} times, "
        f"{np.mean(took) if took else 0.0:.0f} s each.\n"
    )
    print(_table(found, reference))
    print(_beside(found, people, logged))


if __name__ == "__main__":
    main()
