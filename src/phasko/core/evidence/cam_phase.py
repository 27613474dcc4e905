"""Cam signals against the crank signal: one value per cam, capture and condition."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from phasko.core import numbers
from phasko.core.angles import wrap_cycle
from phasko.core.arrays import Floats
from phasko.core.capture.contradictions import Contradiction, contradictions
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state_table import StateTable
from phasko.core.evidence.observable import JobEvidence, NotCounted, Observable, Observed, Predictions, condition_of
from phasko.core.phase.banks import BankDifference
from phasko.core.phase.reading import CamReading
from phasko.core.phase.reference import CamReference
from phasko.core.uncertainty import NORMAL_95
from phasko.core.words import angle_words, cam_name, lower_first

__all__ = ["CamPhase"]


class CamPhase:
    name = "cam_phase"
    title = "Cam against crank"
    second_kind = False

    def observe(self, job: JobEvidence) -> Observed:
        """Offsets in the wheel frame. They share the index's error, their target's error in every capture, and how
        healthy engines of one kind differ (all cams of a drive together, and cam by cam). A cam that captures of one
        condition read differently says nothing: the mean of two contradictory readings is neither."""
        found: list[Observable] = []
        left: list[NotCounted] = []
        disagree = contradictions(job.captures)
        for number, capture in enumerate(job.captures):
            for reading in capture.cams:
                reason = _not_counted(reading, number, capture, disagree)
                if reason is not None:
                    left.append(NotCounted(f"{cam_name(reading.cam, job.profile)} in {_file(capture)}", reason))
                    continue
                if reading.bank is not None and not reading.bank.from_profile:
                    found.append(_between_banks(reading, reading.bank, number, capture, job.profile))
                if reading.offset is not None:
                    found.append(_observable(reading, number, capture, job.profile))
            found += _among_cams(capture, number, job.profile)
            found += _after_sweeps(capture, number, job.profile)
        return Observed(tuple(_in_one_place(found)), (), tuple(left))

    def predict(self, observables: Sequence[Observable], states: StateTable) -> Predictions:
        """Valves plus signal shift, minus what the crank wheel is late: offsets are read against the wheel. Between
        banks everything common cancels. Cams that a broken drive leaves turning may stand anywhere."""
        means = np.column_stack([self._mean(one, states) for one in observables])
        comes = [states.coming_and_going(one.cam or "", one.condition)[:, 1] for one in observables]
        each = states.number("unknown_cam_sd_deg")
        free = np.where(states.number("cams_turn") > 0.0, 0.0, numbers.FREE_CAM_SD_DEG.value)
        shared: dict[str, Floats] = {"open:common": np.zeros(means.shape)}
        for column, one in enumerate(observables):
            if one.against is None:
                shared["open:common"][:, column] = states.number("unknown_common_sd_deg")
            for cam, sign in ((one.cam or "", 1.0), (one.against, -1.0)):
                if cam is None:
                    continue
                for name, sd in (
                    (f"open:{cam}", np.where(each > 0.0, each, free if sign > 0 else 0.0)),
                    (f"open:valves:{cam}", states.cam_number("unknown_valves_sd_deg", cam)),
                ):
                    shared.setdefault(name, np.zeros(means.shape))[:, column] = sign * sd
        return Predictions(means, np.column_stack(comes), shared)

    def _mean(self, one: Observable, states: StateTable) -> Floats:
        mean = states.readings(one.cam or "", one.condition)
        return mean if one.against is None else np.asarray(mean - states.readings(one.against, one.condition))


def _not_counted(
    reading: CamReading, number: int, capture: CaptureMeasurement, disagree: Sequence[Contradiction]
) -> str | None:
    if any(one.concerns(number, reading) for one in disagree):
        return "captures of one condition contradict each other here"
    if reading.swapped:
        return "its channel seems to be swapped with another one"
    if capture.doubtful(reading):
        return "its edges disagree with each other and the crank turns slowly: teeth may be miscounted"
    return None


def _modulo(reading: CamReading) -> float | None:
    """The pitch of places at which the offset may be; ``None`` where the next one lies further than faults reach."""
    modulo = reading.ambiguous_modulo_deg
    return None if modulo is None or modulo >= 2 * numbers.SHIFT_MAX_DEG.value else modulo


def _in_one_place(found: Sequence[Observable]) -> list[Observable]:
    """The same values; those known modulo the same angle each at the place nearest to the first of them. Every capture
    gives its smallest offset, so that near half of that angle one reads +15 degrees and the next -15; the judgement
    then moves all of them by the same multiple."""
    first: dict[float, float] = {}
    placed = []
    for one in found:
        modulo = one.modulo_deg
        if modulo is None:
            placed.append(one)
            continue
        away = round((first.setdefault(modulo, one.value) - one.value) / modulo)
        placed.append(replace(one, value=one.value + away * modulo))
    return placed


def _observable(reading: CamReading, number: int, capture: CaptureMeasurement, profile: EngineProfile) -> Observable:
    cam, offset = reading.cam, reading.offset
    assert offset is not None
    factors = {
        **_reference_factors(reading.reference),
        f"state:{reading.segment}:{cam.id}": numbers.STATE_SD_DEG.value,
        f"capture:{number}:{cam.id}": numbers.CAPTURE_SD_DEG.value,
    }
    value = offset.offset.value
    moved, centre, width = _commanded(reading, capture)
    if moved:
        value -= moved * centre
        factors[f"commanded:{number}:{cam.id}"] = width
    modulo = _modulo(reading)
    beside = f", or a multiple of {modulo:g}° beside that" if modulo is not None else ""
    words = f"{cam_name(cam, profile)} reads {angle_words(offset.offset.value, offset.total_u95_deg)}{beside}"
    return Observable(
        kind=CamPhase.name,
        key=f"{number}:{reading.segment}:{cam.id}",
        value=value,
        own_sd=offset.offset.u95 / NORMAL_95,
        factors=factors,
        words=words,
        cam=cam.id,
        condition=condition_of(capture, reading.segment == "running"),
        modulo_deg=modulo,
    )


def _reference_factors(reference: CamReference) -> dict[str, float]:
    """Errors of what a cam is compared with. Of known good engines the range says how healthy ones differ, from three
    on; with fewer it is what is usual, as beside a profile. Cams of one drive share a part of that."""
    drive, own = numbers.BUILD_CHAIN_SD_DEG.value, numbers.BUILD_CAM_SD_DEG.value
    target = reference.edges_u95_deg / NORMAL_95
    if reference.spread_sd_deg is not None:
        # The range holds the spread of builds; what is left of it is how well the middle is known.
        target = math.sqrt(max(target**2 - reference.spread_sd_deg**2, 0.0))
        if reference.engines >= numbers.RANGE_TELLS_BUILD.value:
            share = min(1.0, reference.spread_sd_deg / math.hypot(drive, own))
            drive, own = share * drive, share * own
    return {
        "index": reference.index_u95_deg / NORMAL_95,
        f"target:{reference.cam.id}": target,
        "build:drive": drive,
        f"build:{reference.cam.id}": own,
    }


def _among_cams(capture: CaptureMeasurement, number: int, profile: EngineProfile) -> list[Observable]:
    """Every cam against the first one of the same segment, where the profile knows their edges but nothing tells where
    the wheel's index stands: what is common to all cancels."""
    adrift = [
        r
        for r in capture.cams
        if r.offset is None
        and r.relative is not None
        and not r.swapped
        and r.reference.source == "profile"
        and r.cam.id in profile.reference_cams
    ]
    found = []
    for reading in adrift:
        first = next(r for r in adrift if r.segment == reading.segment)
        if reading is first:
            continue
        assert reading.relative is not None and first.relative is not None
        apart = wrap_cycle(reading.relative.offset.value - first.relative.offset.value)
        own = math.hypot(reading.relative.offset.u95, first.relative.offset.u95) / NORMAL_95
        factors = {}
        for one, sign in ((reading, 1.0), (first, -1.0)):
            factors[f"target:{one.cam.id}"] = sign * one.reference.edges_u95_deg / NORMAL_95
            factors[f"build:{one.cam.id}"] = sign * numbers.BUILD_CAM_SD_DEG.value
            factors[f"capture:{number}:{one.cam.id}"] = sign * numbers.CAPTURE_SD_DEG.value
        across = reading.cam.bank != first.cam.bank and reading.cam.shaft == first.cam.shaft
        other = "the other bank" if across else f"the {lower_first(cam_name(first.cam, profile))}"
        total = NORMAL_95 * math.hypot(own, *factors.values())
        found.append(
            Observable(
                kind=CamPhase.name,
                key=f"{number}:{reading.segment}:{reading.cam.id}:{first.cam.id}",
                value=apart,
                own_sd=own,
                factors=factors,
                words=f"{cam_name(reading.cam, profile)} reads {angle_words(apart, total)} against {other}",
                cam=reading.cam.id,
                against=first.cam.id,
                condition=condition_of(capture, reading.segment == "running"),
            )
        )
    return found


