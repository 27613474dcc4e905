"""Where the crank wheel stands against the pistons, one value per capture that felt them."""

from __future__ import annotations

from collections.abc import Sequence

from phasko.core import numbers
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.cylinder import IndexOffset
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.evidence.observable import JobEvidence, Observable, Observed, Prediction, condition_of
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

    def moved_by(self, state: EngineState) -> bool:
        moved = state.crank_wheel_deg or state.hub_deg or state.readings_deg
        return bool(moved or state.unknown_common_sd_deg or state.unknown_index_sd_deg)

    def predict(
        self,
        observables: Sequence[Observable],
        state: EngineState,
        profile: EngineProfile,  # noqa: ARG002
    ) -> list[Prediction]:
        """A wheel that moved, alone or with its hub, passes late by that; a crank edge read wrongly, or a wrong index,
        moves all readings the other way. Valves and cams do not move it."""
        mean = state.crank_wheel_deg + state.hub_deg - state.readings_deg
        left_open = {"open:common": -state.unknown_common_sd_deg} if state.unknown_common_sd_deg else {}
        left_open |= {"open:index": state.unknown_index_sd_deg} if state.unknown_index_sd_deg else {}
        return [Prediction(mean, left_open) for _ in observables]


def _observable(number: int, capture: CaptureMeasurement, index: IndexOffset, profile: EngineProfile) -> Observable:
    sd = index.u95_deg / NORMAL_95
    shared = numbers.INDEX_SHARED_SHARE.value
    known = profile.crank.index_u95_deg
    profile_sd = (numbers.DEFAULT_REFERENCE_U95_DEG.value if known is None else known) / NORMAL_95
    by = "the crank's own speed" if index.source == "speed" else "the pressure in a cylinder"
    reads = angle_words(index.offset_deg, index.u95_deg)
    stands = "stands true" if index.confirms else f"stands {reads}"
    return Observable(
        kind=IndexOffsetKind.name,
        key=str(number),
        value=index.offset_deg,
        own_sd=sd * (1.0 - shared**2) ** 0.5,
        factors={f"loss:{index.source}": sd * shared, "index": -profile_sd},
        words=f"By {by} the crank wheel {stands} to the pistons, ± {index.u95_deg:.0f}°",
        condition=condition_of(capture, False),
    )
