"""Samples that a file does not hold accuse no sensor; a signal that is really gone still does."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from phasko.bench.pool import pool_engine
from phasko.bench.probe import Probe
from phasko.core.phase.irregularities import SignalEvent, sensed
from phasko.core.signals.gaps import unrecorded_spans
from phasko.core.signals.recording import Channel, Recording
from tests.builders import FOUR, analysed, probabilities, run_recording
from trials.measurements import measure_capture

PROBES = [Probe("crank"), Probe("cam", cam="B1I"), Probe("cam", cam="B1E"), Probe("starter_current")]
GAPS_S = ((1.2, 1.28), (2.1, 2.17))


def with_gaps(recording: Recording, roles: set[str], value: float = np.nan) -> Recording:
    """The same with nothing (or one held level) in the gaps of those channels."""
    times = recording.start_s + recording.interval_s * np.arange(recording.sample_count)
    inside = np.any([(times >= low) & (times < high) for low, high in GAPS_S], axis=0)
    channels = tuple(
        Channel(c.description, np.where(inside, np.float32(value), c.samples)) if c.description.role in roles else c
        for c in recording.channels
    )
    return replace(recording, channels=channels)


@pytest.mark.parametrize(
    "roles", [{"crank"}, {"cam"}, {"crank", "cam", "starter_current"}], ids=["crank", "cam", "all"]
)
def test_missing_samples_accuse_no_sensor(roles: set[str]) -> None:
    holed = with_gaps(run_recording(FOUR, PROBES, 61)[0], roles)
    measured = measure_capture(holed, pool_engine(FOUR))
    codes = {problem.code for problem in measured.problems}
    assert "missing_samples" in codes
    assert measured.events == ()
    assert not codes & {"signal_dropout", "irregular_signal", "odd_signal"}
    assert all(count.bad_windows == 0 for count in measured.counts)
    chances = probabilities(analysed(holed))
    assert max(chances, key=lambda fault: chances[fault]) == "none"


def test_a_signal_that_is_really_gone_is_still_told() -> None:
    gone = with_gaps(run_recording(FOUR, PROBES, 61)[0], {"crank"}, value=0.2)
    events = measure_capture(gone, pool_engine(FOUR)).events
    assert [event.signal for event in events if event.kind == "silent"] == ["crank", "crank"]


def test_where_samples_are_missing() -> None:
    recording = run_recording(FOUR, PROBES, 61)[0]
    assert unrecorded_spans(recording.channels[0], recording) == ()
    holed = with_gaps(recording, {"crank"})
    found = unrecorded_spans(holed.channels[0], holed)
    assert [span[0] for span in found] == pytest.approx([g[0] for g in GAPS_S], abs=2 * recording.interval_s)
    assert [span[1] for span in found] == pytest.approx([g[1] for g in GAPS_S], abs=2 * recording.interval_s)


def test_a_long_silence_with_a_short_gap_in_it_is_the_sensor_s() -> None:
    silent = SignalEvent("crank", "c1", "silent", 0, 1.0, 2.0)
    near, far = (SignalEvent("crank", "c1", "missing", 1, at, at) for at in (1.52, 1.6))
    kept = sensed([silent, near, far], {"c1": [(1.4, 1.5)]}, 0.05)
    assert kept == [silent, far]
    assert sensed([silent], {"c1": [(1.0, 1.9)]}, 0.05) == []
    assert sensed([silent], {"c2": [(1.0, 1.9)]}, 0.05) == [silent]
