"""The rhythm of humps alone, and the swing of the speed between marks."""

from __future__ import annotations

import numpy as np
import pytest

from phasko.core.compression.pacing import SWINGS, hump_knots, swings
from phasko.core.documents import CaptureDescription
from phasko.core.signals.recording import Channel, Recording

RATE_HZ = 5000.0


def clamped(humps_per_s: float, missing: int = 0, cylinders: int = 4, rest_s: float = 0.5) -> Recording:
    """Humps of a starter's current at an even pace, every ``missing``-th of a cycle left out, after a rest."""
    at = np.arange(round(6.0 * RATE_HZ)) / RATE_HZ
    phase = (at - rest_s) * humps_per_s
    hump = np.exp(-0.5 * (((phase + 0.5) % 1.0 - 0.5) / 0.18) ** 2)
    if missing:
        hump *= (np.floor(phase + 0.5) % cylinders) != missing - 1
    current = np.where(at > rest_s, 110.0 + 60.0 * hump + 250.0 * np.exp(-(at - rest_s) / 0.08), 0.0)
    document = {
        "schema": "phasko.capture/1",
        "data": "x",
        "channels": [{"column": "c1", "role": "starter_current", "unit": "A"}],
    }
    described = CaptureDescription.model_validate(document)
    channel = Channel(described.channels[0], current.astype(np.float32))
    return Recording("x", described, 0.0, 1.0 / RATE_HZ, (channel,))


@pytest.mark.parametrize("humps_per_s", [5.0, 7.3, 9.1])
def test_an_even_rhythm_is_followed_hump_by_hump(humps_per_s: float) -> None:
    times, angles = next(hump_knots(clamped(humps_per_s), 4))
    rate = np.polyfit(times, angles, 1)[0]
    assert rate == pytest.approx(180.0 * humps_per_s, rel=0.005)
    assert times[0] > 1.0


def test_a_missing_hump_does_not_shift_the_rest() -> None:
    readings = list(hump_knots(clamped(7.3, missing=3), 4))
    rates = [np.polyfit(times, angles, 1)[0] for times, angles in readings]
    assert any(rate == pytest.approx(180.0 * 7.3, rel=0.01) for rate in rates)


def test_other_readings_of_the_same_line_are_quicker_cycles() -> None:
    readings = list(hump_knots(clamped(8.0), 4))
    rates = [np.polyfit(times, angles, 1)[0] for times, angles in readings]
    assert rates == sorted(rates)
    assert all(720.0 / rate >= 0.29 for rate in rates)


def test_what_never_turns_has_no_rhythm() -> None:
    still = clamped(7.3)
    flat = Channel(still.channels[0].description, np.zeros(still.sample_count, dtype=np.float32))
    quiet = Recording("x", still.description, 0.0, 1.0 / RATE_HZ, (flat,))
    assert list(hump_knots(quiet, 4)) == []
    holed = still.channels[0].samples.copy()
    holed[500:900] = np.nan
    missing = Recording("x", still.description, 0.0, 1.0 / RATE_HZ, (Channel(still.channels[0].description, holed),))
    assert list(hump_knots(missing, 4)) == []


def test_the_speed_swings_between_marks_but_keeps_them() -> None:
    recording = clamped(8.0)
    marks = np.arange(1.5, 5.0, 0.5), 720.0 * np.arange(7.0)
    plain, *warped = list(swings(recording, marks, SWINGS))
    assert plain is marks
    assert len(warped) == len(SWINGS)
    for times, angles in warped:
        assert np.interp(marks[0][1:-1], times, angles) == pytest.approx(marks[1][1:-1], abs=6.0)
        assert np.all(np.diff(angles) > 0)
    slow, quick = warped[0][1], warped[-1][1]
    assert np.max(np.abs(slow - quick)) > 5.0
