"""All answers of one job."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from phasko.core.documents.analysis import Analysis, CaptureResult
from phasko.core.documents.engine import EngineProfile
from phasko.core.why.answer import Why
from phasko.core.why.chances import chance_whys
from phasko.core.why.drive import elongation_why, phaser_whys
from phasko.core.why.offsets import offset_whys
from phasko.core.why.pressure import pressure_whys
from phasko.core.why.sealing import sealing_whys
from phasko.core.why.sparks import spark_whys

__all__ = ["whys"]


def whys(analysis: Analysis, engine: EngineProfile, numbers: Sequence[int]) -> list[Why]:
    """Every number of a result that judges, with its reasons. ``numbers`` are those by which its captures are known, in
    their order: the answers of a capture have its number before their own name."""
    measured = [
        why.model_copy(update={"id": f"{number}/{why.id}"})
        for capture, number in zip(analysis.captures, numbers, strict=True)
        for why in _of_capture(capture, engine)
    ]
    longer = [elongation_why(analysis.elongation, engine)] if analysis.elongation is not None else []
    return [*measured, *longer, *chance_whys(analysis)]


def _of_capture(capture: CaptureResult, engine: EngineProfile) -> Iterator[Why]:
    yield from offset_whys(capture, engine)
    yield from sealing_whys(capture)
    yield from pressure_whys(capture)
    yield from spark_whys(capture, engine)
    yield from phaser_whys(capture, engine)
