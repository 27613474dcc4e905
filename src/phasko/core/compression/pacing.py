"""The rhythm of the humps alone, followed from hump to hump while the starter turns."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np
import scipy

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.signals.recording import Channel, Recording

__all__ = ["COARSE_SWINGS", "SWINGS", "hump_knots", "swings", "turning_span_s"]


_STEP_S = 2e-3
_QUICKEST_CYCLE_S, _SLOWEST_CYCLE_S = 0.3, 1.5
"""Shortest and longest cycle of a cranking engine in s: 400 and 80 rpm."""

SWINGS = (-0.12, -0.08, -0.05, -0.025, 0.025, 0.05, 0.08, 0.12)
COARSE_SWINGS = (-0.08, 0.08)
"""How far the crank's speed swings about its mean when the starter's signal swings by one standard deviation; least and
most that are tried."""


def hump_knots(recording: Recording, cylinders: int) -> Iterator[tuple[Floats, Floats]]:
    """Every way to read the rhythm as cycles: (moments in s, running angle in deg), as if the strongest line were the
    harmonic of that number of one cycle, as many harmonics as cylinders first.

    The strongest line of the spectrum, then its phase over time by complex demodulation. Both of shape (marks,).
    """
    steady = next((s for channel in _starter(recording) if (s := _steady(channel, recording)) is not None), None)
    if steady is None:
        return
    at, values = steady
    size = 8 * values.size
    spectrum = np.abs(np.fft.rfft(values * np.hanning(values.size), size))
    lines = np.fft.rfftfreq(size, float(at[1] - at[0]))
    likely = (lines >= 1.0 / _SLOWEST_CYCLE_S) & (lines <= cylinders / _QUICKEST_CYCLE_S)
    hz = float(lines[likely][np.argmax(spectrum[likely])])
    for harmonic in range(cylinders, 0, -1):
        if 1.0 / _SLOWEST_CYCLE_S <= hz / harmonic <= 1.0 / _QUICKEST_CYCLE_S:
            found = _phase(at, values, hz, harmonic)
            if found is not None:
                yield found[0], found[1] * 720.0 / harmonic


def swings(
    recording: Recording, knots: tuple[Floats, Floats], shares: Sequence[float]
) -> Iterator[tuple[Floats, Floats]]:
    """The marks with the speed between them swinging along with the starter's signal: not at all, then by more and more
    either way, since the crank slows as the current rises and the voltage falls (V = R i + k omega). ``knots`` and each
    result: of shape (marks,) in s and (marks,) in deg; ``shares`` of the mean speed."""
    yield knots
    times, angles = knots
    channel = next((c for c in _starter(recording) if np.isfinite(c.samples).all()), None)
    if channel is None or times.size < 3:
        return
    coarse, step_s = _coarse(channel, recording)
    at = np.arange(times[0], times[-1], step_s)
    ripple = np.interp(at, recording.start_s + step_s * (np.arange(coarse.size) + 0.5), coarse)
    width = max(3, round(float(np.median(np.diff(times))) / step_s))
    ripple -= np.convolve(np.pad(ripple, width, mode="edge"), np.ones(2 * width + 1) / (2 * width + 1), mode="valid")
    ripple = np.clip(ripple / max(float(np.std(ripple)), 1e-9), -3.0, 3.0)
    base = np.asarray(scipy.interpolate.PchipInterpolator(times, angles)(at))
    part = np.clip(np.searchsorted(times, at[1:], side="left") - 1, 0, times.size - 2)
    for swing in shares:
        grown = np.diff(base) * (1.0 + swing * 0.5 * (ripple[1:] + ripple[:-1]))
        wanted = np.bincount(part, np.diff(base), times.size - 1)
        got = np.bincount(part, grown, times.size - 1)
        scaled = grown * (wanted / np.maximum(got, 1e-9))[part]
        yield at, base[0] + np.concatenate([[0.0], np.cumsum(scaled)])


def _starter(recording: Recording) -> list[Channel]:
    return [*recording.with_role("starter_current"), *recording.with_role("battery_voltage")]


def _coarse(channel: Channel, recording: Recording) -> tuple[Floats, float]:
    """(means of some two milliseconds each, their distance in s)."""
    step = max(1, round(_STEP_S / recording.interval_s))
    count = channel.samples.size // step
    means = channel.samples[: count * step].reshape(count, step).mean(axis=1).astype(np.float64)
    return means, step * recording.interval_s


def turning_span_s(coarse: Floats, step_s: float) -> tuple[float, float] | None:
    """From when to when the starter turns, in s after the first value: where the signal is away from its rest.
    ``coarse`` (n,) in the channel's own unit, one value per ``step_s``."""
    rest = float(np.median(coarse[: max(3, round(0.1 / step_s))]))
    away = np.abs(coarse - rest)
    level = 0.3 * float(np.quantile(away, 0.8))
    turning = np.flatnonzero(np.convolve(away > level, np.ones(51) / 51, mode="same") > 0.5)
    if not turning.size:
        return None
    return float(turning[0]) * step_s, float(turning[-1]) * step_s


def _steady(channel: Channel, recording: Recording) -> tuple[Floats, Floats] | None:
    """(moments, signal without its slow drift) after the inrush while the starter turns."""
    if recording.duration_s < 2.0 * _SLOWEST_CYCLE_S or not np.isfinite(channel.samples).all():
        return None
    coarse, step_s = _coarse(channel, recording)
    span = turning_span_s(coarse, step_s)
    if span is None:
        return None
    first = round((span[0] + numbers.COMPRESSION_INRUSH_S.value) / step_s)
    values = coarse[first : round((span[1] - 0.1) / step_s)]
    if values.size * step_s < 1.2:
        return None
    at = np.asarray(recording.start_s + (first + 0.5 + np.arange(values.size)) * step_s, dtype=np.float64)
    return at, np.asarray(values - np.polynomial.Polynomial.fit(at, values, 3)(at))


def _phase(at_s: Floats, values: Floats, hz: float, harmonic: int) -> tuple[Floats, Floats] | None:
    """(moments, turns of the line of that frequency): every half turn, its phase averaged over one cycle, so that a
    missing hump does not shift it; ``None`` where it does not run steadily."""
    step_s = float(at_s[1] - at_s[0])
    width = max(3, round(harmonic / hz / step_s))
    window = np.hanning(min(2 * width + 3, 2 * (values.size // 2) - 1))[1:-1]
    slow = np.convolve(values * np.exp(-2j * np.pi * hz * at_s), window, mode="same")
    turns = hz * at_s + np.unwrap(np.angle(slow)) / (2 * np.pi)
    if np.any(np.diff(turns) <= 0):
        return None
    whole = np.arange(np.ceil(2 * turns[0]), np.floor(2 * turns[-1])) / 2
    if whole.size < 5:
        return None
    return np.asarray(np.interp(whole, turns, at_s)), np.asarray(whole, dtype=np.float64)
