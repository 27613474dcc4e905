"""The car that the simulated instruments are on: what each lead would carry, and what a hand may turn meanwhile."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from phasko.bench.channels import channel_voltage
from phasko.bench.faults import EngineFaults, Spread
from phasko.bench.ignition import with_later_spark
from phasko.bench.instruments.heat import HeatSheet, heat_volts, temperature_c
from phasko.bench.probe import Disturbance, Probe
from phasko.bench.run import Run, run_engine
from phasko.bench.scenario import PhaserCommand, clear_flood_cranking, idling
from phasko.bench.sensors.transducers import CurrentClamp
from phasko.bench.spoiling import SignalFault, spoilt
from phasko.core.documents import EngineProfile
from phasko.core.errors import RefusedError

__all__ = ["CarSheet", "HeatSheet", "Looped", "SimulatedCar", "Trouble"]

BAR_PER_V = 6.9
CELSIUS_PER_V = 100.0
_LONGEST_RUN_S = 12.0
_HEAT_S = 60.0


class Trouble(BaseModel):
    """What goes wrong with the instrument itself: every so many blocks one is late or lost, its clock is off, its cable
    is pulled."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    late_every: Annotated[int, Field(ge=0)] = 0
    late_s: Annotated[float, Field(ge=0, le=10)] = 0.0
    lose_every: Annotated[int, Field(ge=0)] = 0
    clock_share: Annotated[float, Field(ge=-0.2, le=0.2)] = 0.0
    unplugged_at_s: Annotated[float, Field(gt=0)] = 1e9


