"""What displaced valves cost a cylinder, against the trade's figures and the bench's own solution of the flow."""

from __future__ import annotations

from functools import cache

import numpy as np
import pytest

from phasko.bench import pool_engine
from phasko.bench.faults import DriveFaults, EngineFaults, Spread
from phasko.bench.scenario import clear_flood_cranking
from phasko.core.engine.filling import compression_left, cylinder_compression, patterns_at_rest
from tests.builders import FOUR, SIX
from trials.recordings import run_engine

ALIKE = Spread(0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0)


@cache
def bench_peak(intake_late: float, exhaust_late: float) -> float:
    """Gauge peak of the virtual engine, mean over its cylinders, in bar."""
    engine = pool_engine(FOUR)
    shift = {"B1I": intake_late, "B1E": exhaust_late}
    faults = EngineFaults(DriveFaults(slipped_deg=shift))
    run = run_engine(engine, clear_flood_cranking(2.2), 1, faults=faults, spread=ALIKE)
    return float(np.mean([np.sort(p[len(p) // 2 :])[-200:].mean() for p in run.cylinders_pa.values()])) / 1e5 - 1.0


def test_in_time_nothing_is_lost() -> None:
    assert compression_left(pool_engine(FOUR), 0.0, 0.0) == 1.0


def test_one_pitch_late_costs_a_tenth_to_a_sixth_and_two_cost_more() -> None:
    """About -10 to -16 % at one pitch of 18 degrees late, more at two, up to +6 or a little more early (common
    practice, no source)."""
    engine = pool_engine(FOUR)
    assert 0.84 <= compression_left(engine, 17.14, 0.0) <= 0.90
    assert 0.65 <= compression_left(engine, 34.3, 0.0) <= 0.78
    assert 1.03 <= compression_left(engine, -17.14, 0.0) <= 1.11


def test_an_exhaust_cam_a_pitch_out_costs_nothing() -> None:
    assert compression_left(pool_engine(FOUR), 0.0, 17.14) == 1.0
    assert compression_left(pool_engine(FOUR), 0.0, -17.14) == 1.0


@pytest.mark.parametrize(("intake", "exhaust"), [(17.0, 0.0), (34.0, 0.0), (-17.0, 0.0), (17.0, 17.0), (0.0, 34.0)])
def test_the_bench_s_own_cycle_agrees(intake: float, exhaust: float) -> None:
    left = bench_peak(intake, exhaust) / bench_peak(0.0, 0.0)
    assert compression_left(pool_engine(FOUR), intake, exhaust) == pytest.approx(left, abs=0.08)


def test_seven_pitches_late_hardly_compresses() -> None:
    assert compression_left(pool_engine(SIX), 110.0, 0.0) < 0.15
    assert compression_left(pool_engine(SIX), 150.0, 150.0) == 0.0


def test_only_the_displaced_bank_loses() -> None:
    engine = pool_engine(SIX)
    made = cylinder_compression(engine, {"B2I": 34.0, "B2E": 34.0}, {}, {})
    for cylinder in engine.whole_bank(1):
        assert made[cylinder] == 1.0
    for cylinder in engine.whole_bank(2):
        assert made[cylinder] < 0.8


def test_a_shut_intake_valve_compresses_nothing_a_shut_exhaust_valve_does() -> None:
    made = cylinder_compression(pool_engine(FOUR), {}, {2: "intake", 3: "exhaust"}, {4: 0.5})
    assert made == {1: 1.0, 3: 1.0, 4: 0.5, 2: 0.0}


def test_cams_at_rest_shut_a_third_of_the_cylinders_in_neighbouring_phases() -> None:
    """Valves are shut from intake closing to exhaust opening, some 270 of 720 degrees (common practice, no source): of
    four cylinders one or two compress, and never two that fire 360 degrees apart."""
    engine = pool_engine(FOUR)
    patterns = patterns_at_rest(engine)
    assert sum(patterns.values()) == pytest.approx(1.0)
    assert {len(shut) for shut in patterns} == {1, 2}
    assert all(not {1, 4} <= {*shut} and not {2, 3} <= {*shut} for shut in patterns)
    timing = engine.valve_timing
    assert timing is not None
    closed = timing.exhaust_open_deg - (timing.intake_close_deg - 720.0)
    assert sum(len(shut) * share for shut, share in patterns.items()) == pytest.approx(4 * closed / 720.0, abs=0.1)
