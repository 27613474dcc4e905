"""Many workers on one fleet: on this machine, or on a cluster that is given."""

from __future__ import annotations

import os
import time
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from phasko.core.errors import RefusedError
from phasko.fleet.measuring import measured_unit
from phasko.fleet.progress import Progress
from phasko.fleet.rows import Rows
from phasko.fleet.tables import FleetTables
from phasko.fleet.units import Bad, Found, Unit

__all__ = ["Cluster", "Progress", "analyse_fleet", "local_cluster"]

BATCH = 64
AHEAD = 4
"""Units on their way a worker: enough that none waits, few enough that memory and a kill cost little."""
WORKER_MEMORY = "2GiB"
ANSWERS_WITHIN = "20s"
TRIES = 3
"""A unit that ends its process so often is told as bad: it would take every worker down."""


@dataclass(frozen=True, slots=True)
class Cluster:
    """Where the work is done: ``scheduler`` of a cluster that is there (``tcp://127.0.0.1:8786``, ``tls://...`` with
    the files of its certificates), or this machine with so many ``workers`` (0: one a core)."""

    scheduler: str = ""
    workers: int = 0
    tls_ca: Path | None = None
    tls_certificate: Path | None = None
    tls_key: Path | None = None


def analyse_fleet(
    found: Found, out: Path, cluster: Cluster, told: Callable[[Progress], None] = lambda _: None
) -> dict[str, int]:
    """Measures and judges every unit that is not kept in ``out`` yet, and tells how many rows each table has.

    Whatever was killed is gone on with by calling it again. Raises RefusedError for an address that is neither this
    machine nor TLS, for workers that do not start, do not answer or are lost on the way, and while another command
    writes into ``out``; DataError where nothing can be written.
    """
    tables = FleetTables(out)
    with tables.alone():
        _analyse_into(tables, found, cluster, told)
        return tables.join([unit.key for unit in found.units], found.bad)


def _analyse_into(tables: FleetTables, found: Found, cluster: Cluster, told: Callable[[Progress], None]) -> None:
    done = tables.done()
    pending = [unit for unit in found.units if unit.key not in done]
    begun, every = time.monotonic(), len(found.units)
    already = every - len(pending)
    bad_before = sum(1 for unit in found.units if done.get(unit.key) == 0)
    kept = bad = 0
    if pending:
        with _client(cluster) as (client, workers):
            rows: list[Rows] = []
            failed: list[tuple[str, Bad]] = []
            try:
                for unit, result in _results(client, pending, AHEAD * workers):
                    if isinstance(result, Bad):
                        failed.append((unit.key, result))
                        bad += 1
                    else:
                        rows.append(result)
                    kept += 1
                    if len(rows) + len(failed) >= BATCH:
                        tables.keep(rows, failed)
                        rows, failed = [], []
                    told(Progress(already + kept, every, bad_before + bad, kept / (time.monotonic() - begun)))
            finally:
                # What came before workers were lost, or somebody stopped it, is kept too.
                if rows or failed:
                    tables.keep(rows, failed)


def _results(client: Any, pending: Sequence[Unit], ahead: int) -> Iterator[tuple[Unit, Rows | Bad]]:
    """Units as they are done, with no more than ``ahead`` on their way."""
    from dask.distributed import CancelledError, as_completed
    from distributed import KilledWorker

    waiting = iter(pending)
    of: dict[str, Unit] = {}

    def sent() -> Any | None:
        unit = next(waiting, None)
        if unit is None:
            return None
        of[unit.key] = unit
        return client.submit(measured_unit, unit, key=unit.key, retries=0, pure=True)

    first = [future for _ in range(ahead) if (future := sent()) is not None]
    running = as_completed(first)
    for future in running:
        unit = of.pop(future.key)
        try:
            result = future.result()
        except KilledWorker:
            result = Bad(unit.name, "reading it ended the process that read it, every time")
        except CancelledError as error:
            raise _no_workers("The cluster was lost on the way") from error
        future.release()
        follows = sent()
        if follows is not None:
            running.add(follows)
        yield unit, result


@contextmanager
def _client(cluster: Cluster) -> Iterator[tuple[Any, int]]:
    """The cluster's client, and how many workers it has."""
    import dask
    from dask.distributed import Client

    with dask.config.set(_PATIENT):
        if cluster.scheduler:
            security = _security(cluster)
            try:
                client = Client(cluster.scheduler, security=security, timeout=ANSWERS_WITHIN)
            except OSError as error:
                raise _no_workers(f"The cluster at {cluster.scheduler} does not answer") from error
            with client:
                count = len(client.scheduler_info(n_workers=-1)["workers"])
                if not count:
                    raise _no_workers(f"The cluster at {cluster.scheduler} has no workers")
                yield client, count
            return
        count = cluster.workers or _cores()
        with _started(count) as local, Client(local) as client:
            yield client, count


_PATIENT = {
    "distributed.scheduler.allowed-failures": TRIES,
    "distributed.worker.daemon": True,
    # A busy machine takes longer than the usual 30 s to start a worker.
    "distributed.comm.timeouts.connect": "120s",
    "distributed.comm.timeouts.tcp": "120s",
}


def _started(workers: int) -> Any:
    try:
        return local_cluster(workers)
    except (RuntimeError, OSError) as error:
        raise _no_workers(f"The workers on this machine did not start ({error})") from error


def _no_workers(what: str) -> RefusedError:
    return RefusedError(
        what,
        kept="What was measured before is kept",
        remedy="Start it again: it goes on where it was. Without --scheduler the workers of this machine do it.",
    )


def local_cluster(workers: int) -> Any:
    """So many workers on this machine, a process each, which only this machine reaches."""
    from dask.distributed import LocalCluster

    return LocalCluster(
        n_workers=workers,
        threads_per_worker=1,
        memory_limit=WORKER_MEMORY,
        host="127.0.0.1",
        # Any free port: two fleets at once would both want the usual one.
        dashboard_address="127.0.0.1:0",
        silence_logs="ERROR",
    )


def _cores() -> int:
    return len(os.sched_getaffinity(0))


def _security(cluster: Cluster) -> Any:
    """TLS where it is asked. Raises RefusedError for another machine without it: everything would be readable, and
    whoever reaches a scheduler can run what he likes."""
    from distributed.security import Security

    address = cluster.scheduler
    if address.startswith("tls://"):
        if None in (cluster.tls_ca, cluster.tls_certificate, cluster.tls_key):
            raise RefusedError(
                "A cluster over TLS needs its certificates",
                remedy="Give --tls-ca, --tls-certificate and --tls-key.",
            )
        return Security(
            require_encryption=True,
            tls_ca_file=str(cluster.tls_ca),
            tls_client_cert=str(cluster.tls_certificate),
            tls_client_key=str(cluster.tls_key),
        )
    host = address.removeprefix("tcp://").rpartition(":")[0].strip("[]")
    if host not in ("127.0.0.1", "localhost", "::1"):
        raise RefusedError(
            f"{address} is another machine, and without TLS",
            kept="Nothing was sent",
            remedy="Give a tls:// address with its certificates, or a scheduler on this machine.",
        )
    return None
