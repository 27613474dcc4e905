"""One cycle of a practice car as its leads show it, quickly enough to follow a hand on a slider."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np

from phasko.bench.arrays import Floats
from phasko.bench.blind.by_hand import ByHand, hidden_by_hand, profile_by_hand
from phasko.bench.blind.car import Hidden
from phasko.bench.channels import channel_voltage, spark_times_s
from phasko.bench.faults import EngineFaults
from phasko.bench.ignition import with_later_spark
from phasko.bench.machine import AMBIENT_PA
from phasko.bench.pool import pool_engine
from phasko.bench.probe import Disturbance, Probe
from phasko.bench.recorder import true_offsets_deg
from phasko.bench.run import Run, run_engine
from phasko.bench.scenario import Scenario, clear_flood_cranking
from phasko.bench.spoiling import spoilt

__all__ = ["Cycle", "Lane", "Turning", "cycle_by_hand"]

Turning = Literal["cranking", "idle"]
_RATE_HZ = 25_000.0
_SETTLE_S = 0.01
_POINTS = 1201
_CRANKED_STEP_S = 1.2e-4
_IDLE_STEP_S = 1.2e-4
_BEFORE_DEG = 240.0
"""Ahead of the cycle that is shown, so that whoever fires first in it draws and compresses a whole charge."""
_IDLE_S = 1.6
_IDLE_RPM = 800.0
_RUNS_RPM = 350.0


@dataclass(frozen=True, slots=True, eq=False)
class Lane:
    """What one lead carries over the cycle: ``values`` of shape (points,), in ``unit``."""

    role: str
    unit: str
    values: Floats
    cam: str | None = None
    cylinder: int | None = None


@dataclass(frozen=True, slots=True, eq=False)
class Cycle:
    """One cycle over ``angles_deg`` (points,), 0 to 720 from where cylinder 1's piston really is on top to fire.

    ``turns``: whether the engine turned that far; without it there are no lanes. ``offsets_deg``: how late each cam's
    signal reads against the crank's; ``valves_deg``: how late its valves are; ``peaks_bar``: what each cylinder
    reaches over the surrounding air; ``sparks``: (cylinder, angle) wherever the control unit fires.
    """

    turns: bool
    angles_deg: Floats
    lanes: tuple[Lane, ...]
    offsets_deg: dict[str, float]
    valves_deg: dict[str, float]
    peaks_bar: dict[int, float]
    sparks: tuple[tuple[int, float], ...]
    rpm: float


def cycle_by_hand(wish: ByHand, turning: Turning, cylinder: int | None = None) -> Cycle:
    """That car cranked with the pedal down, or at idle; the pressure is that of ``cylinder``, or of the one with the
    fault. The fault shows, whenever else it comes and goes. Raises what ``hidden_by_hand`` raises."""
    engine, hidden = profile_by_hand(wish), hidden_by_hand(wish)
    # Noise on the leads leaves the engine as it is, so its run is taken again.
    silent = wish.nuisances.model_copy(update={"noise_v": 0.0, "hum_v": 0.0, "spark_spike_v": 0.0})
    run = _run(wish.model_copy(update={"nuisances": silent}).model_dump_json(), turning)
    begin_deg = _begin_deg(run, turning)
    if begin_deg is None:
        return Cycle(
            turns=False,
            angles_deg=np.empty(0),
            lanes=(),
            offsets_deg={},
            valves_deg={},
            peaks_bar={},
            sparks=(),
            rpm=float(run.rpm[-1]),
        )
    first, last = (float(np.interp(deg, run.angles_deg, run.times_s)) for deg in (begin_deg, begin_deg + 720.0))
    inside = (run.times_s >= first) & (run.times_s <= last)
    shown = cylinder or next(iter(hidden.cylinders), int(engine.firing_order[0]))
    sparks = [
        (int(one), float(np.interp(at_s, run.times_s, run.angles_deg)) - begin_deg)
        for one in engine.firing_tdc_deg
        for at_s in spark_times_s(run, one).tolist()
        if first <= at_s <= last
    ]
    return Cycle(
        turns=True,
        angles_deg=np.linspace(0.0, 720.0, _POINTS),
        lanes=tuple(_lanes(run, wish, hidden, _leads(run, turning, shown), (begin_deg, first, last))),
        offsets_deg=true_offsets_deg(run),
        valves_deg={cam: float(np.mean(placed.valves_deg)) for cam, placed in run.cams.items()},
        peaks_bar={int(c): float((p[inside].max() - AMBIENT_PA) / 1e5) for c, p in run.cylinders_pa.items()},
        sparks=tuple(sorted(sparks, key=lambda spark: spark[1])),
        rpm=float(run.rpm[inside].mean()),
    )


@lru_cache(maxsize=8)
def _run(told: str, turning: Turning) -> Run:
    wish = ByHand.model_validate_json(told)
    return _cranked(wish) if turning == "cranking" else _idled(wish)


def _simulated(wish: ByHand, scenario: Scenario, step_s: float) -> Run:
    hidden = hidden_by_hand(wish)
    engine = with_later_spark(profile_by_hand(wish), hidden.spark_deg)
    spread = wish.nuisances.spread
    return run_engine(engine, scenario, wish.seed, faults=hidden.faults, spread=spread, step_s=step_s)


def _cranked(wish: ByHand) -> Run:
    """Already turning as fast as the starter turns it when sound, a little ahead of the cycle that is shown."""
    rpm = _cranking_rpm(wish.engine, wish.nuisances.battery_weak_percent)
    length_s = 1.1 * (720.0 + _BEFORE_DEG) / (6.0 * rpm)
    for _ in range(2):
        scenario = Scenario(length_s, starter_from_s=0.0, throttle=1.0, start_deg=720.0 - _BEFORE_DEG, start_rpm=rpm)
        run = _simulated(wish, scenario, _CRANKED_STEP_S)
        turned = float(run.angles_deg[-1]) - scenario.start_deg
        if turned >= 720.0 + _BEFORE_DEG:
            break
        # What is wrong with it slows it: the second time it is given the time that it needs.
        length_s *= min(3.0, 1.2 * (720.0 + _BEFORE_DEG) / max(turned, 1.0))
    return run


def _idled(wish: ByHand) -> Run:
    scenario = Scenario(
        _IDLE_S, starter_from_s=0.0, starter_to_s=0.0, fuel=True, target_rpm=_IDLE_RPM, start_rpm=_IDLE_RPM
    )
    return _simulated(wish, scenario, _IDLE_STEP_S)


@lru_cache(maxsize=32)
def _cranking_rpm(engine: str, battery_weak_percent: float) -> float:
    """How fast its starter turns it, in the mean."""
    faults = EngineFaults(battery_weak_share=battery_weak_percent / 100.0)
    run = run_engine(pool_engine(engine), clear_flood_cranking(2.0, stop_s=0.0), 1, faults=faults, step_s=2e-4)
    return float(run.rpm[run.times_s > 1.0].mean())


def _begin_deg(run: Run, turning: Turning) -> float | None:
    """Where the cycle that is shown begins; None where the engine did not turn that far."""
    reached = float(run.angles_deg[-1])
    if turning == "cranking":
        return 720.0 if reached >= 1440.0 else None
    return 720.0 * (reached // 720.0 - 1.0) if run.rpm[-1] > _RUNS_RPM else None


def _leads(run: Run, turning: Turning, cylinder: int) -> Iterator[tuple[Probe, str]]:
    """(lead, its unit), in the order in which they are shown."""
    yield Probe("crank"), "V"
    for cam in run.engine.cams:
        yield Probe("cam", cam=cam.id), "V"
    if turning == "cranking":
        yield Probe("starter_current"), "A"
        yield Probe("cylinder_pressure", cylinder=cylinder), "bar"
    else:
        yield Probe("intake_pulse"), "V"
        yield Probe("exhaust_pulse"), "V"


def _lanes(
    run: Run,
    wish: ByHand,
    hidden: Hidden,
    leads: Iterator[tuple[Probe, str]],
    window: tuple[float, float, float],
) -> Iterator[Lane]:
    """Every lead over the cycle; ``window`` is where it begins (deg), and from when to when it lasts (s)."""
    begin_deg, first, last = window
    # A little ahead, so that pick-ups and filters have settled.
    at_s = np.arange(max(0.0, first - _SETTLE_S), last + 2.0 / _RATE_HZ, 1.0 / _RATE_HZ)
    phase = np.interp(at_s, run.times_s, run.angles_deg)
    asked_deg = begin_deg + np.linspace(0.0, 720.0, _POINTS)
    sensors = Disturbance(wish.nuisances.noise_v, wish.nuisances.hum_v, wish.nuisances.spark_spike_v)
    for i, (lead, unit) in enumerate(leads):
        sensor = lead.role in ("crank", "cam")
        probe = Probe(
            lead.role,
            cam=lead.cam,
            cylinder=lead.cylinder,
            disturbance=sensors if sensor else Disturbance(wish.nuisances.noise_v),
        )
        volts = channel_voltage(run, probe, at_s, np.random.default_rng([wish.seed, i]))
        bad = hidden.signals.get(lead.cam or "crank") if sensor else None
        if bad is not None:
            volts = spoilt(volts, at_s, bad, np.random.default_rng([wish.seed, 300]))
        if unit == "A":
            volts = volts / probe.clamp.volt_per_a
        yield Lane(lead.role, unit, np.interp(asked_deg, phase, volts), lead.cam, lead.cylinder)
    yield Lane("speed", "rpm", np.interp(asked_deg, run.angles_deg, run.rpm))
