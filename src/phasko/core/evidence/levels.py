"""How high a cylinder's pressure rises against a sound one's whose charge is trapped where this one's is."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.engine.state_table import StateTable
from phasko.core.evidence.observable import JobEvidence, Observable, Observed, Predictions, condition_of
from phasko.core.uncertainty import NORMAL_95

__all__ = ["Levels"]

_LEAST_SHARE = 0.05


class Levels:
    name = "levels"
    title = "Pressure level"
    second_kind = False

    def observe(self, job: JobEvidence) -> Observed:
        """The logarithm of peak over expected peak, per cylinder and state, and of a peak that is none. What a late
        cam takes from it stands in the corner already, so that only the seal is left."""
        found = []
        for number, capture in enumerate(job.captures):
            taken_out = capture.recording.description.taken_out
            for felt in capture.felt:
                if felt.state == "fires" or felt.cylinder == taken_out:
                    continue
                share = _LEAST_SHARE
                if felt.expected_bar is not None:
                    share = max(_LEAST_SHARE, felt.peak_bar / felt.expected_bar)
                elif felt.state != "dead":
                    continue
                own = felt.peak_u95_bar / NORMAL_95 / max(felt.peak_bar, 1.0)
                size = f"{felt.peak_bar:.1f} bar"
                expected = "" if felt.expected_bar is None else f", {100 * share:.0f} % of the expected"
                found.append(
                    Observable(
                        kind=self.name,
                        key=f"{number}:{felt.segment}:{felt.cylinder}",
                        value=math.log(share),
                        own_sd=math.hypot(own, numbers.LEVEL_OWN_SD.value),
                        factors={
                            "level:size": numbers.LEVEL_SHARED_SD.value,
                            f"build:cylinder:{felt.cylinder}": numbers.CYLINDER_BUILD_SD.value,
                        },
                        words=f"Cylinder {felt.cylinder} reaches {size}{expected}",
                        cylinder=felt.cylinder,
                        condition=condition_of(capture, felt.segment == "running"),
                    )
                )
        return Observed(tuple(found))

    def predict(self, observables: Sequence[Observable], states: StateTable) -> Predictions:
        """What the cylinder's own seal leaves, and a valve that does not open; valves that nothing moves leave any."""
        shape = (len(states), len(observables))
        means, open_sd = np.empty(shape), np.zeros(shape)
        shared: dict[str, Floats] = {}
        for column, one in enumerate(observables):
            cylinder = one.cylinder or 0
            left = np.array(
                [_left(state.seal.get(cylinder, 1.0), state.still.get(cylinder)) for state in states.states]
            )
            left = np.where(states.number("cams_turn") > 0.0, left * states.number("seal_of_all"), left)
            means[:, column] = np.log(np.maximum(left, _LEAST_SHARE))
            open_sd[:, column] = np.where(left < numbers.GAUGE_LOW_SHARE.value, numbers.LEVEL_LOW_SD.value, 0.0)
            own = shared.setdefault(f"open:seal:{cylinder}", np.zeros(shape))
            own[:, column] = states.number("unknown_seal_sd")
        return Predictions(means, open_sd, shared)


def _left(seal: float, still: str | None) -> float:
    return 0.0 if still == "intake" else seal
