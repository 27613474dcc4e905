"""A sensor triggered on the bench or in the car, over time and temperature: good, shrinking, erratic or flat, and back
on cooling; beside a healthy one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats, Samples
from phasko.core.signals.levels import state_levels
from phasko.core.signals.recording import Recording
from phasko.core.signals.switching import hysteresis_edges

__all__ = ["HealthSpan", "SensorHealth", "SensorVerdict", "sensor_health", "sensor_verdict"]

Health = Literal["good", "shrinking", "erratic", "flat"]


@dataclass(frozen=True, slots=True)
class HealthSpan:
    """A stretch of one state: from and to (s), the temperature there (°C: as it begins, lowest and highest; ``None``:
    not known)."""

    health: Health
    from_s: float
    to_s: float
    begins_c: float | None
    low_c: float | None
    high_c: float | None


@dataclass(frozen=True, slots=True, eq=False)
class SensorHealth:
    """One channel's timeline: its swing (V) and edges a second in every step of ``step_s``, its states in order."""

    channel: str
    step_s: float
    swing_v: Floats
    edges_hz: Floats
    spans: tuple[HealthSpan, ...]

    def worst(self) -> Health:
        """The worst state that lasted."""
        seen = {span.health for span in self.spans}
        return next(h for h in ("flat", "erratic", "shrinking", "good") if h in seen or h == "good")


@dataclass(frozen=True, slots=True)
class SensorVerdict:
    """What the timelines together say: ``fails`` (``None``: nothing can be said), in words, with the limits of it."""

    fails: bool | None
    words: str
    limits: str


