"""The last seconds of a recording in bounded memory."""

from __future__ import annotations

import numpy as np
import pytest

from phasko.jobs.recording.ring import KEPT_S, Ring


def ramp(first: int, count: int, channels: int = 2) -> np.ndarray:
    row = np.arange(first, first + count, dtype=np.float32)
    return np.stack([row * (i + 1) for i in range(channels)])


def filled(rate_hz: float, seconds: float, block: int, most_s: float = 60.0) -> Ring:
    ring = Ring(2, rate_hz, [1e9, 1e9], most_s)
    for first in range(0, round(rate_hz * seconds), block):
        ring.add(ramp(first, block))
    return ring


@pytest.mark.parametrize("block", [7, 100, 999])
def test_what_is_held_is_the_last_of_it_at_its_own_time(block: int) -> None:
    ring = filled(1000.0, 9.0, block)
    stretch = ring.last(0.5)
    assert stretch.volts.shape == (2, 500)
    assert stretch.start_s * 1000.0 == pytest.approx(stretch.volts[0, 0])
    assert stretch.volts[1, -1] == 2.0 * (ring.samples - 1)
    assert ring.last(99.0).volts.shape[1] <= KEPT_S * 1000.0 + 1


def test_a_fast_recording_is_thinned_evenly_across_blocks() -> None:
    ring = filled(200_000.0, 0.1, 333)
    assert ring.interval_s == 4.0 / 200_000.0
    steps = np.diff(ring.last(1.0).volts[0])
    assert set(steps.tolist()) == {4.0}


def test_memory_does_not_grow_with_the_length() -> None:
    ring = Ring(2, 1000.0, [1e9, 1e9], 3600.0)
    sizes = []
    for first in range(0, 900_000, 30_000):
        ring.add(ramp(first, 30_000))
        whole = ring.so_far()
        sizes.append(whole.low.size)
    assert max(sizes) <= 2 * 4096
    assert whole.step_s * whole.low.shape[1] == pytest.approx(900.0, rel=0.01)
    assert whole.low[0, 0] == 0.0 and whole.high[0, -1] == 899_999.0
    assert np.all(np.diff(whole.high[0]) > 0)


def test_missing_samples_leave_a_gap_and_clipped_ones_are_counted() -> None:
    ring = Ring(1, 1000.0, [5.0], 10.0)
    ring.add(np.full((1, 200), np.nan, dtype=np.float32))
    ring.add(np.full((1, 50), 5.0, dtype=np.float32))
    drawn = ring.drawn(0.25, 5)
    assert not np.isfinite(drawn.high[0, :4]).any() and drawn.high[0, 4] == 5.0
    assert ring.clipped.tolist() == [50]
