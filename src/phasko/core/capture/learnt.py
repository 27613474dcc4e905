"""What was learnt from the signals, as part of the result document."""

from __future__ import annotations

from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.analysis import LearntCamResult, LearntResult

__all__ = ["learnt_result"]


def learnt_result(capture: CaptureMeasurement) -> LearntResult | None:
    """Wheel and cam patterns as seen; ``None`` where the profile knew everything."""
    learnt = capture.learnt
    if learnt is None:
        return None
    index = capture.engine.crank.index_deg or 0.0
    return LearntResult(
        wheel=learnt.wheel.name if learnt.wheel is not None else None,
        signatures_per_turn=learnt.wheel.signatures_per_turn if learnt.wheel is not None else None,
        cams=[
            LearntCamResult(
                cam=c.cam,
                edges_per_cycle=len(c.edges),
                repeats_deg=c.repeats_deg,
                edges=[edge.model_copy(update={"deg": (edge.deg - index) % 720.0}) for edge in c.edges],
            )
            for c in learnt.cams
        ],
        unknown=list(learnt.unknown),
    )
