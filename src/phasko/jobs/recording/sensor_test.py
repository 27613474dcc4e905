"""What a recording of a sensor on the stand says: its timeline beside a healthy one's, and the verdict."""

from __future__ import annotations

import re

import numpy as np
from pydantic import BaseModel, ConfigDict

from phasko.core.errors import RefusedError
from phasko.core.live import SensorHealth, sensor_health, sensor_verdict
from phasko.core.signals.recording import Recording, Samples
from phasko.store import Database, captures

__all__ = ["SensorTest", "sensor_test"]


class SpanView(BaseModel):
    """One state from and to (s), with the temperatures there (°C)."""

    model_config = ConfigDict(frozen=True)
    health: str
    from_s: float
    to_s: float
    low_c: float | None
    high_c: float | None


class TimelineView(BaseModel):
    """A sensor's timeline: states in order, and its swing (V) in every step."""

    model_config = ConfigDict(frozen=True)
    column: str
    step_s: float
    swing_v: list[float]
    spans: list[SpanView]


class SensorTest(BaseModel):
    """The timelines of the sensor under test and of the healthy one, the temperature (s, °C), and the verdict."""

    model_config = ConfigDict(frozen=True)
    tested: TimelineView
    healthy: TimelineView | None
    temperature_s: list[float]
    temperature_c: list[float]
    fails: bool | None
    words: str
    limits: str


def sensor_test(database: Database, capture_id: int) -> SensorTest:
    """Raises NotFoundError, and RefusedError for a capture in which no sensor was tested on a stand, or too short."""
    with database.reading() as session:
        recording = captures.load_recording(session, captures.get_capture(session, capture_id))
    if recording.description.condition != "bench":
        raise RefusedError("No sensor was tested on a stand here")
    warm = next((c for c in recording.channels if c.unit == "°C"), None)
    temperature = _typed(recording) if warm is None else warm.samples
    signals = [c for c in recording.channels if c.unit != "°C"]
    tested = sensor_health(recording, signals[0].name, temperature) if signals else None
    if tested is None:
        raise RefusedError("Too short to say how the sensor is", remedy="Record it for ten seconds at least.")
    # A second sensor under test is no measure of the first; a healthy one is hooked up as a further signal.
    beside = next((c for c in signals[1:] if c.description.role == "other"), None)
    healthy = None if beside is None else sensor_health(recording, beside.name, temperature)
    verdict = sensor_verdict(tested, healthy)
    thinned = [] if temperature is None else _thinned(recording, temperature)
    return SensorTest(
        tested=_timeline(tested),
        healthy=None if healthy is None else _timeline(healthy),
        temperature_s=[at_s for at_s, _ in thinned],
        temperature_c=[celsius for _, celsius in thinned],
        fails=verdict.fails,
        words=verdict.words,
        limits=verdict.limits,
    )


def _timeline(health: SensorHealth) -> TimelineView:
    return TimelineView(
        column=health.channel,
        step_s=health.step_s,
        swing_v=[round(float(v), 3) for v in health.swing_v],
        spans=[
            SpanView(health=s.health, from_s=s.from_s, to_s=s.to_s, low_c=s.low_c, high_c=s.high_c)
            for s in health.spans
        ],
    )


_CELSIUS = re.compile(r"(-?\d+(?:[.,]\d+)?)\s*(?:°|°\s*C|C)\b|^\s*(-?\d+(?:[.,]\d+)?)\s*$")


def _typed(recording: Recording) -> Samples | None:
    """Temperatures that were typed as names of marks ("62", "62 °C"), straight between them; ``None`` without two."""
    read = [(mark.t_s, found) for mark in recording.description.marks if (found := _CELSIUS.search(mark.text))]
    if len(read) < 2:
        return None
    at_s = [t_s for t_s, _ in read]
    celsius = [float((found.group(1) or found.group(2)).replace(",", ".")) for _, found in read]
    times = recording.start_s + np.arange(recording.sample_count) * recording.interval_s
    return np.asarray(np.interp(times, at_s, celsius), dtype=np.float32)


def _thinned(recording: Recording, samples: Samples) -> list[tuple[float, float]]:
    """Two values a second."""
    step = max(1, round(0.5 / recording.interval_s))
    return [
        (recording.start_s + i * recording.interval_s, round(float(samples[i]), 2))
        for i in range(0, samples.size, step)
    ]
