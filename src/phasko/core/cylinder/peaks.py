"""Compression peaks of an in-cylinder pressure channel: one per cycle, close to that cylinder's firing TDC."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import scipy

from phasko.core import numbers
from phasko.core.angles import wrap_cycle
from phasko.core.arrays import Floats
from phasko.core.cycle.cycle_half import PieceTurn
from phasko.core.documents.engine import EngineProfile
from phasko.core.signals.recording import Channel, Recording

__all__ = ["peak_times_s", "turn_by_pressure"]


_STEP_S = 5e-4
"""Step at which peaks are looked for, in s. Peaks of cranking are some twenty milliseconds wide."""


def peak_times_s(channel: Channel, recording: Recording) -> Floats:
    """Moments of the compression peaks, ascending; empty where nothing stands out by ``PRESSURE_PEAK_LEAST_BAR``.

    A peak is the middle of what lies above 0.9 of its height, which noise and coarse steps move little. (peaks,) in s.
    """
    samples = np.nan_to_num(channel.samples, nan=float(np.nanmedian(channel.samples)) if channel.samples.size else 0.0)
    step = max(1, round(_STEP_S / recording.interval_s))
    count = samples.size // step
    if count < 3:
        return np.zeros(0)
    coarse = samples[: count * step].reshape(count, step).mean(axis=1).astype(np.float64)
    base, top = float(np.median(coarse)), float(coarse.max())
    if top - base < numbers.PRESSURE_PEAK_LEAST_BAR.value:
        return np.zeros(0)
    height = base + 0.4 * (top - base)
    apart = max(1, round(numbers.PRESSURE_PEAKS_APART_S.value / (step * recording.interval_s)))
    rows, _ = scipy.signal.find_peaks(coarse, height=height, distance=apart)
    middles = []
    for row in rows.tolist():
        level = base + 0.9 * (coarse[row] - base)
        left = row - int(np.argmax(coarse[row::-1] < level))
        right = row + int(np.argmax(coarse[row:] < level))
        middles.append(0.5 * (left + right) if left < row < right else float(row))
    return np.asarray(recording.start_s + (np.array(middles) + 0.5) * step * recording.interval_s, dtype=np.float64)


def turn_by_pressure(recording: Recording, engine: EngineProfile, pieces: Sequence[PieceTurn]) -> float | None:
    """Which turn to add (0 or 360) so that the peaks fall on their cylinder's firing TDC; ``None`` where no channel
    peaks once per cycle close to a TDC, or two contradict each other."""
    votes = set()
    for channel in recording.with_role("cylinder_pressure"):
        cylinder = channel.description.cylinder
        times = peak_times_s(channel, recording)
        if cylinder not in engine.firing_tdc_deg:
            continue
        for turn in pieces:
            inside = times[turn.piece.usable(times)]
            after = turn.piece.angle_deg(inside) + turn.turn_deg - engine.firing_tdc_deg[cylinder]
            off = np.array([wrap_cycle(a) for a in after.tolist()])
            near, far = np.abs(off) < 60.0, np.abs(off) > 300.0
            if off.size >= 2 and max(near.mean(), far.mean()) > 0.8:
                votes.add(0.0 if near.mean() > far.mean() else 360.0)
    return votes.pop() if len(votes) == 1 else None
