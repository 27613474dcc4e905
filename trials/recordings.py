"""Recordings of the bench, simulated once: the bench's own functions, with their results kept on disk."""

from __future__ import annotations

from phasko.bench import record as _record
from phasko.bench.recorder import record_run as _record_run
from phasko.bench.run import run_engine as _run_engine
from trials.cache import cached_on_disk

__all__ = ["record", "record_run", "run_engine"]

record = cached_on_disk(_record)
record_run = cached_on_disk(_record_run)
run_engine = cached_on_disk(_run_engine)