class CarSheet(BaseModel):
    """Which engine, in which health, and what is done with it.

    The fault is there when it is ``present``: always, in one temperature, while cranking or running, or not today.
    ``signals`` of sensors that are spoilt, by ``crank`` or cam; ``spark_deg`` how late every spark is. ``driven``:
    phasers that are driven one after the other, each to its stop and back. ``phasers_connected``: nobody unplugged
    them.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")
    engine: EngineProfile
    seed: int = 1
    turns: Literal["cranking", "idle", "running", "bench"] = "cranking"
    temperature: Literal["cold", "hot"] = "hot"
    faults: EngineFaults = Field(default_factory=EngineFaults)
    spread: Spread = Field(default_factory=Spread)
    heat: HeatSheet = Field(default_factory=HeatSheet)
    trouble: Trouble = Field(default_factory=Trouble)
    present: Literal["always", "cold", "hot", "cranking", "running", "not_today"] = "always"
    signals: dict[str, SignalFault] = Field(default_factory=dict)
    spark_deg: Annotated[float, Field(ge=-180, le=180)] = 0.0
    noise_v: Annotated[float, Field(ge=0, le=2)] = 0.012
    hum_v: Annotated[float, Field(ge=0, le=2)] = 0.0
    spark_spike_v: Annotated[float, Field(ge=0, le=10)] = 0.0
    driven: tuple[str, ...] = ()
    phasers_connected: bool = False
    length_s: Annotated[float, Field(gt=0.5, le=60)] = 10.0

    @property
    def shows(self) -> bool:
        """Whether the fault is there in this condition."""
        turning = "cranking" if self.turns == "cranking" else "running"
        return self.present in ("always", turning, self.temperature)


@dataclass(frozen=True, slots=True, eq=False)
class Looped:
    """Samples of every channel (V at the instrument), and the stretch (first, last sample) that is played again and
    again once the end is reached."""

    volts: NDArray[np.float32]
    loop: tuple[int, int]


@lru_cache(maxsize=4)
def _run_of(told: str) -> Run:
    """The run of a car; a scope and a scan tool that are on the same one see the same run."""
    sheet = CarSheet.model_validate_json(told)
    length = min(sheet.length_s, _LONGEST_RUN_S)
    scenario = clear_flood_cranking(length) if sheet.turns == "cranking" else idling(length)
    scenario = replace(
        scenario,
        temperature=sheet.temperature,
        phasers_connected=sheet.phasers_connected,
        phaser_commands=_driven(sheet, scenario.record_from_s),
    )
    faults = sheet.faults if sheet.shows else EngineFaults()
    engine = with_later_spark(sheet.engine, sheet.spark_deg) if sheet.shows else sheet.engine
    return run_engine(engine, scenario, sheet.seed, faults=faults, spread=sheet.spread)


_CONTROLLED_SHARE = 0.35
"""How far a control unit has its phasers out at idle."""


def _driven(sheet: CarSheet, from_s: float) -> dict[str, tuple[PhaserCommand, ...]]:
    """One phaser after the other, each held at its stop for long enough to see it stand. One that nobody unplugged is
    wherever the control unit has it while the engine runs."""
    if sheet.phasers_connected and not sheet.driven and sheet.turns != "cranking":
        out = (PhaserCommand(0.0, 1e9, _CONTROLLED_SHARE),)
        return {cam.id: out for cam in sheet.engine.cams if cam.phaser is not None}
    every = (_LONGEST_RUN_S - 1.0) / max(1, len(sheet.driven))
    begins = {cam: from_s + 1.0 + i * every for i, cam in enumerate(sheet.driven)}
    return {cam: (PhaserCommand(at_s, at_s + min(2.0, 0.5 * every)),) for cam, at_s in begins.items()}


class SimulatedCar:
    """One car on the stand. ``sync_deg``: where its sync drive stands now, in crank degrees."""

    def __init__(self, sheet: CarSheet) -> None:
        self.sheet = sheet
        self.sync_deg = sheet.faults.drive.sync_deg

    @cached_property
    def _run(self) -> Run:
        return _run_of(self.sheet.model_dump_json(by_alias=True))

    @property
    def run(self) -> Run:
        """The engine's run, with the sync drive as it stands now."""
        if self.sync_deg == self.sheet.faults.drive.sync_deg:
            return self._run
        drive = replace(self.sheet.faults.drive, sync_deg=self.sync_deg)
        # Turning the body moves its signal, and the spark of a distributor with it.
        moved = self.sync_deg - self.sheet.faults.drive.sync_deg
        ignition = self.sheet.engine.ignition
        spark = self._run.spark_deg + (moved if ignition is not None and ignition.type == "distributor" else 0.0)
        return replace(self._run, faults=replace(self.sheet.faults, drive=drive), spark_deg=spark)

    def recorded(self, signals: list[tuple[str, float]], rate_hz: float) -> Looped:
        """What the leads of these signals carry, each clipped to its half range (V) and in steps of 12 bits. Raises
        RefusedError for a lead that this car does not have."""
        rate = rate_hz * (1.0 + self.sheet.trouble.clock_share)
        if self.sheet.turns == "bench":
            at_s = np.arange(round(_HEAT_S * rate)) / rate
            volts = [self._on_the_stand(signal, at_s) for signal, _ in signals]
            loop = (at_s.size - round(rate), at_s.size)
        else:
            run = self.run
            at_s = np.arange(int(float(run.times_s[-1]) * rate)) / rate
            volts = [self._carried(run, signal, at_s, 200 + i) for i, (signal, _) in enumerate(signals)]
            loop = self._loop(at_s)
        stepped = [_stepped(one, range_v) for one, (_, range_v) in zip(volts, signals, strict=True)]
        return Looped(np.stack(stepped), loop)

    def _carried(self, run: Run, signal: str, at_s: NDArray[np.float64], number: int) -> NDArray[np.float64]:
        """What the lead of that signal brings to the instrument (V)."""
        rng = np.random.default_rng([run.seed, number])
        kind, _, about = signal.partition("@")[0].partition(":")
        volts = channel_voltage(run, self._probe(signal), at_s, rng) / _OWN_UNIT.get(kind, 1.0)
        fault = self.sheet.signals.get(about if kind == "cam" else kind) if self.sheet.shows else None
        # Of one fault all leads that see it see the same.
        return volts if fault is None else spoilt(volts, at_s, fault, np.random.default_rng([run.seed, 300]))

    def _loop(self, at_s: NDArray[np.float64]) -> tuple[int, int]:
        """Of a running engine whole cycles; one that was cranked stands as it came to rest."""
        if self.sheet.turns == "cranking":
            return at_s.size - 1, at_s.size
        angles = np.interp(at_s, self._run.times_s, self._run.angles_deg)
        first = int(np.searchsorted(at_s, 0.2))
        cycles = np.floor((angles[-1] - angles[first]) / 720.0)
        return first, int(np.searchsorted(angles, angles[first] + 720.0 * cycles))

    def _probe(self, signal: str) -> Probe:
        kind, _, about = signal.partition("@")[0].partition(":")
        ignition = self.sheet.engine.ignition
        drive = ignition is None or ignition.type == "coil_on_plug"
        known: dict[str, dict[str, Any]] = {
            "crank": {"role": "crank"},
            "cam": {"role": "cam", "cam": about},
            "aux": {"role": "aux", "wheel": about},
            "starter_current": {"role": "starter_current", "clamp": CurrentClamp()},
            "battery_voltage": {"role": "battery_voltage"},
            "coil": {
                "role": "coil",
                "cylinder": _number(about),
                "attenuator": 10.0,
                "signal": "drive" if drive else "primary",
            },
            "injector": {"role": "injector", "cylinder": _number(about), "attenuator": 10.0},
            "pressure": {"role": "cylinder_pressure", "cylinder": _number(about)},
            "intake_pulse": {"role": "intake_pulse"},
            "exhaust_pulse": {"role": "exhaust_pulse"},
            "phaser": {"role": "phaser_command", "cam": about},
            "oil_pressure": {"role": "other"},
        }
        engine = self.sheet.engine
        missing = (
            kind not in known
            or (kind in ("cam", "phaser") and engine.cam(about) is None)
            or (kind == "aux" and about not in {aux.id for aux in engine.aux_wheels})
            or (kind in ("coil", "injector", "pressure") and _number(about) not in engine.firing_tdc_deg)
        )
        if missing:
            raise RefusedError(f"There is nothing to clip {signal!r} to on this car")
        disturbance = Disturbance(noise_v=self.sheet.noise_v)
        # A clamp and a transducer have amplifiers of their own; what the long leads of sensors catch is caught there.
        if kind in ("crank", "cam", "aux"):
            disturbance = Disturbance(self.sheet.noise_v, self.sheet.hum_v, self.sheet.spark_spike_v)
        return Probe(**known[kind], disturbance=disturbance)

    def _on_the_stand(self, signal: str, at_s: NDArray[np.float64]) -> NDArray[np.float64]:
        if signal == "temperature":
            return temperature_c(self.sheet.heat, at_s) / CELSIUS_PER_V
        return heat_volts(self.sheet.heat, at_s, tested=not signal.startswith("beside"))


_OWN_UNIT = {"pressure": BAR_PER_V, "oil_pressure": BAR_PER_V}
"""Transducers give volts to the instrument; the bench has their pressure in bar."""


def _number(text: str) -> int | None:
    return int(text) if text.isascii() and text.isdigit() else None


def _stepped(volts: NDArray[np.float64], range_v: float) -> NDArray[np.float32]:
    step = 2.0 * range_v / 2**12
    return np.asarray(np.rint(np.clip(volts, -range_v, range_v - step) / step) * step, dtype=np.float32)
