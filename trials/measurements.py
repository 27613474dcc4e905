"""Captures measured once: the core's own function, with its results kept on disk."""

from __future__ import annotations

from dataclasses import replace

from phasko.core.capture.cam_readings import References
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.capture.steps import measure_capture as _measure_capture
from phasko.core.documents import EngineProfile
from phasko.core.signals.recording import Recording
from trials.cache import cached_on_disk

__all__ = ["measure_capture"]


def measure_capture(
    recording: Recording, profile: EngineProfile, known_good: References | None = None
) -> CaptureMeasurement:
    """Measure one capture, or find what was measured of the same before."""
    measured, is_same = _measured_without_samples(recording, profile, known_good)
    return replace(measured, recording=recording) if is_same else measured


@cached_on_disk
def _measured_without_samples(
    recording: Recording, profile: EngineProfile, known_good: References | None
) -> tuple[CaptureMeasurement, bool]:
    """The measurement, and whether its recording is the one that was given: that one is not kept a second time."""
    measured = _measure_capture(recording, profile, known_good)
    if measured.recording is not recording:
        return measured, False
    return replace(measured, recording=recording.without_samples()), True
