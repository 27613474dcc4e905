"""Disturbances and what they speak for: lost pulses for a sensor or its wiring, added ones for induction, cylinders
that press too little for their seal, or for the cams of their bank."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from scipy.special import ndtr

from phasko.core import numbers
from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.faults import SEVERAL, Branch
from phasko.core.measure import CaptureMeasurement
from phasko.core.measurement import NORMAL_95
from phasko.core.words import cam_name

__all__ = ["Disturbance", "disturbances", "log_chance"]


@dataclass(frozen=True, slots=True)
class Disturbance:
    """What is not as in a sound engine: the fault that explains it, of which cam or cylinders, the measurement in
    words, and the chance that a sound engine shows it."""

    fault: FaultName
    cam: str | None
    words: str
    cylinders: tuple[int, ...] = ()
    chance: float = numbers.DISTURBED_BY_CHANCE.value


def disturbances(captures: Sequence[CaptureMeasurement], profile: EngineProfile) -> tuple[Disturbance, ...]:
    """What repeats or lasts; one or two odd pulses in a capture are noise, which is listed but speaks for nothing."""
    found: dict[tuple[str, str | None], Disturbance] = {}
    for capture in captures:
        for one in (*_dead(capture, profile), *_pulses(capture, profile), *_unsealed(capture)):
            found.setdefault((one.fault, one.cam), one)
    return tuple(found.values())


def _dead(capture: CaptureMeasurement, profile: EngineProfile) -> list[Disturbance]:
    """Signals that are not there at all although others of the same capture show that the engine turned."""
    found = []
    if capture.turned:
        for cam_id in capture.silent_cams:
            words = f"{_cam_words(cam_id, profile)} gives no pulses although the crank turns"
            found.append(Disturbance("cam_sensor_fault", cam_id, words))
    if any(problem.code == "no_crank_signal" for problem in capture.problems):
        hooked = {channel.description.cam for channel in capture.recording.with_role("cam")}
        if capture.turned or hooked - set(capture.silent_cams):
            words = "The crank signal is flat although the engine turns"
            found.append(Disturbance("crank_sensor_fault", None, words))
    return found


def _pulses(capture: CaptureMeasurement, profile: EngineProfile) -> list[Disturbance]:
    least = numbers.DISTURBED_LEAST_PULSES.value
    found = []
    for signal in dict.fromkeys(event.signal for event in capture.events):
        own = [event for event in capture.events if event.signal == signal]
        lost = sum(event.count for event in own if event.kind == "missing")
        silent = [event for event in own if event.kind == "silent"]
        if lost >= least or silent:
            fault, cam = _shaft(signal, capture.engine)
            name = _cam_words(signal, profile) if fault == "cam_sensor_fault" else "The crank signal"
            gone = sum(event.to_s - event.time_s for event in silent)
            words = f"{name} is gone for {gone:.2f} s" if silent else f"{name} loses pulses, {lost} in this capture"
            found.append(Disturbance(fault, cam, words))
    added = sum(event.count for event in capture.events if event.kind == "extra")
    if added >= least:
        found.append(Disturbance("induced_pulses", None, f"{added} pulses too many in this capture"))
    return found


def _unsealed(capture: CaptureMeasurement) -> list[Disturbance]:
    """Cylinders that press too little in every cycle, by more than the measurement may be off."""
    if capture.compression is None:
        return []
    low = [
        c
        for c in capture.compression.cylinders
        if c.state in ("weak", "dead")
        and c.relative is not None
        and c.u95 is not None
        and c.relative + c.u95 < numbers.SEAL_SPEAKS_BELOW.value
    ]
    if not low:
        return []
    each = [f"{c.cylinder} at {100 * (c.relative or 0.0):.0f} ± {100 * (c.u95 or 0.0):.0f} %" for c in low]
    words = f"Cylinder {', '.join(each)} of the healthy ones' compression while cranking"
    clearest = max((1.0 - (c.relative or 0.0)) / (c.u95 or 1.0) * NORMAL_95 for c in low)
    chance = max(2.0 * float(ndtr(-clearest)), numbers.WEAK_BY_CHANCE.value)
    return [Disturbance("weak_cylinder", None, words, tuple(c.cylinder for c in low), chance)]


def _shaft(signal: str, engine: EngineProfile) -> tuple[FaultName, str | None]:
    """Which sensor a lost pulse speaks against; a further wheel counts with its shaft."""
    if signal == "crank" or any(w.id == signal and w.turns_with == "crank" for w in engine.aux_wheels):
        return "crank_sensor_fault", None
    turns_with = next((w.turns_with for w in engine.aux_wheels if w.id == signal), signal)
    return "cam_sensor_fault", turns_with


def _cam_words(signal: str, profile: EngineProfile) -> str:
    cam = profile.cam(signal)
    return f"The {cam_name(cam, profile)[0].lower()}{cam_name(cam, profile)[1:]} signal" if cam else f"Signal {signal}"


_SHOW_THEMSELVES = ("cam_sensor_fault", "crank_sensor_fault", "induced_pulses", "weak_cylinder")


def log_chance(fault: FaultName, branch: Branch, disturbed: Sequence[Disturbance]) -> float:
    """ln of how well a fault explains the disturbances: each one that it leaves unexplained costs the chance that a
    sound engine shows it, and a fault that shows itself as one, without its own, the chance that it did not."""
    left = [one for one in disturbed if not _explains(fault, branch, one)]
    unseen = len(left) == len(disturbed) and fault in _SHOW_THEMSELVES
    cost = sum(math.log(one.chance) for one in left)
    return cost + (math.log(numbers.DISTURBANCE_UNSEEN.value) if unseen else 0.0)


def _explains(fault: FaultName, branch: Branch, one: Disturbance) -> bool:
    place = branch.place
    if one.fault == "weak_cylinder":
        return _explains_weakness(fault, branch, one.cylinders)
    return fault == one.fault and (one.cam is None or not place.cams or one.cam in place.cams)


def _explains_weakness(fault: FaultName, branch: Branch, cylinders: tuple[int, ...]) -> bool:
    """By the seal of just these cylinders, or, where a whole bank is missing, by that bank's cams far out of time."""
    own = bool(branch.place.cylinders) and set(branch.place.cylinders) == set(cylinders)
    if fault == "weak_cylinder":
        return own or (branch.place.title == SEVERAL and len(cylinders) > 1)
    moved = max((abs(deg) for deg in branch.state.valves_deg.values()), default=0.0)
    return fault in ("chain_jumped", "cam_slipped") and own and moved >= numbers.DEAD_BANK_LEAST_DEG.value
