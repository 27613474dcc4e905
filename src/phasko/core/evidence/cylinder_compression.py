"""Relative compression of every cylinder: its seal, its valves, and the cams of its bank."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.compression import Compression
from phasko.core.compression.separation import found_healthy
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.filling import cylinder_compression
from phasko.core.engine.state import ALWAYS, Condition, EngineState
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
from phasko.core.uncertainty import NORMAL_95

__all__ = ["CylinderCompressionKind", "HumpCount", "pressed", "relative_pressures"]


class CylinderCompressionKind:
    name = "compression"
    title = "Cylinders"
    second_kind = False

    def observe(self, job: JobEvidence) -> Observed:
        """One value per cylinder and capture where cylinders have names. Captures of one engine share how its
        cylinders are built. Where a person chose a stretch, the whole capture speaks too: what was left out never
        improves the call. A cylinder that was taken out on purpose says nothing."""
        found: list[Observable] = []
        left: list[NotCounted] = []
        for number, capture in enumerate(job.captures):
            judged = [c for c in (capture.compression, capture.compression_whole) if c is not None]
            for part, compression in enumerate(judged):
                if compression.identified_by is None:
                    continue
                taken_out = capture.recording.description.taken_out
                found += _values(compression, capture, f"{number}:{part}", taken_out)
                if taken_out is not None:
                    left.append(NotCounted(f"Cylinder {taken_out}'s compression", "it was taken out on purpose"))
        return Observed(tuple(found), (), tuple(dict.fromkeys(left)))

    def predict(self, observables: Sequence[Observable], states: StateTable) -> Predictions:
        """Each cylinder's pressure over the median of those that were found healthy, as it is measured. Which those are
        the measurement says: near the limit a prediction would change sides, and with it the measure of all. How much
        displaced cams cost differs from engine to engine, in steps so that like states share a covariance."""
        order = states.profile.firing_order
        column_of = {cylinder: i for i, cylinder in enumerate(order)}
        healthy = _found_healthy(observables)
        displaced = states.where("valves_deg") | states.where("slack_deg") | states.where("phaser_deg")
        lawful = displaced if len(states.profile.banks) > 1 else np.zeros(len(states), dtype=bool)
        shape = (len(states), len(observables))
        means, open_sd, law = np.empty(shape), np.zeros(shape), np.zeros(shape)
        shared = {"law:cylinders": law}
        for column, one in enumerate(observables):
            relative = _over_each(states, one.condition, [column_of[c] for c in sorted(healthy[_where(one)])])
            mean = relative[:, column_of[one.cylinder or 0]]
            means[:, column] = mean
            steps = np.round(20.0 * numbers.CYLINDER_LAW_SHARE.value * (1.0 - mean)) / 20.0
            law[:, column] = np.where(lawful, steps, 0.0)
            low = relative.min(axis=1) < numbers.GAUGE_LOW_SHARE.value
            open_sd[:, column] = np.where(low, numbers.CYLINDER_LOW_SD.value, 0.0)
            own = shared.setdefault(f"open:seal:{one.cylinder}", np.zeros(shape))
            own[:, column] = states.number("unknown_seal_sd")
        return Predictions(means, open_sd, shared)


def _over_each(states: StateTable, condition: Condition, healthy: Sequence[int]) -> Floats:
    """Pressures in every state over the median of some cylinders; where these compress nothing the others are far
    above it."""
    made = states.pressed(condition)
    median = np.median(made[:, healthy], axis=1, keepdims=True)
    return np.asarray(np.minimum(made / np.maximum(median, 1e-3), _FAR_ABOVE))


def _where(one: Observable) -> str:
    """The capture, and the part of it, from which a value comes."""
    return one.key.rpartition(":")[0]


def _found_healthy(observables: Sequence[Observable]) -> dict[str, frozenset[int]]:
    """The cylinders over whose median the pressures of each capture were taken."""
    read: dict[str, dict[int, float]] = {}
    for one in observables:
        read.setdefault(_where(one), {})[one.cylinder or 0] = one.value
    return {where: _healthy(pressures) for where, pressures in read.items()}


def _healthy(pressures: Mapping[int, float]) -> frozenset[int]:
    """Those over which the measurement takes all pressures; the strongest where none compresses at all."""
    kept = found_healthy(np.array(list(pressures.values())))
    above = frozenset(cylinder for cylinder, healthy in zip(pressures, kept.tolist(), strict=True) if healthy)
    return above or frozenset([max(pressures, key=lambda c: pressures[c])])


def _over(pressures: Mapping[int, float], healthy: frozenset[int]) -> dict[int, float]:
    """Pressures over the median of some cylinders; where these compress nothing the others are far above it."""
    kept = sorted(pressures[c] for c in healthy)
    middle = len(kept) // 2
    median = kept[middle] if len(kept) % 2 else 0.5 * (kept[middle - 1] + kept[middle])
    return {cylinder: min(p / max(median, 1e-3), _FAR_ABOVE) for cylinder, p in pressures.items()}


_FAR_ABOVE = 5.0


def _values(
    compression: Compression, capture: CaptureMeasurement, where: str, taken_out: int | None
) -> list[Observable]:
    found = []
    for one in compression.cylinders:
        if one.relative is None or one.u95 is None or one.cylinder == taken_out:
            continue
        size = f"{100 * one.relative:.0f} ± {100 * one.u95:.0f} %"
        found.append(
            Observable(
                kind=CylinderCompressionKind.name,
                key=f"{where}:{one.cylinder}",
                value=one.relative,
                own_sd=one.u95 / NORMAL_95,
                factors={f"build:cylinder:{one.cylinder}": numbers.CYLINDER_BUILD_SD.value},
                words=f"Cylinder {one.cylinder} compresses {size} of the healthy ones",
                cylinder=one.cylinder,
                condition=condition_of(capture, False),
            )
        )
    return found


def relative_pressures(pressures: Mapping[int, float]) -> dict[int, float]:
    """Pressures over the median of the healthy ones, those above half of the second highest; over the strongest where
    that leaves none."""
    return _over(pressures, _healthy(pressures))


def pressed(state: EngineState, profile: EngineProfile, condition: Condition = ALWAYS) -> dict[int, float]:
    """Peak of every cylinder over that of a healthy one in that state."""
    if not state.cams_turn:
        if state.seal and not state.unknown_seal_sd:
            return {cylinder: state.seal.get(cylinder, 1.0) for cylinder in profile.firing_order}
        # Cams that stand let some cylinders compress and others not; the middle is what is least wrong.
        return dict.fromkeys(profile.firing_order, 0.5)
    moved = state.valves_deg or state.slack_deg or state.phaser_deg or state.sprocket_deg or state.hub_deg
    if not moved and not state.still and not state.seal:
        return dict.fromkeys(profile.firing_order, state.seal_of_all)
    valves = {cam.id: state.valves_of(cam.id, condition) for cam in profile.cams} if moved else {}
    made = cylinder_compression(profile, valves, state.still, state.seal)
    return {cylinder: state.seal_of_all * p for cylinder, p in made.items()}


class HumpCount:
    """How many cylinders compress per 720 degrees, where none of them has a name."""

    name = "hump_count"
    title = "Hump count"
    second_kind = False

    def observe(self, job: JobEvidence) -> Observed:
        found = []
        for number, capture in enumerate(job.captures):
            one = capture.compression
            if one is None or one.identified_by is not None or one.events_per_cycle is None:
                continue
            words = f"{one.events_per_cycle} of {one.expected_events} compressions counted per 720 degrees"
            found.append(
                Word(
                    kind=self.name,
                    key=str(number),
                    subject="humps",
                    answer=str(one.events_per_cycle),
                    words=words,
                    condition=condition_of(capture, False),
                )
            )
        return Observed((), tuple(found[:1]))

    def chance(self, word: Word, state: EngineState, profile: EngineProfile) -> float:
        """High for the count that the state predicts; a state that leaves cylinders open allows any."""
        wrong = numbers.HUMPS_WRONG_BY_CHANCE.value
        if state.unknown_seal_sd or (not state.cams_turn and not state.seal):
            return 1.0 / (len(profile.firing_order) + 1)
        relative = relative_pressures(pressed(state, profile))
        seen = sum(p >= numbers.COMPRESSION_DEAD_BELOW.value for p in relative.values())
        return 1.0 - wrong if seen == int(word.answer) else wrong
