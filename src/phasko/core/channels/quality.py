"""How good each channel of a recording is, in plain words, and what to change before the car leaves the ramp."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.channels.shape import Shape, shape_of
from phasko.core.documents.engine import EngineProfile
from phasko.core.signals.recording import Channel, Recording

__all__ = ["ChannelQuality", "Remark", "judge_quality"]

Code = Literal[
    "clipped",
    "clipped_inrush",
    "too_coarse",
    "noisy",
    "hum",
    "too_slow",
    "drifts",
    "not_zeroed",
    "turned",
    "missing",
    "flat",
    "scale",
]

_SWITCHED = ("crank", "cam", "aux")
_LOGIC_V = (4.0, 16.0)


@dataclass(frozen=True, slots=True)
class Remark:
    """One thing about a channel: what was seen, and what to do (empty where nothing needs doing). ``hurts``: a
    measurement suffers from it. ``factor``: by which values would have to be multiplied to be plausible. ``zero``: what
    to take off before scaling, in the unit that was recorded, so that it reads nothing at rest; ``then`` says what it
    would read."""

    code: Code
    text: str
    remedy: str
    hurts: bool
    factor: float | None = None
    zero: float | None = None
    then: str = ""


@dataclass(frozen=True, slots=True)
class ChannelQuality:
    """All remarks on one channel; none where it is good."""

    column: str
    remarks: tuple[Remark, ...]

    @property
    def good(self) -> bool:
        return not any(remark.hurts for remark in self.remarks)


def judge_quality(recording: Recording, profile: EngineProfile) -> tuple[ChannelQuality, ...]:
    """Every channel by its samples (scaled) and its role."""
    found = []
    for channel in recording.channels:
        shape = shape_of(channel.name, channel.unit, channel.samples, recording.start_s, recording.interval_s)
        found.append(ChannelQuality(channel.name, tuple(_remarks(channel, shape, recording, profile))))
    return tuple(found)


def _remarks(channel: Channel, shape: Shape, recording: Recording, profile: EngineProfile) -> Iterator[Remark]:
    missing = _missing(channel, recording)
    if missing is not None:
        yield missing
    if shape.kind == "flat":
        if channel.description.role not in ("other", "phaser_command"):
            text = f"Flat at {shape.middle:.3g} {channel.unit}: nothing switches or swings."
            yield Remark("flat", text, "Check the lead, the ground and the wire that was probed.", True)
        return
    yield from _scale(channel, shape)
    if channel.description.role in _SWITCHED or shape.kind == "switching":
        yield from _of_edges(channel, shape, profile)
    else:
        yield from _of_humps(channel, shape, recording)
    hum = _hum(shape)
    if hum is not None:
        yield hum


def _missing(channel: Channel, recording: Recording) -> Remark | None:
    """Samples that are not there."""
    bad = ~np.isfinite(channel.samples)
    count = int(np.count_nonzero(bad))
    if not count:
        return None
    edges = np.flatnonzero(np.diff(np.concatenate([[0], bad.view(np.int8), [0]])))
    longest_s = float((edges[1::2] - edges[::2]).max()) * recording.interval_s
    share = count / channel.samples.size
    text = f"{count} samples are missing ({_percent(share)}), {1000 * longest_s:.3g} ms at the longest."
    remedy = "Out of range or lost by the export: choose a larger range, or export again."
    return Remark("missing", text, remedy, share > 1e-3)


def _scale(channel: Channel, shape: Shape) -> Iterator[Remark]:
    """Voltages that no such sensor gives: the probe's factor was not told, or told twice."""
    role, unit = channel.description.role, channel.unit
    if unit != "V":
        return
    seen, wanted = None, ""
    if role in _SWITCHED and shape.kind == "switching" and shape.edges is not None:
        seen, wanted = shape.edges.levels.amplitude, "a sensor switches 5 V or the battery's voltage"
    elif role == "battery_voltage" and channel.description.coupling == "dc":
        seen, wanted = abs(shape.middle), "a battery has 6 to 16 V while cranking"
    if seen is None or seen == 0.0 or 0.35 * _LOGIC_V[0] <= seen <= 2.0 * _LOGIC_V[1]:
        return
    for factor in (0.1, 0.01, 10.0, 100.0):
        if _LOGIC_V[0] <= seen * factor <= _LOGIC_V[1]:
            text = f"Reads {seen:.3g} V, but {wanted}."
            remedy = f"Was the probe's factor set right? Multiplied by {factor:g} it would be {seen * factor:.3g} V."
            yield Remark("scale", text, remedy, True, factor)
            return