def sensor_health(
    recording: Recording, channel: str, temperature_c: Samples | None = None, usual_v: float | None = None
) -> SensorHealth | None:
    """The timeline of one channel in steps of half a second. ``temperature_c``: (n,) as long as the channel, in °C; a
    missing one leaves the temperatures out. ``usual_v``: its usual swing (V), where it was seen before; else that of
    its better half. ``None`` for a channel that is not there, or under four steps long."""
    own = next((one for one in recording.channels if one.name == channel), None)
    step = round(_STEP_S / recording.interval_s)
    if own is None or own.samples.size < 4 * step:
        return None
    count = own.samples.size // step
    rows = np.nan_to_num(own.samples[: count * step]).reshape(count, step)
    swing = np.percentile(rows, 98.0, axis=1) - np.percentile(rows, 2.0, axis=1)
    usual = usual_v if usual_v is not None else float(np.median(np.sort(swing)[count // 2 :]))
    read = [_edges(row, usual) for row in rows]
    edges = np.array([positions.size for positions in read]) / _STEP_S
    states = [_state(s, _jumps(one), usual) for s, one in zip(swing.tolist(), read, strict=True)]
    warm = (
        None if temperature_c is None else np.asarray(temperature_c[: count * step]).reshape(count, step).mean(axis=1)
    )
    spans = _spans(states, recording.start_s, warm)
    return SensorHealth(channel, _STEP_S, np.asarray(swing, dtype=np.float64), edges, spans)


_STEP_S = 0.5


def _edges(row: Samples, usual: float) -> Floats:
    """Rising edges of a step (in samples); a signal that hardly swings has none, whatever its noise does."""
    levels = state_levels(row)
    if levels is None or levels.amplitude < numbers.SENSOR_FLAT_SHARE.value * usual:
        return np.empty(0)
    positions, rising = hysteresis_edges(row, levels)
    return positions[rising]


def _jumps(positions: Floats) -> float:
    """Share of the periods of a step that are half as long again as the one before, or shorter by as much. A wheel that
    is turned by hand changes its speed too, but not from one period to the next."""
    periods = np.diff(positions)
    if periods.size < 2:
        return 0.0
    apart = np.abs(np.log(periods[1:] / periods[:-1]))
    return float(np.mean(apart > np.log(_HALF_AS_LONG_AGAIN)))


_HALF_AS_LONG_AGAIN = 1.5


def _state(swing_v: float, jumps: float, usual_v: float) -> Health:
    if usual_v <= 0.0 or swing_v < numbers.SENSOR_FLAT_SHARE.value * usual_v:
        return "flat"
    if jumps > numbers.SENSOR_ERRATIC_SHARE.value:
        return "erratic"
    return "shrinking" if swing_v < numbers.SENSOR_SHRUNK_SHARE.value * usual_v else "good"


def _spans(states: Sequence[Health], start_s: float, warm_c: Floats | None) -> tuple[HealthSpan, ...]:
    """Runs of one state; a single step that differs from both its neighbours is theirs."""
    calm = list(states)
    for i in range(1, len(calm) - 1):
        if calm[i - 1] == calm[i + 1] != calm[i]:
            calm[i] = calm[i - 1]
    found: list[HealthSpan] = []
    first = 0
    for i in range(1, len(calm) + 1):
        if i == len(calm) or calm[i] != calm[first]:
            part = None if warm_c is None else warm_c[first:i]
            found.append(
                HealthSpan(
                    calm[first],
                    start_s + first * _STEP_S,
                    start_s + i * _STEP_S,
                    None if part is None else float(part[0]),
                    None if part is None else float(np.min(part)),
                    None if part is None else float(np.max(part)),
                )
            )
            first = i
    return tuple(found)


def sensor_verdict(tested: SensorHealth, healthy: SensorHealth | None) -> SensorVerdict:
    """Whether the ``tested`` sensor fails, warmed or moved, beside a ``healthy`` one in the same place.

    What both do at the same time is the trigger or the supply. Above ``SENSOR_OVERHEATED_C`` everything fails.
    """
    bad = [span for span in tested.spans if span.health != "good"]
    limits = (
        "A sensor that stays whole here may still fail in the car: there it shakes, and its plug and loom belong to it."
    )
    if not any(span.health == "good" for span in tested.spans):
        return SensorVerdict(None, "It never gave a good signal: is it fed, and does the magnet pass?", limits)
    if not bad:
        return SensorVerdict(False, f"Whole all the time{_up_to(tested)}.", limits)
    if healthy is not None and _together(tested, healthy):
        return SensorVerdict(
            None, "Both sensors failed at the same moments: the trigger, the supply or the ground.", limits
        )
    worst = tested.worst()
    when = next(span for span in tested.spans if span.health == worst)
    back = any(span.health == "good" and span.from_s >= when.to_s for span in tested.spans)
    begins_c = bad[0].begins_c
    if begins_c is not None and begins_c >= numbers.SENSOR_OVERHEATED_C.value:
        words = f"It fails from {begins_c:.0f} °C on, where everything fails: warm it less."
        return SensorVerdict(None, words, limits)
    at = "" if begins_c is None else f" from {begins_c:.0f} °C on"
    again = ", and comes back on cooling" if back and begins_c is not None else ", and comes back" if back else ""
    beside = "" if healthy is None else "; the healthy one beside it stays whole"
    words = f"{_WORDS[worst]}{at}{again}{beside}. It is the sensor."
    return SensorVerdict(True, words, "Everything fails when it is overheated; the temperature is that of the case.")


_WORDS = {"flat": "Its signal is gone", "erratic": "Its signal is erratic", "shrinking": "Its signal shrinks"}


def _up_to(tested: SensorHealth) -> str:
    warm = [span.high_c for span in tested.spans if span.high_c is not None]
    return f", up to {max(warm):.0f} °C" if warm else ""


def _together(tested: SensorHealth, healthy: SensorHealth) -> bool:
    """Whether the healthy one is bad in most of the time in which the tested one is."""
    bad = [span for span in tested.spans if span.health != "good"]
    total = sum(span.to_s - span.from_s for span in bad)
    shared = sum(
        max(0.0, min(one.to_s, other.to_s) - max(one.from_s, other.from_s))
        for one in bad
        for other in healthy.spans
        if other.health != "good"
    )
    return shared > 0.5 * total
