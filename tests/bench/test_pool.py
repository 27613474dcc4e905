"""The pool's profiles against the engines that the bench makes of them: what one states is what the other does."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest

from phasko.bench.faults import DriveFaults, EngineFaults
from phasko.bench.machine import PEAK_LIFT_MM
from phasko.bench.physics.durations import full_duration
from phasko.bench.physics.valves import lift_mm
from phasko.bench.pool import pool_engine, pool_engines
from phasko.bench.run import run_engine
from phasko.bench.scenario import clear_flood_cranking
from phasko.core.documents import EngineProfile

ENGINES = pool_engines()


def peaks_bar(engine: EngineProfile, seed: int) -> list[float]:
    """Gauge peaks of every cylinder and settled cycle of a healthy engine, cranked with an open throttle."""
    run = run_engine(engine, clear_flood_cranking(3.2), seed)
    settled = run.times_s > 1.5
    cycle = np.floor(run.angles_deg[settled] / 720.0)
    return [
        float(pressure[settled][cycle == number].max() - 101_325.0) / 1e5
        for pressure in run.cylinders_pa.values()
        for number in np.unique(cycle)[1:-1]
    ]


@pytest.mark.parametrize("name", ENGINES)
def test_healthy_cylinders_press_within_the_stated_range(name: str) -> None:
    engine = pool_engine(name)
    assert engine.cranking_pressure_bar is not None
    low, high = engine.cranking_pressure_bar
    found = [peak for seed in (21, 22) for peak in peaks_bar(engine, seed)]
    assert low < min(found)
    assert max(found) < high
    assert high / low < 1.4, "so wide a range says nothing about a cylinder"


@pytest.mark.parametrize("name", ENGINES)
def test_valves_open_and_close_where_the_profile_says(name: str) -> None:
    """The lobe that the bench grinds stands at the stated lift at both stated angles."""
    timing = pool_engine(name).valve_timing
    assert timing is not None
    for opens, closes in (
        (timing.exhaust_open_deg, timing.exhaust_close_deg),
        (timing.intake_open_deg, timing.intake_close_deg),
    ):
        duration = closes - opens
        full = full_duration(duration, timing.lift_mm, PEAK_LIFT_MM)
        for angle in (opens, closes):
            assert lift_mm(angle, opens + duration / 2, full, PEAK_LIFT_MM, 0.0) == pytest.approx(
                timing.lift_mm, abs=0.01
            )


def sprockets_mm(engine: EngineProfile, cam: str) -> tuple[float, float]:
    """Pitch radii of the crank's and a cam's sprocket: as many teeth as pitches pass in one turn of it (geometry)."""
    drive = engine.drive
    assert drive is not None
    assert drive.crank_sprocket_teeth is not None
    assert drive.pitch_mm is not None
    last = drive.pitch_crank_deg.get(cam, [360.0 / drive.crank_sprocket_teeth])[-1]
    around = drive.pitch_mm / (2.0 * math.pi)
    return drive.crank_sprocket_teeth * around, 720.0 / last * around


@pytest.mark.parametrize("name", [n for n in ENGINES if pool_engine(n).drive and pool_engine(n).drive.free_links])
def test_free_links_leave_room_for_the_sprockets_between_them(name: str) -> None:
    """Centres of neighbours lie at least both radii apart, and a free strand between two like sprockets is as long as
    their centres are apart. An overhead cam lies above the piston at top dead centre: rod, half the stroke and 30 mm
    of piston at least (geometry; the 30 mm common practice, no source)."""
    engine = pool_engine(name)
    drive, shape = engine.drive, engine.geometry
    assert drive is not None
    assert drive.pitch_mm is not None
    assert shape is not None
    by_bank: dict[int, list[tuple[float, str]]] = {}
    for cam in engine.cams:
        bank = 0 if drive.type == "belt" else cam.bank
        by_bank.setdefault(bank, []).append((drive.free_links[cam.id] * drive.pitch_mm, cam.id))
    for strand in by_bank.values():
        ordered = sorted(strand)
        crank_r, first_r = sprockets_mm(engine, ordered[0][1])
        overhead = all(cam.shaft != "single" for cam in engine.cams)
        above = shape.rod_mm + shape.stroke_mm / 2 + 30.0 if overhead else 0.0
        assert ordered[0][0] >= max(crank_r + first_r, above)
        for (near, one), (far, other) in itertools.pairwise(ordered):
            assert far - near >= sprockets_mm(engine, one)[1] + sprockets_mm(engine, other)[1], (one, other)


def test_a_spark_moves_with_the_wheel_that_the_control_unit_times_from() -> None:
    """Alone or with its hub: a wheel 12 degrees late makes every spark 12 degrees late."""
    engine = pool_engine("corvane-2.1-four")
    usual = run_engine(engine, clear_flood_cranking(1.5), 3).spark_deg
    for faults in (DriveFaults(crank_hub_deg=12.0), DriveFaults(crank_wheel_deg=12.0)):
        moved = run_engine(engine, clear_flood_cranking(1.5), 3, faults=EngineFaults(drive=faults)).spark_deg
        assert moved == pytest.approx(usual + 12.0)