def _of_edges(channel: Channel, shape: Shape, profile: EngineProfile) -> Iterator[Remark]:
    amplitude = shape.edges.levels.amplitude if shape.edges is not None else shape.amplitude
    noise = shape.edges.levels.noise if shape.edges is not None else shape.noise
    step = _step(shape)
    if step and amplitude / step < 12:
        text = f"Only {amplitude / step:.0f} steps of the converter between low and high."
        yield Remark("too_coarse", text, "Choose a smaller range.", amplitude / step < 6)
    if noise > 0.06 * amplitude:
        text = f"Noisy: {noise:.2g} {channel.unit} on a swing of {amplitude:.2g}."
        yield Remark(
            "noisy", text, "Move the ground clip to the sensor's own ground, keep leads off the ignition.", True
        )
    if channel.description.role == "crank":
        slow = _too_slow(shape, profile)
        if slow is not None:
            yield slow
    if shape.edges is not None:
        low = _low_levels(shape, shape.edges.levels.at(0.5))
        if low.size > 3 and float(np.ptp(low)) > 0.2 * amplitude:
            text = f"The low level drifts by {float(np.ptp(low)):.2g} {channel.unit}."
            yield Remark("drifts", text, "Check the ground; switch the input to DC.", False)


def _too_slow(shape: Shape, profile: EngineProfile) -> Remark | None:
    """Too few samples a tooth."""
    train = shape.edges or shape.waves
    if train is None:
        return None
    times = train.of_kind(profile.crank.timing_edge)
    if times.size < 8:
        return None
    per_tooth = float(np.quantile(np.diff(times), 0.1)) / train.interval_s
    wanted = numbers.SAMPLES_PER_TOOTH_GOOD.value
    if per_tooth >= wanted:
        return None
    rate = wanted / per_tooth / train.interval_s
    text = f"{per_tooth:.1f} samples a tooth; {wanted:.0f} or more are wanted."
    remedy = f"Record at {_rounded_up(rate) / 1000:.0f} kS/s or more."
    return Remark("too_slow", text, remedy, per_tooth < numbers.SAMPLES_PER_TOOTH_MIN.value)


def _of_humps(channel: Channel, shape: Shape, recording: Recording) -> Iterator[Remark]:
    role = channel.description.role
    swing = shape.settled_swing
    clipped = _clipped(channel, recording)
    if clipped is not None and role != "other":
        yield clipped
    step = _step(shape)
    if step and swing / step < 30 and role != "coil":
        text = f"Only {swing / step:.0f} steps of the converter over the humps."
        yield Remark("too_coarse", text, "Choose a smaller range, or AC coupling for the battery.", swing / step < 12)
    if shape.noise > 0.1 * swing and role != "coil":
        text = f"Noisy: {shape.noise:.2g} {channel.unit} on humps of {swing:.2g}."
        yield Remark("noisy", text, "Keep leads off the ignition; close the clamp fully.", shape.noise > 0.3 * swing)
    if role in ("starter_current", "cylinder_pressure"):
        yield from _zero(channel, shape, swing)


def _zero(channel: Channel, shape: Shape, swing: float) -> Iterator[Remark]:
    """A clamp or transducer that does not read nothing at rest, or is turned round."""
    samples = channel.samples[np.isfinite(channel.samples)].astype(np.float64)
    parts = np.array_split(samples, min(400, samples.size))
    blocks = np.array([part.mean() for part in parts])
    steady = np.array([part.std() for part in parts]) < 0.05 * swing + 2.0 * shape.noise
    current = channel.description.role == "starter_current"
    if current and abs(shape.low) > 2.0 * abs(shape.high) and np.median(blocks) < 0:
        text = "The clamp is turned round: the humps point down."
        yield Remark("turned", text, "Turn the clamp, or the sign of the scale.", False, -1.0)
    at_rest = [
        part for part in (slice(0, 8), slice(-8, None)) if steady[part].all() and np.ptp(blocks[part]) < 0.05 * swing
    ]
    if not at_rest:
        return
    rest = float(np.median(blocks[at_rest[0]]))
    limit = max(2.0, 0.05 * swing) if current else max(0.05, 0.01 * swing)
    absolute = channel.description.reference == "absolute"
    if abs(rest) > limit and not absolute:
        text = f"Reads {rest:.2g} {channel.unit} where it should read nothing."
        thing = "clamp" if current else "transducer in open air"
        reach = float(np.nanmax(np.abs(channel.samples - np.float32(rest))))
        yield Remark(
            code="not_zeroed",
            text=text,
            remedy=f"Zero the {thing} before recording.",
            hurts=not current,
            zero=rest / channel.description.scale,
            then=f"It then reads 0 {channel.unit} at rest and {reach:.3g} {channel.unit} at most.",
        )


