"""What a worker does with one unit: reads it, measures and judges it, and gives back its rows or why not."""

from __future__ import annotations

import time
from dataclasses import replace
from functools import lru_cache
from pathlib import Path

from phasko.core.analyse import analyse_job
from phasko.core.errors import PhaskoError
from phasko.fleet.rows import Judged, Rows, rows_of
from phasko.fleet.stored import judged_job
from phasko.fleet.units import Bad, Unit
from phasko.jobs.from_files import read_job
from phasko.store import Database

__all__ = ["measured_unit"]


def measured_unit(unit: Unit) -> Rows | Bad:
    """The rows of one unit; what cannot be read or judged is told by its name, and stops nothing else."""
    begun = time.perf_counter()
    try:
        judged = judged_job(_opened(unit.workshop), unit.job_id) if unit.workshop else _from_files(unit)
    except PhaskoError as error:
        return Bad(unit.name, str(error))
    except (MemoryError, RecursionError, OverflowError, ValueError, ArithmeticError, LookupError, OSError) as error:
        # A fault of ours in one capture out of ten thousand may not cost the other ones.
        return Bad(unit.name, f"measuring it failed: {type(error).__name__}: {error}")
    return rows_of(unit, replace(judged, seconds=time.perf_counter() - begun))


def _from_files(unit: Unit) -> Judged:
    read = read_job([Path(path) for path in unit.captures], Path(unit.engine), Path(unit.job) if unit.job else None)
    analysis = analyse_job(read.captures, read.profile, read.engine_sha256, (), read.beside)
    told = read.beside.told if read.beside is not None else None
    return Judged(
        analysis=analysis,
        profile=read.profile,
        descriptions=tuple(one.recording.description for one in read.captures),
        complaint=told.complaint if told is not None else None,
    )


@lru_cache(maxsize=4)
def _opened(workshop: str) -> Database:
    """Opened once a worker: opening takes longer than reading a job."""
    return Database(Path(workshop))
