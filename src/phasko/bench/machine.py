"""Builds the machine that the physics integrates, from an engine profile, its faults and its spread."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from phasko.bench.faults import CylinderFault, EngineFaults, Spread
from phasko.bench.physics.durations import full_duration
from phasko.bench.physics.inputs import CYLINDER_COLUMNS, Machine
from phasko.bench.scenario import Scenario
from phasko.core.documents import EngineProfile
from phasko.core.documents.engine import Geometry, ValveTiming

__all__ = ["AMBIENT_K", "AMBIENT_PA", "build_machine", "intake_and_exhaust_cams", "is_diesel", "throttle_area_m2"]

AMBIENT_PA = 100_000.0
AMBIENT_K = 295.0
PEAK_LIFT_MM = 9.0
HEALTHY_RING_LEAK_M2 = 0.7e-6
CREVICES = 1.1
"""Crevices, plug well and adapter beside the volume that the compression ratio counts (own estimate)."""
PLUG_LEAK_M2 = {"tight": 0.0, "loose": 1.2e-6, "out": 60e-6}
USUAL_TIMING = ValveTiming(
    lift_mm=0.5, exhaust_open_deg=140, exhaust_close_deg=365, intake_open_deg=355, intake_close_deg=590
)
AIR_HEAT_J_PER_KG = 44.0e6 / 14.7 * 0.82
"""Lower heating value of petrol over its stoichiometric air, less what is not burnt or dissociates (Heywood, ch. 3)."""


def build_machine(
    engine: EngineProfile, faults: EngineFaults, scenario: Scenario, spread: Spread, rng: np.random.Generator
) -> Machine:
    """The machine with its faults. Sizes that the profile does not give are those of a usual engine of its kind."""
    shape = _geometry(engine)
    bore_area = math.pi / 4 * (shape.bore_mm / 1000) ** 2
    litres = engine.displacement_l or 0.5 * engine.cylinders
    cams = {cam.id: i for i, cam in enumerate(engine.cams)}
    intake, exhaust = intake_and_exhaust_cams(engine)
    friction = (7.0 + 7.0 * litres) * (1.6 if scenario.temperature == "cold" else 1.0)
    # One draw varies how much friction there is and its law: more of it constant, less growing with speed.
    stiff = spread.friction_share * rng.standard_normal()
    friction *= 1.0 + stiff
    motor = 0.45 * (litres / 2.1) ** 0.4
    return Machine(
        cylinders=_cylinders(engine, faults, scenario, spread, rng),
        cam_of_intake=np.array([cams.get(intake[c], 0) for c in engine.firing_tdc_deg], dtype=np.int64),
        cam_of_exhaust=np.array([cams.get(exhaust[c], 0) for c in engine.firing_tdc_deg], dtype=np.int64),
        bore_area=bore_area,
        radius=shape.stroke_mm / 2000,
        rod=shape.rod_mm / 1000,
        offset=shape.crank_offset_mm / 1000,
        intake_valve_mm=0.38 * shape.bore_mm,
        exhaust_valve_mm=0.33 * shape.bore_mm,
        valves_each=2.0,
        plenum_m3=1.3e-3 * litres,
        exhaust_m3=2.5e-3 * litres,
        crankcase_m3=4.0e-3 * litres,
        tailpipe_m2=6.0e-4 * litres**0.7 * (1.0 - faults.exhaust_blocked_share),
        breather_m2=2.0e-5,
        ambient_pa=AMBIENT_PA,
        ambient_k=AMBIENT_K,
        wall_k=300.0 if scenario.temperature == "cold" else 355.0,
        piston_area_factor=1.1,
        inertia=0.06 + 0.045 * litres + 0.42 * (litres / 2.1) ** 0.8,
        friction_nm=max(5.0, friction),
        friction_nms=0.12 * litres * math.exp(-4.0 * stiff),
        battery_v=12.7 - 1.4 * faults.battery_weak_share,
        battery_ohm=0.007 * (1.0 + 3.0 * faults.battery_weak_share),
        line_ohm=0.016 * (2.1 / litres) ** 0.5,
        inductance_h=4.0e-4,
        motor_nm_per_a=motor,
        motor_efficiency=0.78,
        accessory_a=12.0,
        heat_j_per_kg_air=AIR_HEAT_J_PER_KG,
        burn_deg=55.0,
        governs_fuel=is_diesel(engine),
    )


def intake_and_exhaust_cams(engine: EngineProfile) -> tuple[dict[int, str], dict[int, str]]:
    """Which cam moves the intake and the exhaust valves of each cylinder; a single cam moves both."""
    bank_of = {c: bank.bank for bank in engine.banks for c in bank.cylinders}
    intake: dict[int, str] = {}
    exhaust: dict[int, str] = {}
    for cylinder in engine.firing_tdc_deg:
        bank = bank_of.get(cylinder, 1)
        for shaft, found in (("intake", intake), ("exhaust", exhaust)):
            own = [cam.id for cam in engine.cams if cam.bank == bank and cam.shaft in (shaft, "single")]
            anyone = [cam.id for cam in engine.cams if cam.shaft in (shaft, "single")]
            found[cylinder] = (own or anyone or [""])[0]
    return intake, exhaust


def is_diesel(engine: EngineProfile) -> bool:
    """Whether it needs no spark."""
    return engine.ignition is not None and engine.ignition.type == "none"


def throttle_area_m2(engine: EngineProfile, open_share: float, blocked_share: float = 0.0) -> float:
    """Effective opening of the throttle: an idle leak and the plate's share of its bore."""
    litres = engine.displacement_l or 0.5 * engine.cylinders
    area: float = 4.2e-6 * litres + 4.5e-4 * litres**0.7 * open_share**1.4
    return area * (1.0 - blocked_share)


