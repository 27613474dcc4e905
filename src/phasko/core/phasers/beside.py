"""What else was recorded while a phaser was driven: oil pressure, temperature, whatever has a unit of its own."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np

from phasko.core.phasers.command import PhaserCommands
from phasko.core.signals.recording import Recording

__all__ = ["Beside", "recorded_beside"]


@dataclass(frozen=True, slots=True)
class Beside:
    """Mean of another channel before the phaser was driven, and while it was, in its ``unit``."""

    channel: str
    unit: str
    at_rest: float
    driven: float


def recorded_beside(recording: Recording, commands: PhaserCommands) -> tuple[Beside, ...]:
    """Every other channel with a unit of its own, at rest and driven; volts say nothing by themselves."""
    first = commands.steps[0].at_s
    spans = [
        (step.at_s, after.at_s if after is not None else recording.start_s + recording.duration_s)
        for step, after in itertools.zip_longest(commands.steps, commands.steps[1:])
        if step.after > 0.0
    ]
    found = []
    for channel in recording.with_role("other"):
        unit = channel.description.scaled_unit or channel.description.unit
        if unit == "V" or not spans:
            continue
        times = recording.start_s + recording.interval_s * np.arange(channel.samples.size)
        rest = channel.samples[times < first]
        driven = channel.samples[np.any([(times >= low) & (times < high) for low, high in spans], axis=0)]
        if np.isfinite(rest).any() and np.isfinite(driven).any():
            found.append(Beside(channel.name, unit, float(np.nanmean(rest)), float(np.nanmean(driven))))
    return tuple(found)
