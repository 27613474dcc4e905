"""Mean pressures while cranking, from gauges that feel them: suck or push at the throttle, back pressure."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from phasko.core import numbers
from phasko.core.cycle.angle_grid import CrankingCycles
from phasko.core.signals.pressure_units import to_bar
from phasko.core.signals.recording import Channel, Recording
from phasko.core.uncertainty import NORMAL_95

__all__ = ["Manifold", "ManifoldState", "mean_pressures"]

ManifoldState = Literal["sucks", "pushes", "neither", "back_pressure", "free"]


@dataclass(frozen=True, slots=True)
class Manifold:
    """Mean gauge pressure in the intake or the exhaust over the settled cranking cycles, with its 95 % half width."""

    place: Literal["intake", "exhaust"]
    channel: str
    mean_bar: float
    u95_bar: float
    state: ManifoldState


def mean_pressures(recording: Recording, settled: CrankingCycles) -> tuple[Manifold, ...]:
    """One entry per intake or exhaust channel that is a DC-coupled pressure; pulse sensors in volts feel no mean.

    An engine whose valves are in time sucks at the throttle whatever its plate does; one that pushes has valves far
    out of time (common practice, no source). Zero counts as neither within the sensor's own error.
    """
    found = []
    for place, role in (("intake", "intake_pulse"), ("exhaust", "exhaust_pulse")):
        for channel in recording.with_role(role):  # type: ignore[arg-type]
            mean = _mean_bar(channel, recording, settled)
            if mean is not None:
                found.append(_judged(place, channel.name, *mean))  # type: ignore[arg-type]
    return tuple(found)


def _mean_bar(channel: Channel, recording: Recording, settled: CrankingCycles) -> tuple[float, float] | None:
    """(mean gauge pressure, half width), in bar."""
    described = channel.description
    bar = to_bar(channel.unit)
    if bar is None or described.coupling == "ac":
        return None
    cycles = settled.signal(channel.samples, recording.start_s, recording.interval_s) * bar
    cycles = cycles[np.isfinite(cycles).all(axis=1)]
    if len(cycles) < numbers.COMPRESSION_CYCLES_LEAST.value:
        return None
    means = cycles.mean(axis=1)
    if described.reference == "absolute":
        ambient = recording.description.ambient_bar
        outside = numbers.AMBIENT_UNKNOWN_U95_BAR.value if ambient is None else 0.0
        means = means - (1.0 if ambient is None else ambient)
    else:
        outside = 0.0
    own = NORMAL_95 * float(means.std(ddof=1)) / np.sqrt(means.size)
    zero = numbers.GAUGE_ZERO_U95_BAR.value
    return float(means.mean()), float(np.sqrt(own**2 + zero**2 + outside**2))


def _judged(place: Literal["intake", "exhaust"], channel: str, mean: float, u95: float) -> Manifold:
    if place == "intake":
        state: ManifoldState = "sucks" if mean + u95 < 0 else "pushes" if mean - u95 > 0 else "neither"
    else:
        state = "back_pressure" if mean - u95 > numbers.EXHAUST_MEAN_MOST_BAR.value else "free"
    return Manifold(place, channel, mean, u95, state)
