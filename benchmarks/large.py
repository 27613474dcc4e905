"""Eighty million samples in memory: edges, clock and offsets against bare min-and-max passes over the same arrays.

    python benchmarks/large.py

Eight channels of ten million float32 samples (a hundred seconds of idle at 100 kS/s): the crank and seven cams. The
second, warm run is timed; memory is the peak of what Python and NumPy allocate while measuring, beside the samples.
"""

from __future__ import annotations

import time
import tracemalloc

import numpy as np

from phasko.bench import pool_engine
from phasko.core.capture.steps import measure_capture
from phasko.core.documents import CaptureDescription, EngineProfile
from phasko.core.signals.recording import Channel, Recording

SAMPLES = 10_000_000
RATE_HZ = 100_000.0


def seven_cams() -> EngineProfile:
    """The pool's vee six with its cams' patterns on seven shafts."""
    known = pool_engine("brimholt-3.2-six")
    cams = [known.cams[i % 4].model_copy(update={"id": f"CAM{i + 1}"}) for i in range(7)]
    return known.model_copy(update={"cams": cams, "drive": None})


def wave(places_deg: np.ndarray, rising: np.ndarray, angle_deg: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    """A switching signal that follows the crank angle, with noise, in float32."""
    order = np.argsort(places_deg)
    at = np.searchsorted(places_deg[order], angle_deg % 720.0) - 1
    volts = np.where(rising[order][at], 4.9, 0.3).astype(np.float32)
    volts += rng.standard_normal(volts.size, dtype=np.float32) * np.float32(0.02)
    return volts


def recording(engine: EngineProfile) -> Recording:
    """Idle at about 800 rpm with a firing ripple."""
    rng = np.random.default_rng(1)
    t = np.arange(SAMPLES) / RATE_HZ
    angle = 4800.0 * t + 1.5 * np.sin(np.radians(4800.0 * t * 3.0))
    crank, wheel = engine.crank, engine.crank.known_wheel
    teeth = (crank.index_deg or 0.0) + np.array(wheel.angles_deg)
    twice = np.concatenate([teeth, teeth + 360.0]) % 720.0
    places = np.concatenate([twice, (twice + 3.0) % 720.0])
    kinds = np.concatenate([np.full(twice.size, crank.timing_edge == "rising")] * 2)
    kinds[twice.size :] = ~kinds[twice.size :]
    channels = [{"column": "c1", "role": "crank", "unit": "V"}]
    columns = [wave(places, kinds, angle, rng)]
    for i, cam in enumerate(engine.cams):
        channels.append({"column": f"c{i + 2}", "role": "cam", "cam": cam.id, "unit": "V"})
        edges = np.array([edge.deg for edge in cam.edges])
        columns.append(wave(edges, np.array([edge.kind == "rising" for edge in cam.edges]), angle, rng))
    described = CaptureDescription.model_validate({"schema": "phasko.capture/1", "data": "x.csv", "channels": channels})
    made = tuple(Channel(d, samples) for d, samples in zip(described.channels, columns, strict=True))
    return Recording("large", described, 0.0, 1.0 / RATE_HZ, made)


def main() -> None:
    engine = seven_cams()
    captured = recording(engine)
    took = []
    for _ in range(3):
        began = time.perf_counter()
        measured = measure_capture(captured, engine)
        took.append(time.perf_counter() - began)
    passes = []
    for _ in range(5):
        began = time.perf_counter()
        for channel in captured.channels:
            np.min(channel.samples)
            np.max(channel.samples)
        passes.append(time.perf_counter() - began)
    tracemalloc.start()
    measure_capture(captured, engine)
    _, peak = tracemalloc.get_traced_memory()
    size = sum(channel.samples.nbytes for channel in captured.channels)
    offsets = [r.offset.offset.value for r in measured.cams if r.offset is not None]
    assert len(offsets) == 7
    assert max(abs(value) for value in offsets) < 0.05
    print(f"{len(captured.channels)} channels of {SAMPLES} samples, {len(measured.cycles)} cycles")
    print(f"measured in {min(took[1:]):.2f} s: {min(took[1:]) / min(passes):.1f} passes of min and max (limit 12)")
    print(f"memory beside the samples: {peak / size:.2f} times, with them {1 + peak / size:.2f} (limit 3)")


if __name__ == "__main__":
    main()
