"""A distributor or sync drive clocked wrong: perfect signals out of step, the valves are right."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.explanations.explanation import Area, Branch, NothingOpened, Place
from phasko.core.explanations.moved_part import shifted
from phasko.core.words import amount_words

__all__ = ["SyncMisadjusted"]


class SyncMisadjusted(NothingOpened):
    fault: FaultName = "sync_misadjusted"
    area: Area = "timing"
    hint = (
        "Loosen it, turn it to the maker's window while the live offset is watched, tighten, rev, look again. One "
        "degree of the body is two of the crank."
    )

    def prior(self, profile: EngineProfile) -> float:
        own = profile.drive is not None and profile.drive.type == "distributor_gear"
        return numbers.PRIOR_SYNC.value * (1.0 if own else numbers.RARE_DRIVE_FACTOR.value)

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        """The signal any amount late or early; with a distributor the spark with it. Only where there is one."""
        distributor = profile.ignition is not None and profile.ignition.type == "distributor"
        geared = profile.drive is not None and profile.drive.type == "distributor_gear"
        cams = tuple(cam.id for cam in profile.cams if cam.edges)
        if not cams or not (distributor or geared):
            return ()

        def state(amount_deg: float) -> EngineState:
            spark = amount_deg if distributor else 0.0
            return EngineState(cam_signals_deg=dict.fromkeys(cams, amount_deg), spark_deg=spark)

        place = Place("Distributor" if distributor else "Sync drive", None, cams)
        return tuple(shifted(place, 1.0, state, False))

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:  # noqa: ARG002
        return f"{place.title} clocked {amount_words(amount_deg or 0) or 'wrong'}"
