"""How the crank turns while the starter drives it: from rest, with the swing that compression imposes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from phasko.bench.arrays import Floats
from phasko.core.documents import EngineProfile

__all__ = ["CrankMotion", "Cranking", "crank_motion"]


_STEP_DEG = 0.5


@dataclass(frozen=True, slots=True)
class Cranking:
    """One spell of cranking. ``swing`` is the share of speed lost on the way up to a TDC and won back after it.

    ``wander`` is the relative change of speed from turn to turn; ``rest_s`` passes before the starter engages;
    ``cycles`` are turned at full speed after a start-up of about half a turn.
    """

    mean_rpm: float = 210.0
    cycles: float = 8.0
    swing: float = 0.14
    cylinder_spread: float = 0.03
    wander: float = 0.01
    rest_s: float = 0.0
    from_rest: bool = False
    start_deg: float = 100.0
    tail_s: float = 0.0


@dataclass(frozen=True, slots=True, eq=False)
class CrankMotion:
    """True crank angle (deg, cylinder 1's firing TDC at multiples of 720) against time (s)."""

    angles_deg: Floats
    times_s: Floats
    end_s: float

    def times_at(self, angles_deg: Floats) -> Floats:
        """When the crank passes each angle; angles outside the motion give NaN."""
        inside = (angles_deg >= self.angles_deg[0]) & (angles_deg <= self.angles_deg[-1])
        times = scipy.interpolate.CubicSpline(self.angles_deg, self.times_s)(angles_deg)
        return np.asarray(np.where(inside, times, np.nan))


def crank_motion(engine: EngineProfile, cranking: Cranking, rng: np.random.Generator) -> CrankMotion:
    """Integrates dt = d(angle) / speed(angle); the speed falls towards each firing TDC and recovers behind it.

    Energy view: the work stored in the compressed charge comes out of the rotating mass, so the square of the speed
    follows minus the stored work; the charge is modelled as a smooth hump of about 100 degrees around each TDC.
    """
    total_deg = cranking.cycles * 720.0 + (360.0 if cranking.from_rest else 0.0)
    angles = cranking.start_deg + np.arange(0.0, total_deg + _STEP_DEG, _STEP_DEG)
    stored = np.zeros_like(angles)
    for tdc in engine.firing_tdc_deg.values():
        height = 1.0 + cranking.cylinder_spread * rng.standard_normal()
        off = (angles - tdc + 360.0) % 720.0 - 360.0
        stored += height * np.exp(-0.5 * (off / 42.0) ** 2)
    stored -= stored.mean()
    omega = 6.0 * cranking.mean_rpm * np.sqrt(np.maximum(0.15, 1.0 - 2.0 * cranking.swing * stored))
    knots = np.arange(angles[0] - 360.0, angles[-1] + 720.0, 360.0)
    drift = scipy.interpolate.CubicSpline(knots, 1.0 + cranking.wander * rng.standard_normal(knots.size))
    omega = omega * drift(angles)
    if cranking.from_rest:
        omega = omega * np.sqrt(np.maximum(1.0 - np.exp(-(angles - angles[0]) / 110.0), 4e-4))
    slowness = scipy.interpolate.CubicSpline(angles, 1.0 / omega)
    passed = np.asarray(slowness.antiderivative()(angles))
    times = cranking.rest_s + passed - passed[0]
    return CrankMotion(angles, times, float(times[-1]) + cranking.tail_s)
