"""Facts of invented jobs: a chain that jumped, a healthy engine, and one that was repaired."""

from __future__ import annotations

import functools

from phasko.bench import Shift
from phasko.core.analyse import Beside, HashedCapture
from phasko.core.documents.job import JobDocument
from phasko.core.handover import Facts, Head
from phasko.core.signals.recording import Recording
from tests.builders import FOUR, bench_recording, pool_engine
from trials.analyses import analyse_job

PROFILE = pool_engine(FOUR)
PITCH_DEG = 360.0 / 21.0
LATE = Shift({"B1I": PITCH_DEG, "B1E": PITCH_DEG})


def told(**parts: object) -> JobDocument:
    return JobDocument.model_validate({"schema": "phasko.job/1", **parts})


def head(**changes: object) -> Head:
    fields: dict[str, object] = {
        "workshop": "Ollery Island Motor Pool",
        "address": "Slip Lane 3",
        "number": 31,
        "made_at": "28 November 2026",
        "measured_by": "J. Tollan",
        "vehicle": "Harbour pick-up 7",
        "make_model": "Corvane Skiff",
        "engine": PROFILE.name,
        "distance_km": 93_000.0,
        "complaint": "no start when hot",
        "codes": ["P0016"],
        "history": [],
    }
    return Head.model_validate({**fields, **changes})


def facts_of(*recordings: Recording, document: JobDocument | None = None) -> Facts:
    """Of those recordings and what was told."""
    document = document or told()
    hashed = [HashedCapture(one, f"{number:064x}") for number, one in enumerate(recordings)]
    analysis = analyse_job(hashed, PROFILE, "e" * 64, (), Beside(told=document))
    return Facts(analysis, PROFILE, document, tuple(one.description for one in recordings), head())


def recorded(name: str, seed: int, shift: Shift | None = None, **described: object) -> Recording:
    """A cranking capture under that name."""
    made = bench_recording(seed=seed, shift=shift, **described)
    return Recording(
        f"{name}.capture.json", made.description, made.start_s, made.interval_s, made.channels, cut_off=None
    )


@functools.cache
def jumped() -> Facts:
    return facts_of(recorded("before", 11, LATE))


@functools.cache
def healthy() -> Facts:
    return facts_of(recorded("sound", 12))


@functools.cache
def repaired() -> Facts:
    """Jumped, repaired, closed, and recorded again."""
    document = told(
        codes=[{"code": "P0016"}],
        repair={
            "opened": True,
            "as_expected": True,
            "found": [{"fault": "chain_jumped", "cams": ["B1I", "B1E"], "text": "guide broken"}],
            "replaced": [{"part": "drive", "text": "chain and guides"}],
            "hours": 6.0,
            "done_at": "2026-11-20T12:00:00+00:00",
            "codes_cleared_at": "2026-11-20T12:00:00+00:00",
            "driven_km": 40.0,
        },
        closing={"cause": "confirmed", "at": "2026-11-21T09:00:00+00:00", "by": "J. Tollan"},
    )
    return facts_of(recorded("before", 11, LATE), recorded("after", 12, repair="after"), document=document)
