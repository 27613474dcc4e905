"""Seeded bench captures with known cam offsets, measured: errors beside the half widths that were stated."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from phasko.bench import BenchCapture, Cranking, HallSensor, HookUp, Nuisances, Shift, pool_engine, record
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.capture.steps import measure_capture
from phasko.core.signals.recording import Channel, Recording


@dataclass(frozen=True)
class Row:
    name: str
    engine: str
    nuisances: Nuisances
    sensor: HallSensor = field(default_factory=HallSensor)
    bits: int = 12
    rate_hz: float = 100_000.0
    cycles: float = 8.2


ROWS = [
    Row("60-2 clean", "corvane-2.1-four", Nuisances()),
    Row("36-1 clean", "ostrin-1.4-four", Nuisances()),
    Row("60-2 teeth 0.1, jitter 0.2", "corvane-2.1-four", Nuisances(tooth_deg=0.1, cam_jitter_deg=0.2)),
    Row("36-1 teeth 0.1, jitter 0.2", "ostrin-1.4-four", Nuisances(tooth_deg=0.1, cam_jitter_deg=0.2)),
    Row("60-2 cam swing 0.3", "corvane-2.1-four", Nuisances(tooth_deg=0.05, cam_jitter_deg=0.05, cam_swing_deg=0.3)),
    Row("60-2 noisy, 8 bit, hum", "corvane-2.1-four", Nuisances(), HallSensor(noise_v=0.1, hum_v=0.1), 8),
    Row("36-1 slow scope, 20 kS/s", "ostrin-1.4-four", Nuisances(cam_jitter_deg=0.02), rate_hz=20_000.0),
    Row("vee six teeth 0.05", "brimholt-3.2-six", Nuisances(tooth_deg=0.05, cam_jitter_deg=0.1)),
    Row("60-2 three cycles", "corvane-2.1-four", Nuisances(cam_jitter_deg=0.1), cycles=3.3),
]


def as_recording(capture: BenchCapture) -> Recording:
    described = capture.description
    channels = tuple(Channel(d, capture.columns[d.column]) for d in described.channels)
    return Recording("bench", described, 0.0, capture.interval_s, channels)


def one(row: Row, seed: int) -> tuple[BenchCapture, CaptureMeasurement]:
    """A capture of that row with offsets, speed and swing drawn from the seed, measured."""
    rng = np.random.default_rng([seed, 77])
    engine = pool_engine(row.engine)
    shift = Shift({cam.id: float(rng.uniform(-40, 40)) for cam in engine.cams}, float(rng.uniform(-5, 5)))
    cranking = Cranking(
        mean_rpm=float(rng.uniform(150, 280)),
        swing=float(rng.uniform(0.05, 0.2)),
        cycles=row.cycles,
        start_deg=float(rng.uniform(0, 720)),
    )
    hookup = HookUp(sample_rate_hz=row.rate_hz, bits=row.bits, crank=row.sensor, cam=row.sensor)
    capture = record(engine, seed, cranking=cranking, hookup=hookup, shift=shift, nuisances=row.nuisances)
    return capture, measure_capture(as_recording(capture), engine)


def errors(row: Row, captures: int, first_seed: int) -> tuple[np.ndarray, np.ndarray]:
    """(errors in deg, their u95) of every cam of every capture; a cam that was not read raises."""
    found: list[tuple[float, float]] = []
    for seed in range(first_seed, first_seed + captures):
        capture, measured = one(row, seed)
        read = {reading.cam.id: reading.offset for reading in measured.cams}
        for cam_id, truth in capture.true_cam_offsets_deg.items():
            offset = read[cam_id]
            assert offset is not None
            found.append((offset.offset.value - truth, offset.offset.u95))
    table = np.array(found)
    return table[:, 0], table[:, 1]
