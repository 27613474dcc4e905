"""All answers of one job."""

from __future__ import annotations

from collections.abc import Sequence

from phasko.core.documents.analysis import Analysis
from phasko.core.documents.engine import EngineProfile
from phasko.core.why.answer import Why
from phasko.core.why.chances import chance_whys
from phasko.core.why.offsets import offset_whys
from phasko.core.why.sealing import sealing_whys

__all__ = ["whys"]


def whys(analysis: Analysis, engine: EngineProfile, numbers: Sequence[int]) -> list[Why]:
    """Every number of a result that judges, with its reasons; ``numbers`` are those by which its captures are known,
    in their order."""
    measured = [
        why
        for capture, number in zip(analysis.captures, numbers, strict=True)
        for why in (*offset_whys(capture, number, engine), *sealing_whys(capture, number))
    ]
    return [*measured, *chance_whys(analysis)]
