"""What is hooked up in the jobs on which the call is measured."""

from __future__ import annotations

import numpy as np

from phasko.bench.probe import Disturbance, Probe
from phasko.bench.sensors.transducers import PressureTransducer
from phasko.core.documents import EngineProfile

__all__ = ["leads", "pressure_leads"]


def leads(engine: EngineProfile, rng: np.random.Generator) -> list[Probe]:
    """Crank and cams, and mostly the clamp; often a coil, sometimes a gauge on intake or exhaust."""
    noise = Disturbance(noise_v=float(rng.uniform(0.005, 0.06)))
    made = [Probe("crank", disturbance=noise)]
    made += [Probe("cam", cam=cam.id, disturbance=noise) for cam in engine.cams][:4]
    if rng.random() < 0.8:
        made.append(Probe("starter_current"))
    sparks = engine.ignition is not None and engine.ignition.type != "none"
    if sparks and rng.random() < 0.5:
        made.append(Probe("coil", cylinder=int(rng.choice(engine.firing_order))))
    return made[:8]


def pressure_leads(engine: EngineProfile, seed: int) -> list[Probe]:
    """In every third job one cylinder, or two, with a transducer instead of its plug while cranking."""
    rng = np.random.default_rng([seed, 53])
    if rng.random() > 0.35:
        return []
    cylinders = rng.permutation(engine.firing_order)[: 1 if rng.random() < 0.6 else 2]
    diesel = engine.ignition is not None and engine.ignition.type == "none"
    return [
        Probe(
            "cylinder_pressure",
            cylinder=int(cylinder),
            transducer=PressureTransducer(
                range_bar=60.0 if diesel else 34.5,
                scale_error=float(rng.normal(0.0, 0.004)),
                zero_bar=float(rng.normal(0.0, 0.008)),
            ),
            range_v=60.0 if diesel else 20.0,
        )
        for cylinder in cylinders
    ]
