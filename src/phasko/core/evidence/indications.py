"""What is not as in a sound engine, beside the cams' places, and what it speaks for: lost pulses for a sensor or its
wiring, added ones for induction, cylinders that press too little for their seal or for the cams of their bank, odd
breathing for a valve, a blocked way or valves far out of time, a spark outside its window for the ignition."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from scipy.special import ndtr

from phasko.core import numbers
from phasko.core.breathing import odd_words
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.compression import CylinderCompression
from phasko.core.documents.analysis import FaultName, RoadTestResult
from phasko.core.documents.engine import EngineProfile
from phasko.core.evidence import compression_change
from phasko.core.explanations import SEVERAL, Branch
from phasko.core.uncertainty import NORMAL_95
from phasko.core.words import cam_name

__all__ = ["Disturbance", "could_show", "disturbances", "explains", "log_chance"]


@dataclass(frozen=True, slots=True)
class Disturbance:
    """What is not as in a sound engine: the fault that explains it, of which cam or cylinders, the measurement in
    words, and the chance that a sound engine shows it. ``also`` explain it too, and so do valves that are out of time
    by ``valves_deg``. Two of one fault, cam and ``kind`` are one: another capture of it is no new witness.
    Of weak cylinders: the cams that move their intake valves, and the ``lowest`` of them against the healthy ones."""

    fault: FaultName
    cam: str | None
    words: str
    cylinders: tuple[int, ...] = ()
    chance: float = numbers.DISTURBED_BY_CHANCE.value
    also: tuple[FaultName, ...] = ()
    valves_deg: float | None = None
    kind: str = ""
    intake_cams: tuple[str, ...] = ()
    lowest: float = 0.0


def disturbances(
    captures: Sequence[CaptureMeasurement], profile: EngineProfile, roads: Sequence[RoadTestResult] = ()
) -> tuple[Disturbance, ...]:
    """What repeats or lasts; one or two odd pulses in a capture are noise, which is listed but speaks for nothing."""
    found: dict[tuple[str, str | None, str], Disturbance] = {}
    for capture in captures:
        every = (
            *_dead(capture, profile),
            *_pulses(capture, profile),
            *_unsealed(capture, profile),
            *_odd_breathing(capture),
            *_manifolds(capture),
            *_sparks(capture, profile),
        )
        for one in every:
            found.setdefault((one.fault, one.cam, one.kind), one)
    for one in _roads(roads):
        found.setdefault((one.fault, one.cam, one.kind), one)
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
    """Pulses lost and added; while the crank rocks, its teeth are miscounted and nothing is said of any sensor."""
    if capture.rocks:
        return []
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


def _unsealed(capture: CaptureMeasurement, profile: EngineProfile) -> list[Disturbance]:
    """Cylinders that press too little in every cycle, by more than the measurement may be off. Where a person chose a
    stretch, the whole capture speaks too: what was left out never improves the call. A cylinder that was taken out on
    purpose says nothing; the others do."""
    judged = [c for c in (capture.compression, capture.compression_whole) if c is not None]
    taken_out = capture.recording.description.taken_out
    found = [[c for c in one.cylinders if _low(c) and c.cylinder != taken_out] for one in judged]
    low = max(found, key=lambda cylinders: (len(cylinders), -sum(c.relative or 0.0 for c in cylinders)), default=[])
    if not low:
        return []
    each = [f"{c.cylinder} at {100 * (c.relative or 0.0):.0f} ± {100 * (c.u95 or 0.0):.0f} %" for c in low]
    words = f"Cylinder {', '.join(each)} of the healthy ones' compression while cranking"
    clearest = max((1.0 - (c.relative or 0.0)) / (c.u95 or 1.0) * NORMAL_95 for c in low)
    chance = max(2.0 * float(ndtr(-clearest)), numbers.WEAK_BY_CHANCE.value)
    cylinders = tuple(c.cylinder for c in low)
    banks = {bank.bank for bank in profile.banks if set(bank.cylinders) & set(cylinders)}
    intake = tuple(
        cam.id for cam in profile.cams if cam.shaft in ("intake", "single") and (not profile.banks or cam.bank in banks)
    )
    lowest = min(c.relative or 0.0 for c in low)
    return [Disturbance("weak_cylinder", None, words, cylinders, chance, intake_cams=intake, lowest=lowest)]


def _low(cylinder: CylinderCompression) -> bool:
    return (
        cylinder.state in ("weak", "dead")
        and cylinder.relative is not None
        and cylinder.u95 is not None
        and cylinder.relative + cylinder.u95 < numbers.COMPRESSION_SPEAKS_BELOW.value
    )


def _odd_breathing(capture: CaptureMeasurement) -> list[Disturbance]:
    """Pulses that differ once per cycle at a cylinder whose compression is good, or not known."""
    low = _low_cylinders(capture)
    for pulses in capture.pulses:
        for odd, words in zip(pulses.odd, odd_words(pulses), strict=True):
            if not odd.suspects or odd.suspects[0][1] < numbers.PULSE_BLAMED.value:
                continue
            cylinder = odd.suspects[0][0]
            if cylinder in low:
                continue
            chance = numbers.PULSE_BY_CHANCE.value
            also: tuple[FaultName, ...] = () if cylinder in _good_cylinders(capture) else ("weak_cylinder",)
            return [Disturbance("valve_train", None, words.rstrip("."), (cylinder,), chance, also)]
    return []


def _low_cylinders(capture: CaptureMeasurement) -> set[int]:
    if capture.compression is None:
        return set()
    return {*capture.compression.dead, *capture.compression.weak}


def _good_cylinders(capture: CaptureMeasurement) -> set[int]:
    if capture.compression is None:
        return set()
    return {c.cylinder for c in capture.compression.cylinders if c.state == "good"}


def _manifolds(capture: CaptureMeasurement) -> list[Disturbance]:
    """Push at the throttle, pressure in the exhaust."""
    found = []
    for one in capture.manifolds:
        size = f"{1000 * one.mean_bar:+.0f} ± {1000 * one.u95_bar:.0f} mbar"
        if one.state == "pushes":
            far = numbers.PUSH_BACK_LEAST_DEG.value
            words = f"The engine pushes at the throttle ({size}) instead of sucking"
            chance = numbers.PUSH_BY_CHANCE.value
            found.append(Disturbance("something_else", None, words, (), chance, valves_deg=far, kind="push"))
        if one.state == "back_pressure":
            words = f"The exhaust stands under pressure while cranking ({size})"
            found.append(Disturbance("exhaust_restricted", None, words, (), numbers.BACK_PRESSURE_BY_CHANCE.value))
    return found


def _sparks(capture: CaptureMeasurement, profile: EngineProfile) -> list[Disturbance]:
    """Spark outside the profile's window, by more than the measurement may be off. A distributor that was turned moves
    its own cam signal as well."""
    turned = profile.drive is not None and profile.drive.type == "distributor_gear"
    for one in capture.firings:
        if one.state in ("early", "late") and one.spark_deg is not None and one.spark_u95_deg is not None:
            side = "before" if one.spark_deg < 0 else "after"
            size = f"{abs(one.spark_deg):.1f} ± {one.spark_u95_deg:.1f}° {side} TDC"
            words = f"Cylinder {one.cylinder or one.nearest} sparks {size}, too {one.state} for the profile's window"
            also: tuple[FaultName, ...] = ("cam_signal_shifted", "cam_slipped") if turned else ()
            return [Disturbance("ignition_mistimed", None, words, (), numbers.SPARK_OUT_BY_CHANCE.value, also)]
    return []


def _roads(roads: Sequence[RoadTestResult]) -> list[Disturbance]:
    """What the newest road test that says anything finds."""
    chance, far = numbers.ROAD_BY_CHANCE.value, numbers.CAUTION_LEAST_DEG.value
    for road in reversed(roads):
        words = f"On the road: {road.text[0].lower()}{road.text[1:].rstrip('.')}"
        if road.state == "intake_restricted":
            return [Disturbance("intake_restricted", None, words, (), chance)]
        if road.state in ("breathing", "low"):
            also: tuple[FaultName, ...] = ("intake_restricted", "valve_train")
            also = (*also, "something_else") if road.state == "low" else also
            return [
                Disturbance(
                    fault="exhaust_restricted",
                    cam=None,
                    words=words,
                    cylinders=(),
                    chance=chance,
                    also=also,
                    valves_deg=far,
                    kind="road",
                )
            ]
        if road.state == "air_flow_meter":
            return [Disturbance("something_else", None, words, (), chance, kind="air meter")]
        if road.state == "breathes":
            return []
    return []


def _shaft(signal: str, engine: EngineProfile) -> tuple[FaultName, str | None]:
    """Which sensor a lost pulse speaks against; a further wheel counts with its shaft."""
    if signal == "crank" or any(w.id == signal and w.turns_with == "crank" for w in engine.aux_wheels):
        return "crank_sensor_fault", None
    turns_with = next((w.turns_with for w in engine.aux_wheels if w.id == signal), signal)
    return "cam_sensor_fault", turns_with


def _cam_words(signal: str, profile: EngineProfile) -> str:
    cam = profile.cam(signal)
    return f"The {cam_name(cam, profile)[0].lower()}{cam_name(cam, profile)[1:]} signal" if cam else f"Signal {signal}"


def could_show(captures: Sequence[CaptureMeasurement], roads: Sequence[RoadTestResult]) -> frozenset[FaultName]:
    """The faults that would have shown themselves in what was measured."""
    found: set[FaultName] = set()
    if any(capture.turned for capture in captures):
        found |= {"cam_sensor_fault", "crank_sensor_fault", "induced_pulses"}
    judged = [one for c in captures for one in (c.compression, c.compression_whole) if one is not None]
    if any(one.identified_by is not None for one in judged):
        found.add("weak_cylinder")
    if any(capture.pulses for capture in captures):
        found.add("valve_train")
    if any(capture.firings for capture in captures):
        found.add("ignition_mistimed")
    if any(road.state != "unknown" for road in roads):
        found |= {"exhaust_restricted", "intake_restricted"}
    return frozenset(found)


def log_chance(
    fault: FaultName, branch: Branch, disturbed: Sequence[Disturbance], shown: frozenset[FaultName]
) -> float:
    """ln of how well a fault explains the disturbances: each one that it leaves unexplained costs the chance that a
    sound engine shows it, and a fault that would have ``shown`` itself as one, without its own, the chance that it did
    not."""
    left = [one for one in disturbed if not explains(fault, branch, one)]
    unseen = len(left) == len(disturbed) and fault in shown
    cost = sum(math.log(one.chance) for one in left)
    return cost + (math.log(numbers.DISTURBANCE_UNSEEN.value) if unseen else 0.0)


def explains(fault: FaultName, branch: Branch, one: Disturbance) -> bool:
    """Whether an explanation accounts for a disturbance."""
    place = branch.place
    if one.fault == "weak_cylinder":
        return _explains_weakness(fault, branch, one)
    moved = max((abs(deg) for deg in branch.state.valves_deg.values()), default=0.0)
    if one.valves_deg is not None and moved >= one.valves_deg:
        return True
    if fault != one.fault and fault not in one.also:
        return False
    if one.cylinders:
        return not place.cylinders or set(one.cylinders) <= set(place.cylinders)
    return fault != one.fault or one.cam is None or not place.cams or one.cam in place.cams


def _explains_weakness(fault: FaultName, branch: Branch, one: Disturbance) -> bool:
    """By the seal of just these cylinders; where a whole bank is missing, by that bank's cams far out of time; where
    they press only a little less, by late cams that move their intake valves."""
    cylinders = one.cylinders
    own = bool(branch.place.cylinders) and set(branch.place.cylinders) == set(cylinders)
    if fault == "weak_cylinder":
        return own or (branch.place.title == SEVERAL and len(cylinders) > 1)
    late = min((branch.state.valves_deg.get(cam, 0.0) for cam in one.intake_cams), default=0.0)
    least = 1.0 + compression_change(late) - numbers.COMPRESSION_LATE_MARGIN.value
    if late > numbers.LOOK_SEEN_DEG.value and one.lowest >= least:
        return True
    moved = max((abs(deg) for deg in branch.state.valves_deg.values()), default=0.0)
    return fault in ("chain_jumped", "cam_slipped") and own and moved >= numbers.DEAD_BANK_LEAST_DEG.value
