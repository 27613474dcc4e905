"""The edges of a capture's signals in a stretch of time, for rulers that snap to them and count them."""

from __future__ import annotations

import hashlib

import numpy as np
from pydantic import BaseModel, ConfigDict

from phasko.core.documents import EngineProfile, parse_document
from phasko.core.edges import EdgeTrain
from phasko.core.signals import every_train
from phasko.jobs.remembered import Remembered
from phasko.store import Database, captures, jobs

__all__ = ["ChannelEdges", "EdgesInSpan", "edges_in_span"]

_MOST = 400
"""More edges than a ruler could tell apart on a screen."""
_trains: Remembered[dict[str, EdgeTrain]] = Remembered(8)


class ChannelEdges(BaseModel):
    """Edges of one signal within the span: how many, and when (s), or none when they stand too dense to snap to."""

    model_config = ConfigDict(frozen=True)
    column: str
    count: int
    times_s: list[float]
    rising: list[bool]


class EdgesInSpan(BaseModel):
    model_config = ConfigDict(frozen=True)
    from_s: float
    to_s: float
    channels: list[ChannelEdges]


def edges_in_span(database: Database, capture_id: int, from_s: float, to_s: float) -> EdgesInSpan:
    """Edges of every crank, cam and further wheel's channel between two times. Raises NotFoundError."""
    with database.transaction() as session:
        capture = captures.get_capture(session, capture_id)
        engine = jobs.get_job(session, capture.job_id).engine_version
        about = f"{capture.sha256}:{capture.description}:{engine.sha256}"
        key = hashlib.sha256(about.encode()).hexdigest()
        document, name = engine.document, engine.name

    def find() -> dict[str, EdgeTrain]:
        with database.transaction() as session:
            recording = captures.load_recording(session, captures.get_capture(session, capture_id))
        return every_train(recording, parse_document(document, EngineProfile, name))

    found = []
    for column, train in _trains.get(key, find).items():
        low, high = np.searchsorted(train.times_s, [from_s, to_s])
        shown = slice(low, high if high - low <= _MOST else low)
        found.append(
            ChannelEdges(
                column=column,
                count=int(high - low),
                times_s=train.times_s[shown].round(7).tolist(),
                rising=train.rising[shown].tolist(),
            )
        )
    return EdgesInSpan(from_s=from_s, to_s=to_s, channels=found)
