"""Stretches that a file does not hold: what is missing there says nothing about the sensor."""

from __future__ import annotations

import numpy as np

from phasko.core.arrays import Samples
from phasko.core.signals.recording import Channel, Recording

__all__ = ["Span", "missing_samples", "unrecorded_spans"]

Span = tuple[float, float]
"""From and to, in s."""


def missing_samples(samples: Samples) -> int:
    """How many samples are no numbers. ``samples`` (n,) in any unit."""
    # One sum tells whether there are any, much quicker than looking at each.
    if np.isfinite(np.sum(samples, dtype=np.float32)):
        return 0
    return int(np.count_nonzero(~np.isfinite(samples)))


def unrecorded_spans(channel: Channel, recording: Recording) -> tuple[Span, ...]:
    """Where the channel has no samples: from the last good one before to the first good one after, in s."""
    if not missing_samples(channel.samples):
        return ()
    bad = ~np.isfinite(channel.samples)
    borders = np.flatnonzero(np.diff(np.concatenate([[0], bad.view(np.int8), [0]])))
    first, after = borders[::2] - 1, borders[1::2]
    times = recording.start_s + recording.interval_s * np.stack([first, after], axis=1)
    return tuple((float(low), float(high)) for low, high in times)
