"""Cams that move have lost and gained no pulse; a signal that dies has lost its pulses and gained none."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from phasko.bench.faults import DriveFaults, EngineFaults, PhaserFault
from phasko.bench.probe import Probe
from phasko.bench.scenario import PhaserCommand, clear_flood_cranking, idling
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.signals.recording import Channel, Recording
from tests.builders import FOUR, pool_engine, run_recording
from trials.measurements import measure_capture

TARRANT, DIESEL, FIVE = "tarrant-3.0-straight-six", "corvane-2.2-diesel", "haverel-2.4-five"


def phased(capture: CaptureMeasurement) -> list[tuple[int, int]]:
    return [(reading.missing_edges, reading.extra_edges) for reading in capture.cams]


@pytest.mark.parametrize("engine", [FOUR, FIVE, TARRANT])
@pytest.mark.parametrize("share", [1.0, 0.4])
def test_a_cam_that_its_phaser_sweeps_has_lost_and_gained_no_pulse(engine: str, share: float) -> None:
    known = pool_engine(engine)
    cam = next(c for c in known.cams if c.phaser)
    swept = replace(idling(3.0), phasers_connected=True, phaser_commands={cam.id: (PhaserCommand(3.5, 5.0, share),)})
    recording, _ = run_recording(engine, [Probe("crank"), Probe("cam", cam=cam.id)], 5, swept)
    capture = measure_capture(recording, known)
    assert phased(capture) == [(0, 0)]
    assert not capture.events


def test_a_phaser_that_rattles_has_lost_and_gained_no_pulse() -> None:
    faults = EngineFaults(DriveFaults(phasers={"B1I": PhaserFault(loose_deg=15.0)}))
    probes = [Probe("crank"), Probe("cam", cam="B1I")]
    recording, _ = run_recording(FOUR, probes, 5, clear_flood_cranking(5.0), faults)
    assert phased(measure_capture(recording, pool_engine(FOUR))) == [(0, 0)]


def spoilt(engine: str, role: str, level: float, spans: list[tuple[float, float]]) -> CaptureMeasurement:
    """A cranking capture whose first signal of a role rests at a level in some stretches (s)."""
    known = pool_engine(engine)
    probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in known.cams[:2])]
    recording, _ = run_recording(engine, probes, 5, clear_flood_cranking(6.0))
    first = next(i for i, c in enumerate(recording.channels) if c.description.role == role)
    samples = recording.channels[first].samples.copy()
    noise = np.random.default_rng(1)
    for low, high in spans:
        part = slice(int(low / recording.interval_s), min(int(high / recording.interval_s), samples.size))
        samples[part] = level + 0.01 * noise.standard_normal(samples[part].size)
    channels = list(recording.channels)
    channels[first] = Channel(channels[first].description, samples)
    return measure_capture(
        Recording(recording.file, recording.description, 0.0, recording.interval_s, tuple(channels)), known
    )


def test_an_inductive_crank_signal_gone_in_four_stretches_counts_its_teeth() -> None:
    """At 175 rpm 58 of 60 teeth pass in 0.34 s: 1.1 s without them are about 190 teeth."""
    capture = spoilt(TARRANT, "crank", 0.0, [(1.5, 1.8), (2.2, 2.5), (3.0, 3.3), (4.0, 4.2)])
    lost = sum(event.count for event in capture.events if event.signal == "crank" and event.kind != "extra")
    assert lost == pytest.approx(1.1 / 0.342 * 58, rel=0.08)
    assert not [event for event in capture.events if event.kind == "extra"]


@pytest.mark.parametrize("engine", [TARRANT, DIESEL])
def test_a_cam_signal_that_dies_has_lost_pulses_and_gained_none(engine: str) -> None:
    capture = spoilt(engine, "cam", 4.9, [(2.0, 6.0)])
    missing, extra = phased(capture)[0]
    assert missing > 20
    assert extra == 0
