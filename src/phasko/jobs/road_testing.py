"""Road tests of a job: scan tool logs, kept as they came and judged anew whenever the profile changes."""

from __future__ import annotations

import hashlib
import math

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict

from phasko.core.documents import EngineProfile, parse_document
from phasko.core.documents.analysis import RoadTestResult
from phasko.core.road import RoadColumn, judge_road_test
from phasko.formats import read_scan_log
from phasko.store import Database, jobs, looks
from phasko.store.models import RoadTest

__all__ = ["RoadTestView", "add_road_test", "remove_road_test", "restore_road_test", "road_tests", "roads_of_job"]


class RoadColumnOut(BaseModel):
    """A column that was understood."""

    model_config = ConfigDict(frozen=True)
    name: str
    quantity: str
    unit: str


class RoadCurve(BaseModel):
    """A quantity over time, thinned for drawing; missing values are null."""

    model_config = ConfigDict(frozen=True)
    quantity: str
    values: list[float | None]


class RoadTestView(BaseModel):
    """One road test: its result, how its columns were understood, and its curves."""

    model_config = ConfigDict(frozen=True)
    id: int
    result: RoadTestResult
    columns: list[RoadColumnOut]
    times_s: list[float]
    curves: list[RoadCurve]


_DRAWN = 600
_DRAWN_QUANTITIES = ("rpm", "load_percent", "throttle_percent", "air_g_s", "manifold_kpa")


def add_road_test(database: Database, job_id: int, name: str, data: bytes) -> list[RoadTestView]:
    """Stores a log and judges it. Raises DataError for what is no log, ConflictError for one that is there already."""
    read_scan_log(data, name)
    with database.transaction() as session:
        jobs.get_job(session, job_id)
        looks.add_road_test(session, job_id, name, hashlib.sha256(data).hexdigest(), data)
    return road_tests(database, job_id)


def road_tests(database: Database, job_id: int) -> list[RoadTestView]:
    """All that stand, oldest first. Raises NotFoundError."""
    return [_view(number, name, data, profile) for number, name, data, profile in _standing(database, job_id)]


def roads_of_job(database: Database, job_id: int) -> tuple[RoadTestResult, ...]:
    """Their results, for the call."""
    found = _standing(database, job_id)
    return tuple(judge_road_test(read_scan_log(data, name), name, profile) for _, name, data, profile in found)


def _standing(database: Database, job_id: int) -> list[tuple[int, str, bytes, EngineProfile]]:
    with database.reading() as session:
        version = jobs.get_job(session, job_id).engine_version
        rows = [(row.id, row.name, row.data) for row in looks.road_tests_of(session, job_id)]
    profile = parse_document(version.document, EngineProfile, version.name)
    return [(number, name, data, profile) for number, name, data in rows]


def remove_road_test(database: Database, road_test_id: int) -> list[RoadTestView]:
    """Takes it out; ``restore_road_test`` brings it back. Raises NotFoundError."""
    with database.transaction() as session:
        job_id = looks.removed(session, RoadTest, road_test_id).job_id
    return road_tests(database, job_id)


def restore_road_test(database: Database, road_test_id: int) -> list[RoadTestView]:
    """Undoes ``remove_road_test``. Raises NotFoundError."""
    with database.transaction() as session:
        job_id = looks.restored(session, RoadTest, road_test_id).job_id
    return road_tests(database, job_id)


def _view(number: int, name: str, data: bytes, profile: EngineProfile) -> RoadTestView:
    log = read_scan_log(data, name)
    thin = slice(None, None, max(1, log.times_s.size // _DRAWN))
    return RoadTestView(
        id=number,
        result=judge_road_test(log, name, profile),
        columns=[_column(column) for column in log.columns],
        times_s=[round(float(t), 3) for t in log.times_s[thin]],
        curves=[_curve(q, log.values[q][thin]) for q in _DRAWN_QUANTITIES if q in log.values],
    )


def _curve(quantity: str, values: NDArray[np.float64]) -> RoadCurve:
    finite = [round(v, 3) if math.isfinite(v) else None for v in values.tolist()]
    return RoadCurve(quantity=quantity, values=finite)


def _column(column: RoadColumn) -> RoadColumnOut:
    return RoadColumnOut(name=column.name, quantity=column.quantity, unit=column.unit)
