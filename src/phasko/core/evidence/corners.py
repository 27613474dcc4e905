"""When the valves really move, felt in a cylinder's pressure and counted from its own top dead centre."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.cylinder import Corner, FeltCylinder
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.filling import USUAL_TIMING, serving_cams, timing_deg
from phasko.core.engine.state import Condition
from phasko.core.engine.state_table import StateTable
from phasko.core.evidence.observable import JobEvidence, NotCounted, Observable, Observed, Predictions, condition_of
from phasko.core.uncertainty import NORMAL_95
from phasko.core.words import angle_words

__all__ = ["Corners", "agreeing_corners"]


class Corners:
    name = "corners"
    title = "Valve corners"
    second_kind = True

    def observe(self, job: JobEvidence) -> Observed:
        """Corners against the profile's valve timing, one per cylinder, valve and state. They share how lobes, valves
        and gas differ from the model, and the profile's own doubt; their cam's build they share with its signal."""
        found: list[Observable] = []
        left: list[NotCounted] = []
        for number, capture in enumerate(job.captures):
            for felt in capture.felt:
                condition = condition_of(capture, felt.segment == "running")
                own = _of(felt, number, job.profile, condition)
                found += own
                if not own and felt.state == "motored":
                    why = "a phaser moved them meanwhile" if felt.swept else "no corner could be told"
                    left.append(NotCounted(f"The valves of cylinder {felt.cylinder}", why))
        return Observed(tuple(found), (), tuple(left))

    def predict(self, observables: Sequence[Observable], states: StateTable) -> Predictions:
        """The valves of their cam against the pistons; wheels and signals do not matter. A lobe of one cylinder that is
        worn opens late and closes early, and cams that nothing drives stand anywhere."""
        shape = (len(states), len(observables))
        means, open_sd = np.empty(shape), np.zeros(shape)
        shared: dict[str, Floats] = {}
        stand = states.number("cams_turn") == 0.0
        other_engine = states.number("unknown_cam_sd_deg") > 0.0
        for column, one in enumerate(observables):
            cam, shaft = one.cam or "", _shaft(one)
            means[:, column] = states.valves(cam, one.condition)
            comes = states.coming_and_going(cam, one.condition)[:, 1]
            worn = np.array([s.worn_lobes.get(one.cylinder or 0) == shaft for s in states.states], dtype=bool)
            means[:, column] += np.where(worn, _towards_middle(one) * numbers.WORN_LOBE_DEG.value, 0.0)
            open_sd[:, column] = np.hypot(comes, np.where(worn, numbers.WORN_LOBE_SD_DEG.value, 0.0))
            open_sd[:, column] = np.where(stand, numbers.FREE_CAM_SD_DEG.value, open_sd[:, column])
            valves = shared.setdefault(f"open:valves:{cam}", np.zeros(shape))
            valves[:, column] = states.cam_number("unknown_valves_sd_deg", cam)
            timing = shared.setdefault(f"open:timing:{shaft}", np.zeros(shape))
            timing[:, column] = np.where(other_engine, numbers.OTHER_TIMING_SD_DEG.value, 0.0)
        return Predictions(means, open_sd, shared)


def _shaft(one: Observable) -> str:
    return one.key.rpartition(":")[2]


def _towards_middle(one: Observable) -> float:
    """A worn lobe opens late and closes early."""
    return 1.0 if one.key.split(":")[3] == "opens" else -1.0


def _of(felt: FeltCylinder, number: int, profile: EngineProfile, condition: Condition) -> list[Observable]:
    intake, exhaust = serving_cams(profile, profile.bank_of[felt.cylinder])
    timing = profile.valve_timing or USUAL_TIMING
    found = []
    for shaft, end, corner in felt.corners:
        cam, place_deg = intake if shaft == "intake" else exhaust, timing_deg(timing, shaft, end)
        if cam is not None:
            found.append(
                Observable(
                    kind=Corners.name,
                    key=f"{number}:{felt.segment}:{felt.cylinder}:{end}:{shaft}",
                    value=corner.angle_deg - place_deg,
                    own_sd=corner.own_sd_deg,
                    factors=_factors(felt.cylinder, shaft, cam, profile),
                    words=_words(felt.cylinder, f"{shaft} {end}", corner, place_deg),
                    cam=cam,
                    cylinder=felt.cylinder,
                    condition=condition,
                )
            )
    return found


def _factors(cylinder: int, shaft: str, cam: str, profile: EngineProfile) -> dict[str, float]:
    known = profile.valve_timing is not None
    timing = (numbers.TIMING_SD_DEG if known else numbers.TIMING_UNKNOWN_SD_DEG).value
    return {
        f"corner:{shaft}": numbers.CORNER_SHARED_SD_DEG.value,
        f"timing:{shaft}": timing,
        f"lobe:{cylinder}:{shaft}": numbers.LOBE_BUILD_SD_DEG.value,
        "build:drive": numbers.BUILD_CHAIN_SD_DEG.value,
        f"build:{cam}": numbers.BUILD_CAM_SD_DEG.value,
    }


def _words(cylinder: int, what: str, corner: Corner, place_deg: float) -> str:
    by_hand = ", set by hand" if corner.by_hand else ""
    return f"Cylinder {cylinder}: {what} {angle_words(corner.angle_deg - place_deg, corner.u95_deg)}{by_hand}"


def agreeing_corners(observables: Sequence[Observable], misfits: Floats) -> int:
    """How many corners fit a state within two standard deviations; ``misfits`` of shape
    (observables,), unitless."""
    return sum(
        one.kind == Corners.name and abs(off) <= NORMAL_95 for one, off in zip(observables, misfits, strict=True)
    )
