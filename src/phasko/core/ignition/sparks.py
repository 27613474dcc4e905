"""The moments at which a coil fires, from its drive or its primary."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.signals.recording import Channel, Recording
from phasko.core.signals.switching import switching_edges

__all__ = ["spark_times_s"]


_QUIET_S = 3e-3
"""Ringing and burning after a spike are over within this."""


def spark_times_s(channel: Channel, recording: Recording) -> Floats:
    """Moments of the sparks, ascending; empty where the coil never fires.

    A drive sparks at its falling edge. A primary sparks where its spike leaves the battery's level by
    ``SPARK_SPIKE_SHARE`` of the largest; where the description does not say which of the two it is, a signal far beyond
    a battery's voltage is a primary. (sparks,) in s.
    """
    samples = channel.samples
    if not np.isfinite(samples).any():
        return np.zeros(0)
    middle, top = float(np.nanmedian(samples)), float(np.nanmax(samples))
    signal = channel.description.signal
    if signal is None:
        signal = "primary" if top > numbers.SPARK_PRIMARY_V.value else "drive"
    if signal == "primary":
        return _spikes(samples, middle + numbers.SPARK_SPIKE_SHARE.value * (top - middle), recording)
    train = switching_edges(channel, recording)
    return np.zeros(0) if train is None else train.of_kind("falling")


def _spikes(samples: NDArray[np.float32], limit: float, recording: Recording) -> Floats:
    """Upward crossings of ``limit``, linear between two samples; those within a spike's ringing are one."""
    above = samples > limit
    rows = np.flatnonzero(above[1:] & ~above[:-1])
    if not rows.size:
        return np.zeros(0)
    low, high = samples[rows].astype(np.float64), samples[rows + 1].astype(np.float64)
    share = np.where(np.isfinite(low), (limit - low) / np.maximum(high - low, 1e-9), 0.5)
    times = recording.start_s + (rows + np.clip(share, 0.0, 1.0)) * recording.interval_s
    first = np.concatenate([[True], np.diff(times) > _QUIET_S])
    return np.asarray(times[first], dtype=np.float64)
