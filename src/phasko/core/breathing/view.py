"""Everything the picture of breathing needs: each channel's mean cycle beside the usual one, what is odd, in words."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import BaseModel, ConfigDict

from phasko.core.breathing.manifold import Manifold
from phasko.core.breathing.pulses import PulseMeasurement
from phasko.core.breathing.result import manifold_results, odd_words, pulse_results
from phasko.core.cycle.angle_grid import STEPS
from phasko.core.cycle.cycles import cycle_origin_deg
from phasko.core.documents.analysis import ManifoldResult, PulseResult
from phasko.core.documents.engine import EngineProfile

__all__ = ["BreathingView", "breathing_view"]


class PulseCurve(BaseModel):
    """One channel: its mean cycle from ``from_deg`` on, a value per step, and what it would be if all were alike."""

    model_config = ConfigDict(frozen=True)
    result: PulseResult
    values: list[float]
    usual: list[float]
    words: list[str]


class BreathingView(BaseModel):
    """Empty lists where no such channel was hooked up."""

    model_config = ConfigDict(frozen=True)
    from_deg: float
    step_deg: float
    pulses: list[PulseCurve]
    manifolds: list[ManifoldResult]


def breathing_view(
    pulses: Sequence[PulseMeasurement], manifolds: Sequence[Manifold], engine: EngineProfile
) -> BreathingView:
    """The view of measured breathing."""
    curves = [
        PulseCurve(
            result=result,
            values=[round(float(v), 5) for v in one.signal],
            usual=[round(float(v), 5) for v in one.usual],
            words=odd_words(one),
        )
        for one, result in zip(pulses, pulse_results(pulses), strict=True)
    ]
    return BreathingView(
        from_deg=cycle_origin_deg(engine.cylinders),
        step_deg=720.0 / STEPS,
        pulses=curves,
        manifolds=manifold_results(manifolds),
    )
