"""How hard all cylinders press against known good engines: late intake cams lower it, early ones raise it a little."""

from __future__ import annotations

from collections.abc import Sequence

from phasko.core import numbers
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.evidence.observable import Observable, Prediction
from phasko.core.uncertainty import NORMAL_95

__all__ = ["CompressionSize", "compression_change"]


class CompressionSize:
    name = "compression_size"
    opens_covers = False

    def observe(
        self,
        captures: Sequence[CaptureMeasurement],
        profile: EngineProfile,
    ) -> tuple[Observable, ...]:
        """One value, of the capture in which it is surest: the same engine cranked again is no new witness."""
        sizes = [c.compression.overall for c in captures if c.compression is not None]
        known = [size for size in sizes if size is not None]
        if not known:
            return ()
        best = min(known, key=lambda size: size.u95)
        words = f"All cylinders press {100 * best.relative:.0f} ± {100 * best.u95:.0f} % of known good ones"
        cams = tuple(cam.id for cam in profile.cams if cam.shaft in ("intake", "single"))
        return (Observable(self.name, "overall", best.relative - 1.0, best.u95 / NORMAL_95, {}, words, cams=cams),)

    def predict(self, observable: Observable, state: EngineState) -> Prediction:
        """The mean over the intake cams, of what their cylinders press; those that hardly press at all do not count
        among the healthy ones whose size this is. How much a degree costs differs from engine to engine; a state that
        leaves everything open leaves this open too."""
        changes = [compression_change(state.valves_deg.get(cam, 0.0)) for cam in observable.cams] or [0.0]
        kept = [c for c in changes if 1.0 + c > 0.5 * (1.0 + max(changes))]
        mean = sum(kept) / len(kept)
        law = numbers.OVERALL_LAW_SHARE.value * round(mean, 3)
        return Prediction(mean, {"open:size": state.unknown_size_sd, "law:size": law})


def compression_change(late_deg: float) -> float:
    """Share by which the cranking peak changes with intake cams that are late by so much: about -10 % at one pitch of
    18 degrees, -24 % at two, +6 % at one early (common practice, no source; the bench's own cycle agrees)."""
    if late_deg <= 0:
        return -numbers.COMPRESSION_EARLY_PER_DEG.value * late_deg
    per_deg, per_deg2 = numbers.COMPRESSION_LATE_PER_DEG.value, numbers.COMPRESSION_LATE_PER_DEG2.value
    return -(per_deg * late_deg + per_deg2 * late_deg * late_deg)
