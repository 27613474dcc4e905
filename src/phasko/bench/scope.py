"""The simulated scope: turns a motion and a hook-up into a recorded capture with the truth beside it."""

from __future__ import annotations

import io
import json
from dataclasses import dataclass

import numpy as np
import pyarrow as pa
from numpy.typing import NDArray
from pyarrow.csv import WriteOptions, write_csv

from phasko.bench.arrays import Bools, Floats
from phasko.bench.hookup import HallSensor, HookUp, Nuisances, Shift
from phasko.bench.motion import Cranking, CrankMotion, crank_motion
from phasko.core.documents import CaptureDescription, EngineProfile

__all__ = ["BenchCapture", "capture_files", "record"]


@dataclass(frozen=True, slots=True, eq=False)
class BenchCapture:
    """Samples in volts by column, the description that goes beside them, and what was really true."""

    description: CaptureDescription
    interval_s: float
    columns: dict[str, NDArray[np.float32]]
    true_cam_offsets_deg: dict[str, float]
    true_crank_wheel_deg: float
    seed: int


def record(
    engine: EngineProfile,
    seed: int,
    *,
    cranking: Cranking | None = None,
    hookup: HookUp | None = None,
    shift: Shift | None = None,
    nuisances: Nuisances | None = None,
    name: str = "capture",
) -> BenchCapture:
    """Cranks the engine once and records crank and cams; the same seed gives the same samples to the bit."""
    rng = np.random.default_rng(seed)
    hookup, shift, nuisances = hookup or HookUp(), shift or Shift(), nuisances or Nuisances()
    cranking = cranking or Cranking()
    motion = crank_motion(engine, cranking, rng)
    columns = {"c1": _signal(*_crank_edges(engine, motion, shift, nuisances, rng), motion, hookup.crank, hookup, rng)}
    channels: list[dict[str, object]] = [{"column": "c1", "role": "crank", "unit": "V"}]
    cams = [cam for cam in engine.cams if hookup.cams is None or cam.id in hookup.cams]
    for i, cam in enumerate(cams, start=2):
        edges = [(edge.deg, edge.kind == "rising") for edge in cam.edges]
        moved = shift.cams_deg.get(cam.id, 0.0)
        times, rising = _cam_edges(edges, moved, motion, nuisances, rng)
        columns[f"c{i}"] = _signal(times, rising, motion, hookup.cam, hookup, rng)
        channels.append({"column": f"c{i}", "role": "cam", "cam": cam.id, "unit": "V"})
    description = CaptureDescription.model_validate(
        {
            "schema": "phasko.capture/1",
            "data": f"{name}.csv",
            "condition": "cranking",
            "phasers": "unplugged",
            "temperature": "hot",
            "throttle": "open",
            "channels": channels,
        }
    )
    reads = {cam.id: shift.cams_deg.get(cam.id, 0.0) - shift.crank_wheel_deg for cam in cams}
    return BenchCapture(description, 1.0 / hookup.sample_rate_hz, columns, reads, shift.crank_wheel_deg, seed)


