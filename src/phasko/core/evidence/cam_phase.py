"""Cam signals against the crank signal: one value per cam and capture."""

from __future__ import annotations

from collections.abc import Sequence

from phasko.core import numbers
from phasko.core.capture.contradictions import contradictions
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.evidence.observable import Observable, Prediction
from phasko.core.phase.banks import BankDifference
from phasko.core.phase.reading import CamReading
from phasko.core.uncertainty import NORMAL_95
from phasko.core.words import angle_words, cam_name

__all__ = ["CamPhase"]


class CamPhase:
    name = "cam_phase"
    opens_covers = False

    def observe(self, captures: Sequence[CaptureMeasurement], profile: EngineProfile) -> tuple[Observable, ...]:
        """Offsets in the wheel frame. They share the index's error, their target's error in every capture, and how
        healthy engines of one kind differ (all cams of a drive together, and cam by cam). A cam that captures of one
        state read differently says nothing: the mean of two contradictory readings is neither."""
        found = []
        disagree = contradictions(captures)
        for number, capture in enumerate(captures):
            for reading in capture.cams:
                if any(one.concerns(number, reading) for one in disagree):
                    continue
                if reading.bank is not None and reading.bank.from_profile:
                    found.append(_between_banks(reading, reading.bank, number, profile))
                if reading.offset is not None and not reading.swapped and _settled(reading):
                    found.append(_observable(reading, number, capture, profile))
        return tuple(found)

    def predict(self, observable: Observable, state: EngineState) -> Prediction:
        """Valves plus signal shift, minus what the crank wheel is late: offsets are read against the wheel. Between
        banks everything common cancels."""
        cam = observable.cam or ""
        mean = state.valves_deg.get(cam, 0.0) + state.cam_signals_deg.get(cam, 0.0)
        other = observable.against
        if other is not None:
            mean -= state.valves_deg.get(other, 0.0) + state.cam_signals_deg.get(other, 0.0)
            open_sd = state.unknown_cam_sd_deg
            return Prediction(mean, {f"open:{cam}": open_sd, f"open:{other}": -open_sd} if open_sd else {})
        left_open = {}
        if state.unknown_common_sd_deg:
            left_open["open:common"] = state.unknown_common_sd_deg
        if state.unknown_cam_sd_deg:
            left_open[f"open:{cam}"] = state.unknown_cam_sd_deg
        return Prediction(mean - state.crank_wheel_deg + state.readings_deg, left_open)


def _settled(reading: CamReading) -> bool:
    """Whether the offset is one value, or the next possible one lies further than any fault moves a cam."""
    modulo = reading.ambiguous_modulo_deg
    return modulo is None or modulo >= 2 * numbers.SHIFT_MAX_DEG.value


def _observable(reading: CamReading, number: int, capture: CaptureMeasurement, profile: EngineProfile) -> Observable:
    cam, offset = reading.cam, reading.offset
    assert offset is not None
    factors = {
        "index": reading.reference.index_u95_deg / NORMAL_95,
        f"target:{cam.id}": reading.reference.edges_u95_deg / NORMAL_95,
        "build:drive": numbers.BUILD_CHAIN_SD_DEG.value,
        f"build:{cam.id}": numbers.BUILD_CAM_SD_DEG.value,
        f"state:{reading.segment}:{cam.id}": numbers.STATE_SD_DEG.value,
    }
    value = offset.offset.value
    moved, centre, width = _commanded(reading, capture)
    if moved:
        value -= moved * centre
        factors[f"commanded:{number}:{cam.id}"] = width
    words = f"{cam_name(cam, profile)} reads {angle_words(offset.offset.value, offset.total_u95_deg)}"
    return Observable(
        kind="cam_phase",
        key=f"{number}:{reading.segment}:{cam.id}",
        value=value,
        own_sd=offset.offset.u95 / NORMAL_95,
        factors=factors,
        words=words,
        cam=cam.id,
    )


def _between_banks(reading: CamReading, bank: BankDifference, number: int, profile: EngineProfile) -> Observable:
    """One bank's cam against the other's, where the wheel's place is not known: half a measurement, and told so."""
    default = numbers.DEFAULT_REFERENCE_U95_DEG.value
    factors = {}
    for cam_id, sign in ((bank.cam, 1.0), (bank.other, -1.0)):
        cam = profile.cam(cam_id)
        edges = default if cam is None or cam.edges_u95_deg is None else cam.edges_u95_deg
        factors[f"target:{cam_id}"] = sign * edges / NORMAL_95
        factors[f"build:{cam_id}"] = sign * numbers.BUILD_CAM_SD_DEG.value
    reads = angle_words(bank.offset_deg, bank.total_u95_deg)
    words = f"{cam_name(reading.cam, profile)} reads {reads} against the other bank"
    key = f"{number}:{reading.segment}:{bank.cam}:{bank.other}"
    own_sd = bank.u95_deg / NORMAL_95
    return Observable(
        kind="cam_phase",
        key=key,
        value=bank.offset_deg,
        own_sd=own_sd,
        factors=factors,
        words=words,
        cam=bank.cam,
        against=bank.other,
    )


def _commanded(reading: CamReading, capture: CaptureMeasurement) -> tuple[float, float, float]:
    """(chance that the phaser was moved on purpose, centre of its travel, width that leaves to the reading)."""
    phaser = reading.cam.phaser
    known = capture.recording.description.phasers
    if phaser is None or known in ("parked", "unplugged", "sweep"):
        return 0.0, 0.0, 0.0
    running = reading.segment == "running"
    if not running:
        return 0.0, 0.0, 0.0
    chance = numbers.PHASER_MOVED_ACTIVE.value if known == "active" else numbers.PHASER_MOVED_RUNNING.value
    low, high = phaser.authority_deg
    return chance, (low + high) / 2, chance**0.5 * (high - low) / 2