def _clipped(channel: Channel, recording: Recording) -> Remark | None:
    """Stretches that stand at the largest or smallest value: the range was too small."""
    samples = channel.samples
    finite = samples[np.isfinite(samples)]
    top, bottom = float(finite.max()), float(finite.min())
    for limit in (top, bottom):
        at = np.flatnonzero(samples == np.float32(limit))
        runs = np.split(at, np.flatnonzero(np.diff(at) > 1) + 1)
        long = [run for run in runs if run.size >= 8]
        many = sum(run.size for run in long)
        close = np.count_nonzero(np.abs(finite - limit) < 0.02 * (top - bottom)) - at.size
        if (
            many < 20
            or close > at.size
            or abs(limit - float(np.median(finite))) < 0.3 * (top - bottom)
            or many > 0.5 * finite.size
        ):
            continue
        if channel.description.role == "starter_current" and _in_inrush(long, samples, recording.interval_s):
            return Remark("clipped_inrush", "Runs off the range in the inrush only: that is no defect.", "", False)
        text = f"Clipped at {limit:.3g} {channel.unit} for {1000 * many * recording.interval_s:.3g} ms in all."
        return Remark("clipped", text, "Choose a larger range.", True)
    return None


def _in_inrush(runs: list[NDArray[np.intp]], samples: NDArray[np.float32], interval_s: float) -> bool:
    """Whether nothing is clipped later than 0.5 s after the first leap."""
    reach = float(np.nanmax(np.abs(samples)))
    first = int(np.argmax(np.abs(samples) > 0.2 * reach))
    return all(int(run[-1]) < first + 0.5 / interval_s for run in runs)


def _step(shape: Shape) -> float:
    """Smallest distance of two values: the converter's step; 0 where samples are all different."""
    finite = shape.samples[np.isfinite(shape.samples)][:200_000]
    values = np.unique(finite)
    return float(np.diff(values).min()) if 2 <= values.size < 2000 else 0.0


def _low_levels(shape: Shape, border: float) -> Floats:
    """Medians of the samples below the border, in eight parts of the recording."""
    sides = [part[part < border] for part in np.array_split(shape.samples, 8)]
    return np.array([float(np.median(side)) for side in sides if side.size > 50], dtype=np.float64)


def _hum(shape: Shape) -> Remark | None:
    """A sine of the mains on the level where the signal rests."""
    samples = shape.samples[np.isfinite(shape.samples)].astype(np.float64)
    step = max(1, int(5e-4 / shape.recording.interval_s))
    if shape.edges is not None:
        levels = shape.edges.levels
        half = np.where(samples > levels.at(0.5), levels.high, levels.low)
        samples = np.clip(samples - half, -0.2 * levels.amplitude, 0.2 * levels.amplitude)
        swing = levels.amplitude
    else:
        swing = shape.settled_swing
    thin = samples[: samples.size // step * step].reshape(-1, step).mean(axis=1)
    interval_s = step * shape.recording.interval_s
    if thin.size * interval_s < 0.5:
        return None
    for mains in (50.0, 60.0):
        around = [_amplitude(thin, interval_s, mains + off) for off in (-9, -7, -5, 5, 7, 9)]
        own = _amplitude(thin, interval_s, mains)
        if own > 0.02 * swing and own > 8.0 * float(np.median(around)):
            text = f"Hum of the mains ({mains:.0f} Hz), {own:.2g} {shape.unit or 'V'} high."
            return Remark("hum", text, "Unplug the charger; take the ground from the engine.", own > 0.1 * swing)
    return None


def _amplitude(values: Floats, interval_s: float, hertz: float) -> float:
    window = np.hanning(values.size)
    turning = np.exp(-2j * np.pi * hertz * interval_s * np.arange(values.size))
    return float(2.0 * np.abs(np.sum(window * (values - values.mean()) * turning)) / window.sum())


def _percent(share: float) -> str:
    return f"{100 * share:.2g} %"


def _rounded_up(rate_hz: float) -> float:
    steps = [base * 10.0**power for power in range(2, 8) for base in (1, 2, 5)]
    return next((step for step in steps if step >= rate_hz), rate_hz)
