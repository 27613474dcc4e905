"""The crank angle of a cranked engine without a crank signal, from one cylinder's compression peaks."""

from __future__ import annotations

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.cylinder.closed_line import closed_line
from phasko.core.cylinder.cranked_torque import OWN_DEG, cranked_torque
from phasko.core.cylinder.peaks import peak_times_s
from phasko.core.cylinder.pressure_trace import PressureTrace, trace_between
from phasko.core.documents.engine import EngineProfile
from phasko.core.signals.recording import Channel, Recording

__all__ = ["trace_by_peaks"]

_SWINGS = tuple(0.2 * k for k in range(9))
"""By how much the kinetic energy swings within a cycle, of its mean; what is tried."""
_LIKE = 0.15
"""Cycles whose neighbours take longer or shorter by more than this share belong to the start or the stop."""


def trace_by_peaks(
    channel: Channel, recording: Recording, engine: EngineProfile, walls_k: float
) -> PressureTrace | None:
    """The cycles between successive compression peaks, with the speed inside each as the gas of all cylinders drives
    it; ``None`` with fewer than two whole ones at steady speed.

    Gas slows the crank before every TDC and speeds it up behind: the shape of the swing follows from the torque of
    cylinders that are all alike (``cranked_torque``; energy balance: Heywood 1988, section 2.2, from memory), its size
    from the crank's inertia, which nobody knows. That size is taken under which the pressure between shut valves fits
    best. ``walls_k`` in K.
    """
    peaks = peak_times_s(channel, recording)
    if peaks.size < 3:
        return None
    energy = _energy(engine, channel.description.cylinder or 1, 720.0 / float(np.median(np.diff(peaks))) / 6.0, walls_k)

    def tried(swing: float) -> tuple[float, PressureTrace] | None:
        open_deg = numbers.PACED_SD_DEG.value + numbers.PACED_SWING_SD_DEG.value * swing
        trace = trace_between(channel, recording, _moments(peaks, energy, swing), open_deg)
        return None if trace is None else (closed_line(trace, engine, walls_k).misfit, trace)

    made = [tried(swing) for swing in _SWINGS]
    known = [one for one in made if one is not None]
    if len(known) < len(_SWINGS):
        return None
    best = int(np.argmin([misfit for misfit, _ in known]))
    if 0 < best < len(_SWINGS) - 1:
        low, at, high = (known[best + d][0] for d in (-1, 0, 1))
        curve = low - 2.0 * at + high
        between = tried(_SWINGS[best] + 0.5 * (_SWINGS[1] - _SWINGS[0]) * (low - high) / curve if curve > 0.0 else 0.0)
        known += [between] if between is not None else []
    return min(known, key=lambda one: one[0])[1]


def _energy(engine: EngineProfile, cylinder: int, rpm: float, walls_k: float) -> Floats:
    """Kinetic energy over one cycle, about its mean and over its own swing, at angles 0 to 720 after the cylinder's
    own TDC, (721,)."""
    torque = cranked_torque(engine, np.full(OWN_DEG.size, rpm), walls_k, (0.0, 0.0)).at(1.0)
    own = np.arange(0.0, 720.0)
    tdc = engine.firing_tdc_deg
    sums = np.sum([np.interp(own + tdc[cylinder] - at, OWN_DEG, torque, period=720.0) for at in tdc.values()], axis=0)
    work = np.concatenate([[0.0], np.cumsum(sums - sums.mean())])
    return np.asarray((work - work.mean()) / np.ptp(work))


def _moments(peaks_s: Floats, energy: Floats, swing: float) -> Floats:
    """Moments of all steps of the cycles about every peak between like neighbours, (cycles, 721) in s."""
    slowness = 1.0 / np.sqrt(np.maximum(0.1, 1.0 + swing * energy))
    passed = np.concatenate([[0.0], np.cumsum(0.5 * (slowness[1:] + slowness[:-1]))])
    share = passed / passed[-1]
    steps = np.diff(peaks_s)
    found = []
    for before, at, after in zip(peaks_s[:-2], peaks_s[1:-1], peaks_s[2:], strict=True):
        if abs((after - at) / (at - before) - 1.0) > _LIKE or at - before > 1.3 * float(np.median(steps)):
            continue
        first, second = before + share[360:] * (at - before), at + share[:361] * (after - at)
        found.append(np.concatenate([first, second[1:]]))
    return np.array(found) if found else np.zeros((0, energy.size))
