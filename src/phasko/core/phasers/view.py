"""What a picture of a sweep needs: the cam over time, the command, both stops, and where the reference has them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from pydantic import BaseModel, ConfigDict

from phasko.core.documents.engine import EngineProfile
from phasko.core.phasers.result import sweep_words
from phasko.core.phasers.sweep import PhaserSweep
from phasko.core.signals.recording import Recording
from phasko.core.words import cam_name

__all__ = ["SweepPicture", "sweep_pictures"]

_MOST_POINTS = 1500


class SweepPart(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class DrivenSpan(SweepPart):
    """The phaser was driven from one moment to another with this share of full drive."""

    from_s: float
    to_s: float
    share: float


class SweepPicture(SweepPart):
    """One phaser. Places are offsets in deg, late positive (``absolute``; else from where it started).
    ``travel_low_deg``
    and ``travel_high_deg``: the reference's two stops, where the profile knows the range."""

    cam: str
    name: str
    shaft: str
    absolute: bool
    text: str
    times_s: list[float]
    places_deg: list[float]
    driven: list[DrivenSpan]
    start_deg: float
    low_deg: float
    high_deg: float
    stop_u95_deg: float
    returned_deg: float | None
    travel_low_deg: float | None
    travel_high_deg: float | None


def sweep_pictures(sweeps: Sequence[PhaserSweep], recording: Recording, engine: EngineProfile) -> list[SweepPicture]:
    """One picture a phaser that was driven."""
    return [_picture(sweep, recording, engine) for sweep in sweeps]


def _picture(sweep: PhaserSweep, recording: Recording, engine: EngineProfile) -> SweepPicture:
    step = max(1, -(-sweep.times_s.size // _MOST_POINTS))
    phaser = sweep.cam.phaser
    return SweepPicture(
        cam=sweep.cam.id,
        name=cam_name(sweep.cam, engine),
        shaft=sweep.cam.shaft,
        absolute=sweep.absolute,
        text=sweep_words(sweep, engine),
        times_s=[float(t) for t in np.round(sweep.times_s[::step], 4)],
        places_deg=[float(d) for d in np.round(sweep.places_deg[::step], 3)],
        driven=_driven(sweep, recording.start_s + recording.duration_s),
        start_deg=sweep.start.place_deg,
        low_deg=sweep.low_deg,
        high_deg=sweep.high_deg,
        stop_u95_deg=sweep.stop_u95_deg,
        returned_deg=None if sweep.returned is None else sweep.returned.place_deg,
        travel_low_deg=phaser.authority_deg[0] if phaser is not None and sweep.absolute else None,
        travel_high_deg=phaser.authority_deg[1] if phaser is not None and sweep.absolute else None,
    )


def _driven(sweep: PhaserSweep, end_s: float) -> list[DrivenSpan]:
    steps = sweep.commands.steps
    ends = [*(step.at_s for step in steps[1:]), end_s]
    return [
        DrivenSpan(from_s=step.at_s, to_s=end, share=step.after)
        for step, end in zip(steps, ends, strict=True)
        if step.after > 0.0
    ]