def _after_sweeps(capture: CaptureMeasurement, number: int, profile: EngineProfile) -> list[Observable]:
    """Where swept cams came to rest again, beside where they rested before, with the errors of that reading."""
    found = []
    for sweep in capture.sweeps:
        own = [r for r in capture.cams if r.cam.id == sweep.cam.id and r.offset is not None and not r.swapped]
        if not own or sweep.returned is None or not sweep.absolute:
            continue
        rest = _observable(own[-1], number, capture, profile)
        place = sweep.returned.place_deg
        found.append(
            replace(
                rest,
                key=f"{number}:swept:{sweep.cam.id}",
                value=rest.value + place - sweep.start.place_deg,
                own_sd=math.hypot(sweep.returned.u95_deg / NORMAL_95, numbers.SWEEP_SETTLES_SD_DEG.value),
                words=f"{cam_name(sweep.cam, profile)} reads {angle_words(place, 1.0)} after its sweep",
                condition=replace(rest.condition, phasers="swept"),
            )
        )
    return found


def _between_banks(
    reading: CamReading, bank: BankDifference, number: int, capture: CaptureMeasurement, profile: EngineProfile
) -> Observable:
    """One bank's cam against the other's, where neither the wheel's place nor the edges are known: half a measurement,
    and told so; the targets of both banks are only assumed to be alike."""
    default = numbers.DEFAULT_REFERENCE_U95_DEG.value
    factors = {}
    for cam_id, sign in ((bank.cam, 1.0), (bank.other, -1.0)):
        cam = profile.cam(cam_id)
        edges = default if cam is None or cam.edges_u95_deg is None else cam.edges_u95_deg
        factors[f"target:{cam_id}"] = sign * (edges / NORMAL_95 + numbers.BANK_ALIKE_SD_DEG.value)
        factors[f"build:{cam_id}"] = sign * numbers.BUILD_CAM_SD_DEG.value
    reads = angle_words(bank.offset_deg, bank.total_u95_deg)
    return Observable(
        kind=CamPhase.name,
        key=f"{number}:{reading.segment}:{bank.cam}:{bank.other}",
        value=bank.offset_deg,
        own_sd=bank.u95_deg / NORMAL_95,
        factors=factors,
        words=f"{cam_name(reading.cam, profile)} reads {reads} against the other bank, both targets assumed alike",
        cam=bank.cam,
        against=bank.other,
        condition=condition_of(capture, reading.segment == "running"),
    )


def _commanded(reading: CamReading, capture: CaptureMeasurement) -> tuple[float, float, float]:
    """(chance that the phaser was moved on purpose, centre of its travel, width that leaves to the reading)."""
    phaser = reading.cam.phaser
    known = capture.recording.description.phasers
    if phaser is None or known in ("parked", "unplugged", "sweep") or reading.segment != "running":
        return 0.0, 0.0, 0.0
    # A lead on the solenoid's wire shows that it was not driven while the cam was read.
    if any(sweep.cam.id == reading.cam.id and sweep.commands.source == "channel" for sweep in capture.sweeps):
        return 0.0, 0.0, 0.0
    chance = numbers.PHASER_MOVED_ACTIVE.value if known == "active" else numbers.PHASER_MOVED_RUNNING.value
    low, high = phaser.authority_deg
    return chance, (low + high) / 2, chance**0.5 * (high - low) / 2


def _file(capture: CaptureMeasurement) -> str:
    return capture.recording.file.removesuffix(".capture.json")
