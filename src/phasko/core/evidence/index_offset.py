"""Where the crank wheel stands against the pistons, one value per capture that felt them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from phasko.core import numbers
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.cylinder import IndexOffset
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state_table import StateTable
from phasko.core.evidence.observable import JobEvidence, Observable, Observed, Predictions, condition_of
from phasko.core.uncertainty import NORMAL_95
from phasko.core.words import angle_words

__all__ = ["IndexOffsetKind"]


class IndexOffsetKind:
    name = "index"
    title = "Pistons"
    second_kind = True

    def observe(self, job: JobEvidence) -> Observed:
        """Captures of one engine share its loss angle, which is most of what is not known; and the profile's index,
        which moves every cam offset the other way."""
        felt = [(n, capture, capture.index) for n, capture in enumerate(job.captures) if capture.index is not None]
        return Observed(tuple(_observable(n, capture, index, job.profile) for n, capture, index in felt), (), ())

    def predict(self, observables: Sequence[Observable], states: StateTable) -> Predictions:
        """A wheel that moved, alone or with its hub, passes late by that; a crank edge read wrongly, or a wrong index,
        moves all readings the other way. Valves and cams do not move it."""
        shape = (len(states), len(observables))
        mean = states.number("crank_wheel_deg") + states.number("hub_deg") - states.number("readings_deg")
        return Predictions(
            np.broadcast_to(mean[:, None], shape),
            np.zeros(shape),
            {
                "open:common": np.broadcast_to(-states.number("unknown_common_sd_deg")[:, None], shape),
                "open:index": np.broadcast_to(states.number("unknown_index_sd_deg")[:, None], shape),
            },
        )


def _observable(number: int, capture: CaptureMeasurement, index: IndexOffset, profile: EngineProfile) -> Observable:
    sd = index.u95_deg / NORMAL_95
    shared = numbers.INDEX_SHARED_SHARE.value
    known = profile.crank.index_u95_deg
    profile_sd = (numbers.DEFAULT_REFERENCE_U95_DEG.value if known is None else known) / NORMAL_95
    reads = angle_words(index.offset_deg, index.u95_deg)
    stands = "stands true" if index.confirms else f"stands {reads}"
    return Observable(
        kind=IndexOffsetKind.name,
        key=str(number),
        value=index.offset_deg,
        own_sd=sd * (1.0 - shared**2) ** 0.5,
        factors={f"loss:{index.source}": sd * shared, "index": -profile_sd},
        words=f"By {index.by} the crank wheel {stands} to the pistons, ± {index.u95_deg:.0f}°",
        condition=condition_of(capture, False),
    )
