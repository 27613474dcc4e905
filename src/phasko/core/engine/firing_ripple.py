"""How a crank turns unevenly between firings: the waves its angle may have, and how large each may be."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.gas_torque import gas_torque

__all__ = ["FiringRipple", "firing_ripple"]


_FIRINGS_HIGH = 4
"""Waves up to so many per firing are kept. The next ones are thousandths of the first."""
_STEPS = 1440


@dataclass(frozen=True, slots=True, eq=False)
class FiringRipple:
    """Waves of the crank angle about even turning, ``per_cycle`` of them in 720 degrees each.

    A sine and a cosine for each, about ``phase_rad``, with standard deviations ``sine`` and ``cosine`` that count only
    against each other: how large the ripple is the capture shows.
    """

    per_cycle: Floats
    phase_rad: Floats
    sine: Floats
    cosine: Floats

    def waves(self, angles_deg: Floats) -> Floats:
        """(angles x parts): every independent part of the ripple at its standard deviation. ``angles_deg`` (n,), the
        result (n, parts), in deg."""
        at = np.radians(np.asarray(angles_deg)[:, None] / 2.0) * self.per_cycle + self.phase_rad
        return np.asarray(np.concatenate([self.sine * np.sin(at), self.cosine * np.cos(at)], axis=1))


def firing_ripple(engine: EngineProfile) -> FiringRipple:
    """The ripple that compression gives this engine, in the wheel frame.

    The torque of one cylinder's gas over the angle (``gas_torque``) is a sum of waves; the crank's inertia divides each
    by the square of its order to an angle (torque = inertia times angular acceleration); the cylinders add up with
    their firing angles. Torque is odd about TDC, so that the sines carry it and what friction, starter and heat turn
    aside, ``RIPPLE_ASIDE`` of them, is left to the cosines; without a known index both are alike. Cylinders differ by
    ``RIPPLE_UNEVEN``.
    """
    tdcs = np.radians(np.array(sorted(engine.firing_tdc_deg.values())) / 2.0)
    per_cycle = np.arange(1.0, _FIRINGS_HIGH * engine.cylinders + 1.0)
    after = (np.arange(_STEPS) + 0.5) * 720.0 / _STEPS - 360.0
    torque = gas_torque(after, engine)
    half = np.radians(after / 2.0)
    one = np.abs(np.sin(half[:, None] * per_cycle).T @ torque) / _STEPS / (per_cycle / 2.0) ** 2
    together = np.exp(-1j * tdcs[:, None] * per_cycle).mean(axis=0)
    differ = numbers.RIPPLE_UNEVEN.value / np.sqrt(engine.cylinders)
    aside = numbers.RIPPLE_ASIDE.value if engine.crank.index_deg is not None else 1.0
    size = np.abs(together)
    return FiringRipple(
        per_cycle,
        np.angle(together),
        one * np.hypot(size, differ),
        one * np.hypot(aside * size, differ),
    )
