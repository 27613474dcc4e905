"""Where the spark comes while cranking, and whether it comes at all."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from phasko.core import numbers
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.engine.state_table import StateTable
from phasko.core.evidence.observable import (
    JobEvidence,
    NotCounted,
    Observable,
    Observed,
    Predictions,
    Word,
    condition_of,
)
from phasko.core.evidence.signal_health import whole_signals
from phasko.core.ignition import CoilFiring
from phasko.core.uncertainty import NORMAL_95

__all__ = ["SparkTiming", "SparkWithheld"]


class SparkTiming:
    name = "spark"
    title = "Spark"
    second_kind = False

    def observe(self, job: JobEvidence) -> Observed:
        """The clearest cranking spark of every capture: one control unit times them all, so that further coils are no
        new witnesses. Only the spark of cranking has a window."""
        found = []
        left = []
        for number, capture in enumerate(job.captures):
            cranked = [f for f in capture.firings if f.segment == "cranking" and f.spark_deg is not None]
            if any(f.segment == "running" for f in capture.firings):
                left.append(NotCounted("The spark of a running engine", "its advance is the control unit's affair"))
            elsewhere = [f for f in cranked if f.cylinder is not None and f.nearest != f.cylinder]
            if elsewhere:
                why = "it fires nearest another cylinder's TDC: the lead may sit on another coil"
                left.append(NotCounted("Where the spark comes", why))
            cranked = [f for f in cranked if f not in elsewhere]
            if cranked:
                best = min(cranked, key=lambda f: f.spark_u95_deg or math.inf)
                found.append(_observable(best, number, capture.engine))
        return Observed(tuple(found), (), tuple(dict.fromkeys(left)))

    def predict(self, observables: Sequence[Observable], states: StateTable) -> Predictions:
        """In the wheel frame: a wheel that moved, alone or with its hub, takes the spark along."""
        shape = (len(states), len(observables))
        outside = np.where(states.number("outside") > 0.0, numbers.SPARK_USUAL_SD_DEG.value, 0.0)
        means = np.broadcast_to(states.number("spark_deg")[:, None], shape)
        return Predictions(means, np.zeros(shape), {"open:spark": np.broadcast_to(outside[:, None], shape)})


def _observable(firing: CoilFiring, number: int, engine: EngineProfile) -> Observable:
    """How far from the middle of the window; between its ends any spark is alike."""
    assert firing.spark_deg is not None
    window = engine.ignition.cranking_spark_deg if engine.ignition is not None else None
    middle = 0.5 * (window[0] + window[1]) if window else numbers.SPARK_USUAL_DEG.value
    if window:
        spread = math.hypot((window[1] - window[0]) / math.sqrt(12.0), numbers.SPARK_MAP_SD_DEG.value)
    else:
        spread = numbers.SPARK_USUAL_SD_DEG.value
    side = "before" if firing.spark_deg < 0 else "after"
    size = f"{abs(firing.spark_deg):.1f} ± {firing.spark_u95_deg or 0.0:.1f}° {side} TDC"
    where = {"early": ", too early for the profile's window", "late": ", too late for the profile's window"}
    return Observable(
        kind=SparkTiming.name,
        key=str(number),
        value=firing.spark_deg - middle,
        own_sd=(firing.spark_u95_deg or 1.0) / NORMAL_95,
        factors={"spark:map": spread},
        words=f"Cylinder {firing.cylinder or firing.nearest} sparks {size}{where.get(firing.state, '')}",
        cylinder=firing.cylinder,
    )


class SparkWithheld:
    name = "spark_withheld"
    title = "Spark there"
    second_kind = False

    def observe(self, job: JobEvidence) -> Observed:
        """Whether the coil fires while the engine turns: none may be an answer of the control unit."""
        found = []
        for number, capture in enumerate(job.captures):
            for firing in capture.firings:
                absent = firing.state == "none" or firing.cycles_without > max(2, firing.sparks)
                words = (
                    f"The coil on {firing.channel} does not fire"
                    if absent
                    else f"The coil on {firing.channel} fires in every cycle"
                )
                found.append(
                    Word(
                        kind=self.name,
                        key=f"{number}:{firing.channel}",
                        subject="spark",
                        answer="absent" if absent else "present",
                        words=words,
                        condition=condition_of(capture, firing.segment == "running"),
                        whole_signals=whole_signals(job),
                    )
                )
        # The worst of them: coils of one control unit are one witness.
        absent_ones = [w for w in found if w.answer == "absent"]
        return Observed((), tuple((absent_ones or found)[:1]))

    def chance(self, word: Word, state: EngineState, profile: EngineProfile) -> float:
        """A control unit may withhold spark where crank and cam are out of step or a signal is bad."""
        cams = tuple(cam.id for cam in profile.cams)
        absent = (
            numbers.WITHHELD_SHOWN.value
            if state.out_of_step(cams, word.condition, word.whole_signals) or state.outside
            else numbers.WITHHELD_BY_CHANCE.value
        )
        return absent if word.answer == "absent" else 1.0 - absent
