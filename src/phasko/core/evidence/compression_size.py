"""How hard all cylinders compress against known good engines: late intake cams lower it, early ones raise it."""

from __future__ import annotations

from collections.abc import Sequence

from phasko.core import numbers
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.evidence.cylinder_compression import pressed
from phasko.core.evidence.observable import JobEvidence, Observable, Observed, Prediction, condition_of
from phasko.core.uncertainty import NORMAL_95

__all__ = ["CompressionSize"]


class CompressionSize:
    name = "compression_size"
    title = "Overall size"
    second_kind = False

    def observe(self, job: JobEvidence) -> Observed:
        """One value, of the capture in which it is surest: the same engine cranked again is no new witness."""
        sizes = [
            (c.compression.overall, c) for c in job.captures if c.compression is not None and c.compression.overall
        ]
        if not sizes:
            return Observed()
        best, capture = min(sizes, key=lambda one: one[0].u95)
        words = f"All cylinders compress {100 * best.relative:.0f} ± {100 * best.u95:.0f} % of known good ones"
        return Observed(
            (
                Observable(
                    kind=self.name,
                    key="overall",
                    value=best.relative - 1.0,
                    own_sd=best.u95 / NORMAL_95,
                    factors={},
                    words=words,
                    condition=condition_of(capture, False),
                ),
            )
        )

    def moved_by(self, state: EngineState) -> bool:
        return state.moves_cylinders or bool(state.unknown_size_sd)

    def predict(
        self, observables: Sequence[Observable], state: EngineState, profile: EngineProfile
    ) -> list[Prediction]:
        """The median of what the healthier cylinders compress. How much a degree costs differs from engine to engine;
        a state that leaves everything open leaves this open too."""
        every = pressed(state, profile, observables[0].condition)
        healthy = sorted(p for p in every.values() if p > 0.5 * max(every.values())) or [0.0]
        mean = healthy[len(healthy) // 2] - 1.0
        left_open = {}
        if mean:
            left_open["law:size"] = round(20.0 * numbers.OVERALL_LAW_SHARE.value * mean) / 20.0
        if state.unknown_size_sd or state.unknown_seal_sd:
            left_open["open:size"] = max(state.unknown_size_sd, state.unknown_seal_sd)
        return [Prediction(mean, left_open) for _ in observables]