def _geometry(engine: EngineProfile) -> Geometry:
    if engine.geometry is not None:
        return engine.geometry
    litres = (engine.displacement_l or 0.5 * engine.cylinders) / engine.cylinders
    side = 1000 * (4 * litres / 1000 / math.pi) ** (1 / 3)
    return Geometry(bore_mm=side, stroke_mm=side, rod_mm=1.65 * side, compression_ratio=10.0)


def _cylinders(
    engine: EngineProfile, faults: EngineFaults, scenario: Scenario, spread: Spread, rng: np.random.Generator
) -> NDArray[np.float64]:
    shape, timing = _geometry(engine), engine.valve_timing or USUAL_TIMING
    swept = math.pi / 4 * (shape.bore_mm / 1000) ** 2 * shape.stroke_mm / 1000
    rows = []
    for cylinder, tdc_deg in engine.firing_tdc_deg.items():
        fault = faults.cylinders.get(cylinder, CylinderFault())
        share = fault.compression_share * (1.0 + spread.cylinder_share * rng.standard_normal())
        ratio = 1.0 + (shape.compression_ratio - 1.0) * share
        leak = (
            HEALTHY_RING_LEAK_M2
            * (0.5 if is_diesel(engine) else 1.0)
            * math.exp(8.0 * spread.cylinder_share * rng.standard_normal())
        )
        timed = fault.from_s > 0.0 or fault.to_s < 1e8
        added = fault.ring_leak_mm2 * 1e-6
        held = {"intake": fault.intake_held_mm, "exhaust": fault.exhaust_held_mm}
        row = {
            "tdc_deg": tdc_deg,
            "clearance_m3": swept / (ratio - 1.0) * CREVICES,
            **_lobe("intake", timing.intake_open_deg, timing.intake_close_deg, timing.lift_mm, fault.intake_lobe_share),
            **_lobe(
                "exhaust", timing.exhaust_open_deg, timing.exhaust_close_deg, timing.lift_mm, fault.exhaust_lobe_share
            ),
            "intake_clearance_mm": fault.intake_clearance_mm,
            "exhaust_clearance_mm": fault.exhaust_clearance_mm,
            "ring_leak_m2": leak + (0.0 if timed else added),
            "intake_leak_m2": fault.intake_leak_mm2 * 1e-6 + _held_m2(held["intake"], shape.bore_mm),
            "exhaust_leak_m2": fault.exhaust_leak_mm2 * 1e-6 + _held_m2(held["exhaust"], shape.bore_mm),
            "plug_leak_m2": PLUG_LEAK_M2[fault.plug],
            "intake_port": 1.0 - fault.intake_blocked_share,
            "exhaust_port": 1.0,
            "leak_from_s": fault.from_s,
            "leak_to_s": fault.to_s,
            "added_ring_leak_m2": added if timed else 0.0,
            "fires": float(cylinder not in scenario.motored_cylinders and not fault.no_fuel),
        }
        rows.append([row[name] for name in CYLINDER_COLUMNS])
    return np.array(rows)


def _held_m2(held_mm: float, bore_mm: float) -> float:
    """Opening of one valve that is held off its seat."""
    return 0.65 * math.pi * 0.36 * bore_mm * held_mm * 1e-6


def _lobe(shaft: str, open_deg: float, close_deg: float, at_lift_mm: float, share: float) -> dict[str, float]:
    duration = (close_deg - open_deg) % 720.0
    return {
        f"{shaft}_centre_deg": open_deg + duration / 2,
        f"{shaft}_full_deg": float(full_duration(duration, at_lift_mm, PEAK_LIFT_MM)),
        f"{shaft}_peak_mm": PEAK_LIFT_MM * share,
    }
