"""Whether the edges of a cam stand to each other as the profile says: a wrong profile shows here first."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import scipy

from phasko.core import numbers
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state_table import StateTable
from phasko.core.evidence.observable import JobEvidence, Observable, Observed, Predictions
from phasko.core.phase.reading import CamReading
from phasko.core.uncertainty import NORMAL_95
from phasko.core.words import cam_name

__all__ = ["EdgeSpacing"]


class EdgeSpacing:
    name = "edge_spacing"
    title = "Edge spacing"
    second_kind = False

    def observe(self, job: JobEvidence) -> Observed:
        """Orthonormal contrasts of each cam's edge means: n edges give n-1 values that no offset can change. A wheel
        or cam whose pattern was not recognised at all stands as one misfit of the size of the search window."""
        captures, profile = job.captures, job.profile
        found: list[Observable] = []
        for reading in _clearest_per_cam(captures):
            offset = reading.offset
            assert offset is not None
            means = offset.statistics.edge_means
            means = means[np.isfinite(means)]
            own = math.hypot(reading.reference.edges_u95_deg, math.sqrt(2.0) * offset.offset.u95) / NORMAL_95
            sd = math.hypot(numbers.SPACING_FLOOR_SD_DEG.value, own)
            words = f"{cam_name(reading.cam, profile)} edges lie {offset.misfit_deg:.1f}° from the profile's spacing"
            for i, value in enumerate((scipy.linalg.helmert(means.size) @ means).tolist()):
                found.append(
                    Observable(
                        kind=self.name,
                        key=f"{reading.cam.id}:{i}",
                        value=value,
                        own_sd=sd,
                        factors={},
                        words=words,
                        cam=reading.cam.id,
                    )
                )
        return Observed((*found, *_unrecognised(captures, profile, {o.cam for o in found})))

    def predict(self, observables: Sequence[Observable], states: StateTable) -> Predictions:
        """No displacement changes the spacing; only a wrong target does, and then by an unknown amount. A signal that
        is not whole may follow no pattern, and neither does a cam that nothing drives."""
        wide = numbers.WRONG_SPACING_SD_DEG.value
        turn = states.number("cams_turn") > 0.0
        columns = []
        for one in observables:
            sd = states.number("unknown_spacing_sd_deg")
            if one.key.endswith(":pattern"):
                poor = np.array([(one.cam or "crank") in state.signals for state in states.states], dtype=bool)
                sd = np.where(poor, wide, sd)
            columns.append(sd if one.cam is None else np.where(turn, sd, wide))
        open_sd = np.column_stack(columns)
        return Predictions(np.zeros(open_sd.shape), open_sd)


def _unrecognised(
    captures: Sequence[CaptureMeasurement], profile: EngineProfile, measured: set[str | None]
) -> list[Observable]:
    """Misfits that left no offset: another wheel on the crank, or a cam that does not follow its pattern."""
    size, sd = numbers.PATTERN_WINDOW_DEG.value, numbers.PATTERN_MISFIT_SD_DEG.value
    found: dict[str, Observable] = {}
    for capture in captures:
        swapped = any(problem.code == "channels_swapped" for problem in capture.problems)
        if capture.matches_profile is False and not swapped:
            seen = f" but looks like {capture.wheel}" if capture.wheel else ""
            words = f"The crank signal does not fit the profile's wheel{seen}"
            # A wheel that is recognised as another one is whole: no sensor that fails does that.
            key = "crank:other wheel" if capture.wheel else "crank:pattern"
            found["crank"] = Observable(EdgeSpacing.name, key, size, sd, {}, words)
        for cam_id in sorted({cam_id for turn in capture.pieces for cam_id in turn.misfits} - measured):
            cam = profile.cam(cam_id)
            if cam is not None:
                words = f"{cam_name(cam, profile)} edges do not follow the profile's pattern"
                found[cam_id] = Observable(
                    kind=EdgeSpacing.name,
                    key=f"{cam_id}:pattern",
                    value=size,
                    own_sd=sd,
                    factors={},
                    words=words,
                    cam=cam_id,
                )
    return list(found.values())


def _clearest_per_cam(captures: Sequence[CaptureMeasurement]) -> list[CamReading]:
    """Per cam the reading with the smallest uncertainty; the same target in another capture is no new witness."""
    best: dict[str, CamReading] = {}
    for capture in captures:
        for reading in capture.cams:
            if reading.offset is None or reading.swapped or capture.doubtful(reading):
                continue
            held = best.get(reading.cam.id)
            if held is None or held.offset is None or reading.offset.offset.u95 < held.offset.offset.u95:
                best[reading.cam.id] = reading
    return list(best.values())
