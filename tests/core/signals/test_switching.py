"""Levels from the histogram, edges at half height to a fraction of a sample."""

import numpy as np
import pytest

from phasko.core.signals.level_checks import level_problems
from phasko.core.signals.levels import state_levels
from phasko.core.signals.switching import hysteresis_edges, shortest_pulse_share, switching_edges
from tests.builders import recording_of, square_wave


def ramped(position: float, count: int = 200, rise: float = 6.0, high: float = 5.0) -> np.ndarray:
    """A single straight rise whose half height lies at ``position`` samples."""
    return (np.clip((np.arange(count) - position) / rise + 0.5, 0, 1) * high).astype(np.float32)


def test_levels_are_the_two_plateaus() -> None:
    levels = state_levels(square_wave(100, 20, low=0.4, high=4.6))
    assert levels is not None
    assert levels.at(0.0) == pytest.approx(0.4, abs=0.05)
    assert levels.at(1.0) == pytest.approx(4.6, abs=0.05)


def test_a_duty_of_three_percent_still_has_two_levels() -> None:
    pulse = np.tile(np.concatenate([np.zeros(97), np.full(3, 5.0)]), 50).astype(np.float32)
    levels = state_levels(pulse)
    assert levels is not None
    assert levels.amplitude == pytest.approx(5.0, abs=0.1)


@pytest.mark.parametrize("samples", [np.zeros(500), np.full(500, 4.9), np.full(500, np.nan)])
def test_a_flat_signal_has_no_levels(samples: np.ndarray) -> None:
    assert state_levels(samples.astype(np.float32)) is None


def test_noise_alone_is_no_switching_signal() -> None:
    noise = np.random.default_rng(3).normal(2.5, 0.3, 20_000).astype(np.float32)
    assert state_levels(noise) is None


@pytest.mark.parametrize("position", [99.0, 99.25, 99.5, 99.9, 100.37])
def test_an_edge_is_timed_between_samples(position: float) -> None:
    samples = np.concatenate([ramped(position), np.full(200, 5.0, np.float32)])
    levels = state_levels(samples)
    assert levels is not None
    positions, rising = hysteresis_edges(samples, levels)
    assert rising.tolist() == [True]
    assert positions[0] == pytest.approx(position, abs=0.02)


def test_ripple_on_an_edge_is_one_edge() -> None:
    samples = np.concatenate([np.zeros(50), [2.4, 2.7, 2.3, 2.8], np.full(50, 5.0)]).astype(np.float32)
    levels = state_levels(samples)
    assert levels is not None
    assert hysteresis_edges(samples, levels)[1].tolist() == [True]


def test_kinds_alternate_and_times_follow_the_clock() -> None:
    train = switching_edges(recording_of(square_wave(100, 10)).channels[0], recording_of(square_wave(100, 10)))
    assert train is not None
    assert np.all(train.rising[1:] != train.rising[:-1])
    assert np.diff(train.of_kind("rising")) == pytest.approx(0.1)


def test_missing_samples_lose_no_edge() -> None:
    samples = square_wave(100, 10)
    samples[149:151] = np.nan
    recording = recording_of(samples)
    train = switching_edges(recording.channels[0], recording)
    assert train is not None
    assert train.of_kind("rising").size == 10


def test_pulses_of_one_sample_are_told() -> None:
    recording = recording_of(square_wave(2, 500))
    train = switching_edges(recording.channels[0], recording)
    assert train is not None
    assert shortest_pulse_share(train) == pytest.approx(1.0)


@pytest.mark.parametrize("shape", ["coupled", "drifting"])
def test_levels_that_wander_lose_no_edge(shape: str) -> None:
    """AC-coupled or drifting: every jump is timed between its own two sides."""
    steady = square_wave(2000, 30)
    t = np.arange(steady.size) / 100_000
    wander = 20.0 * t if shape == "drifting" else -np.convolve(steady, np.exp(-t[:6000] / 0.01) / 1000.0)[: t.size]
    samples = (steady + wander).astype(np.float32)
    recording = recording_of(samples, 100_000.0)
    train = switching_edges(recording.channels[0], recording)
    assert train is not None
    assert np.diff(train.of_kind("rising")) == pytest.approx(0.02, abs=2e-5)
    assert train.times_s.size == 59


@pytest.mark.parametrize(
    ("low", "high", "code"),
    [
        (0.3, 4.9, None),
        (0.2, 12.0, None),
        (0.003, 0.05, "implausible_levels"),
        (3.9, 4.9, "bad_ground"),
        (0.0, 48.0, "implausible_levels"),
    ],
)
def test_levels_that_no_sensor_gives_are_said(low: float, high: float, code: str | None) -> None:
    recording = recording_of(square_wave(200, 40, low, high))
    train = switching_edges(recording.channels[0], recording)
    assert train is not None
    assert [problem.code for problem in level_problems(train)] == ([code] if code else [])
