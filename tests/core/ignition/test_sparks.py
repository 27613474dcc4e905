"""Moments of sparks from a coil's drive or primary, and what their spacing means."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from phasko.core.crank.segments import Segment
from phasko.core.documents import CaptureDescription
from phasko.core.ignition.firing import _every, _missed, _nearest, _steady
from phasko.core.ignition.sparks import spark_times_s
from phasko.core.signals.recording import Channel, Recording
from tests.builders import FOUR, pool_engine

RATE_HZ = 50_000.0
ENGINE = pool_engine(FOUR)


def recorded(samples: np.ndarray, start_s: float = 0.0, **said: Any) -> tuple[Channel, Recording]:
    document = {"schema": "phasko.capture/1", "data": "x", "channels": [{"column": "c1", "role": "coil", **said}]}
    description = CaptureDescription.model_validate(document)
    channel = Channel(description.channels[0], samples.astype(np.float32))
    return channel, Recording("x", description, start_s, 1.0 / RATE_HZ, (channel,))


def drive(sparks_s: list[float], dwell_s: float = 3e-3, high_v: float = 5.0, seconds: float = 2.0) -> np.ndarray:
    at = np.arange(round(seconds * RATE_HZ)) / RATE_HZ
    volts = np.full(at.size, 0.1)
    for spark in sparks_s:
        volts[(at >= spark - dwell_s) & (at < spark)] = high_v
    return volts


def primary(sparks_s: list[float], height_v: float = 380.0, seconds: float = 2.0) -> np.ndarray:
    at = np.arange(round(seconds * RATE_HZ)) / RATE_HZ
    volts = np.full(at.size, 12.0)
    for spark in sparks_s:
        since = at - spark
        volts[(since >= -3e-3) & (since < 0)] = 0.8
        burning = (since >= 0) & (since < 1.5e-3)
        volts[burning] = 40.0 + (height_v - 40.0) * np.exp(-since[burning] / 6e-5)
        ringing = (since >= 1.5e-3) & (since < 2.6e-3)
        volts[ringing] = 12.0 + 60.0 * np.sin((since[ringing] - 1.5e-3) * 2.0e4) * np.exp(
            -(since[ringing] - 1.5e-3) / 3e-4
        )
    return volts


SPARKS = [0.25, 0.75, 1.25, 1.75]


def test_a_drive_sparks_where_it_falls() -> None:
    found = spark_times_s(*recorded(drive(SPARKS), signal="drive"))
    assert found == pytest.approx(SPARKS, abs=2.0 / RATE_HZ)


def test_a_primary_sparks_at_its_spike_and_not_at_its_ringing() -> None:
    found = spark_times_s(*recorded(primary(SPARKS), signal="primary"))
    assert found == pytest.approx(SPARKS, abs=2.0 / RATE_HZ)


@pytest.mark.parametrize(("samples", "expected"), [(drive(SPARKS), SPARKS), (primary(SPARKS), SPARKS)])
def test_which_of_the_two_it_is_shows_in_its_volts(samples: np.ndarray, expected: list[float]) -> None:
    assert spark_times_s(*recorded(samples)) == pytest.approx(expected, abs=2.0 / RATE_HZ)


def test_an_attenuated_primary_is_read_in_its_scaled_volts() -> None:
    channel, recording = recorded(primary(SPARKS), signal="primary", scale=10.0)
    assert spark_times_s(channel, recording) == pytest.approx(SPARKS, abs=2.0 / RATE_HZ)


def test_the_start_of_the_record_counts() -> None:
    found = spark_times_s(*recorded(drive(SPARKS), start_s=-0.5, signal="drive"))
    assert found == pytest.approx(np.array(SPARKS) - 0.5, abs=2.0 / RATE_HZ)


def test_noise_on_the_spike_s_height_moves_nothing() -> None:
    rng = np.random.default_rng(4)
    noisy = primary(SPARKS) + rng.normal(0.0, 1.5, round(2.0 * RATE_HZ))
    assert spark_times_s(*recorded(noisy, signal="primary")) == pytest.approx(SPARKS, abs=2.0 / RATE_HZ)


@pytest.mark.parametrize("samples", [np.full(100_000, 12.0), np.full(100_000, np.nan), np.zeros(100_000)])
def test_a_coil_that_never_fires_gives_nothing(samples: np.ndarray) -> None:
    assert spark_times_s(*recorded(samples)).size == 0


@pytest.mark.parametrize(
    ("running", "every"),
    [
        ([0.0, 720.0, 1440.0, 2160.0], 720.0),
        ([0.0, 360.0, 720.0, 1080.0], 360.0),
        ([3.0, 722.0, 1441.0, 2163.0], 720.0),
        ([0.0, 720.0, 1440.0, 1800.0, 2520.0, 3240.0], 720.0),
        ([0.0, 500.0, 1000.0, 1500.0], None),
        ([0.0], None),
        ([], None),
    ],
)
def test_once_per_cycle_or_every_turn_by_the_angle_between(running: list[float], every: float | None) -> None:
    assert _every(np.array(running)) == every


def test_a_pause_of_several_cycles_is_no_rule() -> None:
    assert _every(np.array([0.0, 720.0, 1440.0, 7200.0, 7920.0])) == 720.0


@pytest.mark.parametrize("lead", [-25.0, -10.0, 0.0, 10.0])
@pytest.mark.parametrize("cylinder", [1, 2, 3, 4])
def test_a_spark_belongs_to_the_tdc_it_comes_a_little_before(cylinder: int, lead: float) -> None:
    tdc = ENGINE.firing_tdc_deg[cylinder]
    assert _nearest((tdc + lead) % 720.0, ENGINE, 720.0) == cylinder


def test_firings_left_out_are_counted_without_the_ends() -> None:
    assert _missed(np.zeros(0), None, (), _steady(np.zeros(0), ())) == 0


def test_cranking_is_judged_first_and_a_start_without_sparks_by_what_follows() -> None:
    segments = [Segment("cranking", 0.0, 1.0), Segment("run_up", 1.0, 1.2), Segment("running", 1.2, 3.0)]
    assert _steady(np.array([0.4, 0.8, 1.4, 2.0]), segments).segment == "cranking"
    late = _steady(np.array([0.9, 1.1, 1.4, 2.0]), segments)
    assert late.segment == "running"
    assert late.inside(np.array([0.9, 1.1, 1.4, 2.0])).tolist() == [1.4, 2.0]
    assert _steady(np.zeros(0), segments[:1]).segment == "cranking"