def _crank_edges(
    engine: EngineProfile, motion: CrankMotion, shift: Shift, nuisances: Nuisances, rng: np.random.Generator
) -> tuple[Floats, Bools]:
    crank = engine.crank
    teeth = np.array(crank.known_wheel.angles_deg)
    placed = teeth + nuisances.tooth_deg * rng.standard_normal(teeth.size)
    other = crank.tooth_deg if crank.tooth_deg is not None else (crank.known_wheel.pitch_deg or 6.0) / 2
    first = (crank.index_deg or 0.0) + shift.crank_wheel_deg
    turns = np.arange(motion.angles_deg[0] // 360.0 - 2, motion.angles_deg[-1] // 360.0 + 3)
    timing = (first + placed[None, :] + 360.0 * turns[:, None]).ravel()
    both = np.concatenate([timing, timing + other])
    rising = np.concatenate([np.full(timing.size, crank.timing_edge == "rising")] * 2)
    rising[timing.size :] = ~rising[timing.size :]
    return _in_time(both, rising, motion)


def _cam_edges(
    edges: list[tuple[float, bool]], moved: float, motion: CrankMotion, nuisances: Nuisances, rng: np.random.Generator
) -> tuple[Floats, Bools]:
    cycles = np.arange(motion.angles_deg[0] // 720.0 - 1, motion.angles_deg[-1] // 720.0 + 2)
    fixed = nuisances.profile_edge_deg * rng.standard_normal(len(edges))
    swing = nuisances.cam_swing_deg * rng.standard_normal(cycles.size)
    place = np.array([deg for deg, _ in edges]) + fixed + moved
    angles = place[None, :] + 720.0 * cycles[:, None] + swing[:, None]
    angles = angles + nuisances.cam_jitter_deg * rng.standard_normal(angles.shape)
    rising = np.tile(np.array([kind for _, kind in edges]), (cycles.size, 1))
    return _in_time(angles.ravel(), rising.ravel(), motion)


def _in_time(angles: Floats, rising: Bools, motion: CrankMotion) -> tuple[Floats, Bools]:
    """Edge times in order; the edge that set the level before the motion began is kept at minus infinity."""
    order = np.argsort(angles, kind="stable")
    angles, rising = angles[order], rising[order]
    before = angles < motion.angles_deg[0]
    opening = rising[before][-1:]
    times = motion.times_at(angles)
    seen = np.isfinite(times)
    return np.concatenate([np.full(opening.size, -np.inf), times[seen]]), np.concatenate([opening, rising[seen]])


def _signal(
    times: Floats,
    rising: Bools,
    motion: CrankMotion,
    sensor: HallSensor,
    hookup: HookUp,
    rng: np.random.Generator,
) -> NDArray[np.float32]:
    """The sensor's voltage at each sample: straight edges of ``edge_s``, noise, hum, then the converter's steps."""
    count = round(motion.end_s * hookup.sample_rate_hz)
    t = np.arange(count) / hookup.sample_rate_hz
    half = sensor.edge_s / 2
    finite = np.isfinite(times)
    state_before = np.concatenate([[not rising[0]], rising[:-1]]).astype(float)
    opening = float(rising[~finite][-1]) if (~finite).any() else float(not rising[0])
    knots = np.column_stack([times[finite] - half, times[finite] + half]).ravel()
    states = np.column_stack([state_before[finite], rising[finite].astype(float)]).ravel()
    level = np.interp(t, knots, states, left=opening) if knots.size else np.full(count, opening)
    volts = sensor.low_v + (sensor.high_v - sensor.low_v) * level
    volts = volts + sensor.noise_v * rng.standard_normal(count)
    volts = volts + sensor.hum_v * np.sin(2 * np.pi * 50.0 * t + rng.uniform(0, 2 * np.pi))
    step = 2 * hookup.range_v / 2**hookup.bits
    clipped = np.clip(volts, -hookup.range_v, hookup.range_v - step)
    return np.asarray(np.rint(clipped / step) * step, dtype=np.float32)


def capture_files(capture: BenchCapture) -> dict[str, bytes]:
    """The capture as files of the public formats: ``NAME.csv``, ``NAME.capture.json``, ``NAME.truth.json``."""
    name = capture.description.data.removesuffix(".csv")
    count = next(iter(capture.columns.values())).size
    columns = {"time_s": np.arange(count) * capture.interval_s, **capture.columns}
    rounded = {column: np.round(np.asarray(v, dtype=np.float64), 7) for column, v in columns.items()}
    buffer = io.BytesIO()
    write_csv(pa.table(rounded), buffer, WriteOptions(quoting_style="none", quoting_header="none"))
    truth = {
        "seed": capture.seed,
        "cam_offsets_deg": capture.true_cam_offsets_deg,
        "crank_wheel_deg": capture.true_crank_wheel_deg,
    }
    described = capture.description.model_dump(mode="json", by_alias=True, exclude_none=True)
    return {
        f"{name}.csv": buffer.getvalue(),
        f"{name}.capture.json": (json.dumps(described, indent=1) + "\n").encode(),
        f"{name}.truth.json": (json.dumps(truth, indent=1) + "\n").encode(),
    }
