"""One car with a hidden fault: everything that is true of it, and everything that was told of it."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from phasko.bench.faults import EngineFaults, Spread
from phasko.core.documents.fault_name import FaultName
from phasko.core.documents.job import JobDocument

__all__ = ["BadSignal", "BlindCar", "Herring", "Hidden", "Present"]

Present = Literal["always", "cold", "hot", "cranking", "running", "not_today"]
"""In which condition the fault is there."""
BadSignal = Literal["lost", "erratic", "extra"]


class Herring(BaseModel):
    """Something that was told and leads nowhere."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    what: str


class Hidden(BaseModel):
    """What is really wrong. ``also``: further explanations that are right too; ``covers``: whether they have to come
    off; ``ruins``: whether the engine is ruined where it is driven on. ``valves_deg``, ``target_deg`` (by cam, late
    positive), ``wheel_deg``, ``hub_deg`` as they are in the condition in which the fault is ``present``."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    fault: FaultName
    also: tuple[FaultName, ...] = ()
    covers: Literal["off", "on", "either"] = "on"
    ruins: bool = False
    present: Present = "always"
    cams: tuple[str, ...] = ()
    cylinders: tuple[int, ...] = ()
    valves_deg: dict[str, float] = Field(default_factory=dict)
    target_deg: dict[str, float] = Field(default_factory=dict)
    wheel_deg: float = 0.0
    hub_deg: float = 0.0
    signals: dict[str, BadSignal] = Field(default_factory=dict)
    spark_deg: float = 0.0
    faults: EngineFaults = Field(default_factory=EngineFaults)
    size: str = ""
    """How much, in words."""


class BlindCar(BaseModel):
    """A car of the motor pool: its name, its engine in the pool, what is hidden in it and what was told of it."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    seed: Annotated[int, Field(ge=0)]
    engine: str
    vehicle: str
    make_model: str
    hidden: Hidden
    told: JobDocument
    herrings: tuple[Herring, ...] = ()
    spread: Spread = Field(default_factory=Spread)
    noise_v: float = 0.012
    hum_v: float = 0.0
    spark_spike_v: float = 0.0

    def simulated(self) -> dict[str, Any]:
        """What the simulated instruments find before them, as it is kept with a job."""
        kept = self.hidden.model_dump(mode="json", include={"faults", "present", "signals", "spark_deg"})
        spread = self.model_dump(mode="json", include={"spread"})["spread"]
        made = {**kept, "as_said": True, "seed": self.seed, "spread": spread}
        made |= self.model_dump(mode="json", include={"noise_v", "hum_v", "spark_spike_v"})
        if self.hidden.fault in ("cam_sensor_fault", "crank_sensor_fault"):
            made["heat"] = {"behaves": "flat" if "lost" in self.hidden.signals.values() else "erratic", "from_c": 75.0}
        return made
