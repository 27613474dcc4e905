"""The control unit of the bench: when it fires and injects, and when it will not."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from phasko.bench.channels import spark_times_s
from phasko.bench.faults import DriveFaults, EngineFaults, PhaserFault
from phasko.bench.run import Run, run_engine
from phasko.bench.scenario import clear_flood_cranking, starting
from tests.bench.test_physics import EXACT
from tests.builders import FOUR, pool_engine


def started(drive: DriveFaults | None = None, engine: str = FOUR, throttle: float = 0.0) -> Run:
    scenario = replace(starting(1.8), throttle=throttle)
    return run_engine(pool_engine(engine), scenario, 1, faults=EngineFaults(drive or DriveFaults()), spread=EXACT)


def test_it_waits_for_the_second_turn() -> None:
    run = started()
    first = run.slot_times_s[int(np.argmax(run.sparks))]
    assert 0.3 < first - run.scenario.starter_from_s < 0.7


@pytest.mark.parametrize(
    "drive",
    [
        DriveFaults(jumped_at_crank=1),
        DriveFaults(cam_wheel_deg={"B1I": 14.0}),
        DriveFaults(crank_wheel_deg=-15.0),
        DriveFaults(phasers={"B1I": PhaserFault(park_deg=-25.0, stuck=True)}),
    ],
    ids=["jump", "cam wheel", "crank wheel", "phaser"],
)
def test_out_of_step_signals_get_neither_spark_nor_fuel(drive: DriveFaults) -> None:
    run = started(drive)
    assert not run.sparks.any()
    assert not run.injects.any()
    assert spark_times_s(run, 1).size == 0


@pytest.mark.parametrize("drive", [DriveFaults(crank_hub_deg=15.0), DriveFaults(elongation_percent=0.2)])
def test_what_it_cannot_see_or_tolerates_it_fires_at(drive: DriveFaults) -> None:
    assert started(drive).sparks.any()


def test_pedal_down_is_clear_flood() -> None:
    run = started(throttle=1.0)
    assert run.sparks.any()
    assert not run.injects.any()
    assert run.rpm.max() < 400


def test_cranking_without_fuel_never_starts() -> None:
    run = run_engine(pool_engine(FOUR), clear_flood_cranking(1.8), 1, spread=EXACT)
    assert run.sparks.any()
    assert run.rpm.max() < 400


def test_the_starter_lets_go_of_a_running_engine() -> None:
    run = started()
    assert run.rpm[-1] > 480
    assert run.starter_a[-1] == pytest.approx(0.0, abs=5.0)


def test_a_diesel_has_no_spark_to_see() -> None:
    assert spark_times_s(started(engine="corvane-2.2-diesel"), 1).size == 0
