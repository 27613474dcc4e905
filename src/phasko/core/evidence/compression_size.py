"""How hard all cylinders compress against known good engines: late intake cams lower it, early ones raise it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from phasko.core import numbers
from phasko.core.engine.state_table import StateTable
from phasko.core.evidence.observable import JobEvidence, Observable, Observed, Predictions, condition_of
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

    def predict(self, observables: Sequence[Observable], states: StateTable) -> Predictions:
        """The median of what the healthier cylinders compress. How much a degree costs differs from engine to engine;
        a state that leaves everything open leaves this open too."""
        made = states.pressed(observables[0].condition)
        healthy = made > 0.5 * made.max(axis=1, keepdims=True)
        count = healthy.sum(axis=1)
        place = made.shape[1] - count + count // 2
        ordered = np.sort(np.where(healthy, made, -1.0), axis=1)
        mean = np.maximum(ordered[np.arange(len(states)), np.minimum(place, made.shape[1] - 1)], 0.0) - 1.0
        law = np.round(20.0 * numbers.OVERALL_LAW_SHARE.value * mean) / 20.0
        left = np.maximum(states.number("unknown_size_sd"), states.number("unknown_seal_sd"))
        wide = (1, len(observables))
        return Predictions(
            np.tile(mean[:, None], wide),
            np.zeros((len(states), len(observables))),
            {"law:size": np.tile(law[:, None], wide), "open:size": np.tile(left[:, None], wide)},
        )
