"""The pressure in one cylinder over its own crank angle: cycles of one state, on one grid."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats, Samples
from phasko.core.crank.segments import Segment, SegmentKind
from phasko.core.cycle.angle_grid import interval_means
from phasko.core.cycle.cycle_half import PieceTurn
from phasko.core.signals.recording import Channel, Recording

__all__ = ["AXIS_DEG", "PressureTrace", "converter_step", "pressure_trace", "rest_reading_bar", "trace_between"]

_POINTS = 720
AXIS_DEG: Floats = np.asarray(-360.0 + 720.0 / _POINTS * (np.arange(_POINTS) + 0.5), dtype=np.float64)
"""Middle of each step, degrees after the place where the crank wheel has the cylinder's firing TDC."""


@dataclass(frozen=True, slots=True)
class PressureLead:
    """What lies between the gas and the converter: by how much sensor and hose are behind (s), with its standard
    deviation, and what a hose adds to the clearance (m3)."""

    lag_s: float
    lag_sd_s: float
    hose_m3: float = 0.0


@dataclass(frozen=True, slots=True, eq=False)
class PressureTrace:
    """Cycles of one cylinder in one state. ``absolute_bar`` (cycles, points) over ``AXIS_DEG``, ``at_s`` (cycles,) when
    its TDC passes; ``cycle_rpm`` (cycles, points) the crank's speed there; ``step_bar`` the smallest step that its
    converter makes; ``zero_bar`` what it reads at rest above the outside, taken off already, ``None`` where the capture
    holds no rest. ``pace_sd_deg``: what not knowing the crank's angle inside a cycle leaves of every angle."""

    cylinder: int
    channel: str
    segment: SegmentKind
    absolute_bar: Floats
    at_s: Floats
    cycle_rpm: Floats
    step_bar: float
    zero_bar: float | None
    ambient_bar: float
    lead: PressureLead
    pace_sd_deg: float = 0.0

    @property
    def mean_bar(self) -> Floats:
        """The mean cycle, absolute, of shape (points,) in bar."""
        return np.asarray(self.absolute_bar.mean(axis=0))

    @property
    def speed_rpm(self) -> Floats:
        """The crank's speed over the mean cycle, of shape (points,) in rpm."""
        return np.asarray(self.cycle_rpm.mean(axis=0))

    @property
    def mean_rpm(self) -> float:
        return float(self.speed_rpm.mean())

    @property
    def peak_axis_deg(self) -> float:
        """Where the mean cycle is highest, on ``AXIS_DEG``: the middle of the highest twentieth of its swing."""
        mean = self.mean_bar
        top = int(mean.argmax())
        turned = np.roll(mean, mean.size // 2 - top)
        high = turned > turned.min() + 0.95 * (turned.max() - turned.min())
        middle = float(np.flatnonzero(high).mean()) - mean.size // 2
        step = 720.0 / _POINTS
        return float((AXIS_DEG[top] + middle * step + 360.0) % 720.0 - 360.0)


def pressure_trace(
    channel: Channel, recording: Recording, pieces: Sequence[PieceTurn], segment: Segment, tdc_deg: float
) -> PressureTrace | None:
    """The cycles of a segment at steady speed; ``None`` with fewer than ``PRESSURE_CYCLES_LEAST``, or with missing
    samples in all of them. ``tdc_deg``: the cylinder's firing TDC after that of cylinder 1, by the profile."""
    moments = _cycles(pieces, segment, tdc_deg)
    if not moments:
        return None
    rest = rest_reading_bar(channel, recording, pieces)
    return _trace(channel, recording, np.array(moments), segment.kind, rest)


def trace_between(channel: Channel, recording: Recording, edges_s: Floats, pace_sd_deg: float) -> PressureTrace | None:
    """The same of a capture without a crank signal, between moments that its own peaks gave: ``edges_s`` of
    shape (cycles, steps + 1) in s about the cylinder's TDC, ``pace_sd_deg`` what they leave open."""
    made = _trace(channel, recording, edges_s, "cranking", None)
    return None if made is None else replace(made, pace_sd_deg=pace_sd_deg)


def _trace(
    channel: Channel, recording: Recording, edges: Floats, kind: SegmentKind, rest_bar: float | None
) -> PressureTrace | None:
    """``edges`` (cycles, steps + 1) in s."""
    # A cycle that reaches beyond the teeth that were counted stands still there.
    edges = edges[(np.diff(edges, axis=1) > 0.0).all(axis=1)]
    if not len(edges):
        return None
    rpm = 120.0 / (edges[:, -1] - edges[:, 0])
    steady = np.abs(rpm / np.median(rpm) - 1.0) < numbers.COMPRESSION_SETTLED_SHARE.value
    if recording.description.phasers == "sweep":
        # A sweep is watched cycle by cycle, and an idling engine answers it by its speed.
        steady = np.ones(rpm.size, dtype=bool)
    edges = edges[steady]
    read = interval_means(channel.samples, edges, recording.start_s, recording.interval_s)
    whole = np.isfinite(read).all(axis=1)
    if whole.sum() < numbers.PRESSURE_CYCLES_LEAST.value:
        return None
    about = recording.description
    ambient = 1.0 if about.ambient_bar is None else about.ambient_bar
    absolute = channel.description.reference == "absolute"
    zero = None if rest_bar is None else rest_bar - (ambient if absolute else 0.0)
    return PressureTrace(
        cylinder=channel.description.cylinder or 1,
        channel=channel.name,
        segment=kind,
        at_s=edges[whole][:, _POINTS // 2],
        absolute_bar=read[whole] - (zero or 0.0) + (0.0 if absolute else ambient),
        cycle_rpm=np.asarray(720.0 / _POINTS / 6.0 / np.diff(edges[whole], axis=1)),
        step_bar=converter_step(channel.samples),
        zero_bar=zero,
        ambient_bar=ambient,
        lead=_lead(channel),
    )


def _lead(channel: Channel) -> PressureLead:
    sensor = numbers.TRANSDUCER_LAG_S.value
    if channel.description.adapter != "hose":
        return PressureLead(sensor, 0.5 * sensor)
    hose = numbers.HOSE_LAG_S.value
    volume = channel.description.hose_volume_cm3
    return PressureLead(sensor + hose, hose, 1e-6 * (numbers.HOSE_CM3.value if volume is None else volume))


def rest_reading_bar(channel: Channel, recording: Recording, pieces: Sequence[PieceTurn]) -> float | None:
    """What the channel reads before the engine turns; ``None`` where it turns from the start."""
    turns_s = min((float(turn.piece.times_s[0]) for turn in pieces), default=recording.start_s)
    count = int((turns_s - recording.start_s - numbers.REST_MARGIN_S.value) / recording.interval_s)
    if count * recording.interval_s < numbers.REST_LEAST_S.value:
        return None
    value = float(np.nanmean(channel.samples[:count]))
    return value if np.isfinite(value) else None


def _cycles(pieces: Sequence[PieceTurn], segment: Segment, tdc_deg: float) -> list[Floats]:
    """Moments of all steps of every whole cycle about the cylinder's TDC that lies in the segment."""
    found = []
    for turn in pieces:
        low_s = max(turn.piece.usable_s[0], segment.from_s)
        high_s = min(turn.piece.usable_s[1], segment.to_s)
        if high_s <= low_s:
            continue
        low, high = (float(a) + turn.turn_deg - tdc_deg for a in turn.piece.angle_deg(np.array([low_s, high_s])))
        for cycle in range(int(np.ceil((low + 360.0) / 720.0)), int(np.floor((high - 360.0) / 720.0)) + 1):
            angles = 720.0 * cycle - 360.0 + 720.0 / _POINTS * np.arange(_POINTS + 1)
            edges = turn.piece.time_s(np.asarray(angles + tdc_deg - turn.turn_deg))
            if not any(hole[0] < edges[-1] and hole[1] > edges[0] for hole in turn.piece.holes_s):
                found.append(edges)
    return found


def converter_step(samples: Samples) -> float:
    """The smallest step between samples (n,) that differ, in their unit: what the converter can tell apart."""
    seen = np.unique(samples[np.isfinite(samples)])
    if seen.size < 2:
        return 0.0
    steps = np.diff(seen)
    # Rounding to float32 splits one level into several.
    real = steps[steps > 1e-4 * float(np.ptp(seen))]
    return float(np.quantile(real, 0.1)) if real.size else 0.0
