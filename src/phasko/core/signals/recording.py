"""A capture in memory: evenly sampled channels in their scaled unit, on one time base."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from phasko.core.arrays import Samples
from phasko.core.documents.capture import CaptureDescription, ChannelDescription, Role

__all__ = ["Channel", "Recording", "Samples", "scaled_samples"]


@dataclass(frozen=True, slots=True, eq=False)
class Channel:
    """One column: its description and its samples after ``raw * scale + offset``. Missing samples are NaN."""

    description: ChannelDescription
    samples: Samples

    @property
    def name(self) -> str:
        return self.description.column

    @property
    def unit(self) -> str:
        return self.description.scaled_unit or self.description.unit


@dataclass(frozen=True, slots=True, eq=False)
class Recording:
    """All channels of one capture; sample i of every channel is taken at ``start_s + i * interval_s``.

    ``dropped``: how many samples each channel had where they are no longer held (``None``: they are).
    ``cut_off``: where its file ended before it should, in words.
    """

    file: str
    description: CaptureDescription
    start_s: float
    interval_s: float
    channels: tuple[Channel, ...]
    dropped: int | None = None
    cut_off: str | None = None

    @property
    def sample_count(self) -> int:
        """Samples per channel, those included that are no longer held."""
        if self.dropped is not None:
            return self.dropped
        return int(self.channels[0].samples.size) if self.channels else 0

    @property
    def duration_s(self) -> float:
        return self.sample_count * self.interval_s

    def without_samples(self) -> Recording:
        """The same without its samples, for what was measured already and is only looked at: a few kilobytes."""
        empty = np.empty(0, dtype=np.float32)
        bare = tuple(Channel(channel.description, empty) for channel in self.channels)
        return replace(self, channels=bare, dropped=self.sample_count)

    def with_role(self, role: Role) -> tuple[Channel, ...]:
        """Channels of that role, in the order of the description."""
        return tuple(channel for channel in self.channels if channel.description.role == role)


def scaled_samples(raw: Samples, described: ChannelDescription) -> Samples:
    """``raw * scale + offset``, in the channel's scaled unit. ``raw`` and the result: (n,)."""
    if described.scale == 1.0 and described.offset == 0.0:
        return raw
    return np.asarray(raw * np.float64(described.scale) + described.offset, dtype=np.float32)
