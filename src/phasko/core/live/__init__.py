"""Measuring while it is recorded: cam offsets, speed, teeth and spark of the last seconds, and a sensor's health."""

from phasko.core.live.adjusting import Adjusting, adjusting
from phasko.core.live.headline import live_finding, stand_finding
from phasko.core.live.reading import LiveCam, LiveReading, LiveSpark, live_reading
from phasko.core.live.sensor_health import HealthSpan, SensorHealth, SensorVerdict, sensor_health, sensor_verdict

__all__ = [
    "Adjusting",
    "HealthSpan",
    "LiveCam",
    "LiveReading",
    "LiveSpark",
    "SensorHealth",
    "SensorVerdict",
    "adjusting",
    "live_finding",
    "live_reading",
    "sensor_health",
    "sensor_verdict",
    "stand_finding",
]
