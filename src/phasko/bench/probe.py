"""A lead of the scope: what it is clipped to, through which sensor, and what disturbs it."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from phasko.bench.arrays import Floats
from phasko.bench.sensors.coil import CoilWiring
from phasko.bench.sensors.hall import HallPickup
from phasko.bench.sensors.inductive import InductivePickup
from phasko.bench.sensors.transducers import CurrentClamp, PressureTransducer, PulseSensor
from phasko.core.documents.capture import Role

__all__ = ["Disturbance", "Probe", "SolenoidWire"]


@dataclass(frozen=True, slots=True)
class Disturbance:
    """Noise and hum (V, standard deviation and amplitude), spikes induced per spark (V), a loose connection."""

    noise_v: float = 0.012
    hum_v: float = 0.0
    spark_spike_v: float = 0.0
    loose_from_s: float = 1e9
    loose_to_s: float = 1e9


@dataclass(frozen=True, slots=True)
class SolenoidWire:
    """The driven wire of a phaser's solenoid: switched to earth, or to the battery (``high_side``); steady, or pulsed
    at ``pulsed_hz`` with the share of full drive as its duty."""

    high_side: bool = False
    pulsed_hz: float = 0.0

    def voltage(self, share: Floats, times_s: Floats) -> Floats:
        """Volts on the wire for a share of full drive over time, both of shape (samples,)."""
        on = share > 0.0
        if self.pulsed_hz > 0.0:
            on = (times_s * self.pulsed_hz) % 1.0 < share
        return np.asarray(np.where(on == self.high_side, 12.0, 0.4))


@dataclass(frozen=True, slots=True)
class Probe:
    """One channel. ``range_v`` is the scope's half range after the attenuator; 0 picks one that fits."""

    role: Role
    cam: str | None = None
    wheel: str | None = None
    cylinder: int | None = None
    signal: Literal["drive", "primary"] = "drive"
    ac: bool = False
    attenuator: float = 1.0
    range_v: float = 0.0
    hall: HallPickup = field(default_factory=HallPickup)
    inductive: InductivePickup = field(default_factory=InductivePickup)
    coil: CoilWiring = field(default_factory=CoilWiring)
    clamp: CurrentClamp = field(default_factory=CurrentClamp)
    transducer: PressureTransducer = field(default_factory=PressureTransducer)
    pulse: PulseSensor = field(default_factory=PulseSensor)
    solenoid: SolenoidWire = field(default_factory=SolenoidWire)
    disturbance: Disturbance = field(default_factory=Disturbance)
