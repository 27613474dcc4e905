"""The low-pass: no delay, off by default, and honest about what it does to the edges."""

import numpy as np
import pytest

from phasko.bench import pool_engine
from phasko.core.signals.levels import Levels
from phasko.core.signals.low_pass import effect_on_edges, filtered
from phasko.core.signals.recording import Channel, Recording
from phasko.core.signals.switching import EdgeTrain, switching_edges
from tests.builders import FOUR, bench_recording, codes, recording_of, square_wave
from trials.measurements import measure_capture

WAVE = square_wave(200, 40)


def with_filter(recording: Recording, column: str, corner_hz: float) -> Recording:
    channels = tuple(
        Channel(c.description.model_copy(update={"filter_hz": corner_hz}), c.samples) if c.name == column else c
        for c in recording.channels
    )
    described = recording.description.model_copy(update={"channels": [c.description for c in channels]})
    return Recording(recording.file, described, recording.start_s, recording.interval_s, channels)


def test_edges_keep_their_place() -> None:
    """Forwards and backwards, the middle of a symmetrical edge stays where it was."""
    smooth = filtered(WAVE, 1e-3, 60.0)
    before = switching_edges(recording_of(WAVE).channels[0], recording_of(WAVE))
    after = switching_edges(recording_of(smooth).channels[0], recording_of(smooth))
    assert before is not None
    assert after is not None
    assert np.abs(before.times_s - after.times_s)[2:-2].max() < 5e-5


def test_missing_samples_stay_missing() -> None:
    holed = WAVE.copy()
    holed[500:510] = np.nan
    smooth = filtered(holed, 1e-3, 60.0)
    assert np.flatnonzero(~np.isfinite(smooth)).tolist() == list(range(500, 510))


def test_a_corner_above_half_the_rate_changes_nothing() -> None:
    assert filtered(WAVE, 1e-3, 600.0) is WAVE


def test_the_effect_counts_moved_lost_and_added_edges() -> None:
    levels = Levels(0.0, 5.0, 0.01)
    times = np.arange(20) * 0.1
    rising = np.arange(20) % 2 == 0
    before = EdgeTrain("c1", times, rising, levels, 1e-4)
    later = EdgeTrain("c1", np.delete(times, [6, 7]) + 0.002, np.delete(rising, [6, 7]), levels, 1e-4)
    effect = effect_on_edges(before, later, 100.0)
    assert effect is not None
    assert effect.moved_usual_s == pytest.approx(0.002)
    assert (effect.lost, effect.added) == (2, 0)
    assert effect_on_edges(None, later, 100.0) is None


@pytest.mark.parametrize(("corner_hz", "code"), [(20_000.0, "filter_on"), (40.0, "filter_moves_edges")])
def test_a_filter_is_always_mentioned_and_warned_of_when_it_moves_edges(corner_hz: float, code: str) -> None:
    known = pool_engine(FOUR)
    recording = bench_recording(FOUR, 61)
    plain = measure_capture(recording, known)
    assert plain.filters == ()
    measured = measure_capture(with_filter(recording, "c2", corner_hz), known)
    assert code in codes(measured)
    assert [effect.channel for effect in measured.filters] == ["c2"]
    assert measured.recording.channels[1].samples is recording.channels[1].samples
