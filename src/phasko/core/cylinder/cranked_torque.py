"""The torque with which one cylinder's gas turns a cranked engine: with its leak, its heat and its valves as they
move."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.cylinder.gas_model import Chamber, followed_bar
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.filling import USUAL_TIMING
from phasko.core.engine.slider_crank import cylinder_volume

__all__ = ["OWN_DEG", "CrankedTorque", "cranked_torque"]

OWN_DEG: Floats = np.arange(-360.0, 360.0)
"""Degrees after the cylinder's own firing TDC, one step each."""

_LEAKS = np.concatenate([[1.0], np.geomspace(1.6, 80.0, 12)])
"""Leaks that are followed, over the usual one."""
_LEAST_SPAN_DEG = 45.0
"""However far the cams are out, the valves are taken for shut so long on either side of TDC."""


@dataclass(frozen=True, slots=True, eq=False)
class CrankedTorque:
    """Torque over ``OWN_DEG`` per bar of its own peak, for more and more leak, (leaks, angles), and the peak that is
    left of a sound one's, (leaks,), falling; that one's peak is ``peak_bar`` (gauge). Per swept volume."""

    torque: Floats
    left: Floats
    peak_bar: float

    def at(self, relative: float) -> Floats:
        """That of the cylinder whose peak is ``relative`` (unitless) to a sound one's, of shape (angles,)."""
        row = float(np.interp(-relative, -self.left, np.arange(self.left.size)))
        low = min(int(row), self.left.size - 2)
        return np.asarray(self.torque[low] + (row - low) * (self.torque[low + 1] - self.torque[low]))


def cranked_torque(
    engine: EngineProfile, speed_rpm: Floats, walls_k: float, late_deg: tuple[float, float]
) -> CrankedTorque:
    """How the gas of one cylinder turns the crank, and how that changes as it leaks.

    ``speed_rpm`` of shape (720,) over ``OWN_DEG``; ``walls_k`` in K; ``late_deg``: by how much its intake and exhaust
    valves are late. Gauge pressure between the valves' shutting and opening (``gas_model``), by virtual work times
    dV/dtheta (``slider_crank``); outside of that nothing counts at cranking speed.
    """
    timing = engine.valve_timing or USUAL_TIMING
    shuts = timing.intake_close_deg - 720.0 + late_deg[0] + numbers.TRAPPED_AFTER_DEG.value
    opens = timing.exhaust_open_deg + late_deg[1]
    first = min(max(math.ceil(shuts), -175), -_LEAST_SPAN_DEG)
    own = np.arange(first, max(_LEAST_SPAN_DEG, min(math.floor(opens), 175)) + 1.0)
    chamber = Chamber.of(engine, np.interp(own, OWN_DEG, speed_rpm, period=720.0), walls_k)
    volume = chamber.volume_m3(own, np.full(own.shape, chamber.usual_clearance(0.0)))
    leaks = numbers.USUAL_LEAK_MM2.value * _LEAKS
    losses = np.ones(leaks.size), leaks
    started = np.full(leaks.size, 1e5)
    bar = followed_bar(chamber, np.repeat(volume[:, None], leaks.size, axis=1), started, numbers.CHARGE_K.value, losses)
    gauge = bar.T - 1.0
    peak = gauge.max(axis=1)
    torque = np.zeros((leaks.size, OWN_DEG.size))
    lever = cylinder_volume(own, chamber.shape)[1]
    torque[:, (own - OWN_DEG[0]).astype(np.int64)] = gauge / peak[:, None] * lever
    # A cylinder that is nearly open compresses by its speed alone, so that its peak may rise again with the leak.
    left = np.minimum.accumulate(peak / peak[0]) - 1e-6 * np.arange(leaks.size)
    return CrankedTorque(torque, left, float(peak[0]))
