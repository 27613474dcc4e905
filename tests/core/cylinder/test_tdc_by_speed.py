"""Where the pistons stand, told by the crank's own speed: on engines of the bench whose wheel was moved."""

from __future__ import annotations

import numpy as np
import pytest

from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults
from phasko.bench.probe import Probe
from phasko.core.analyse import HashedCapture
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.capture.turn_strip import turn_strip
from phasko.core.cycle.angle_grid import STEPS, CrankingCycles
from phasko.core.cylinder import Cranked, IndexOffset, joined_index, tdc_by_speed
from phasko.core.cylinder.torque_fit import TurnFit
from phasko.core.documents.engine import Wheel
from phasko.core.signals.recording import Recording
from tests.builders import FOUR, SIX, pool_engine, run_recording
from trials.analyses import analyse_job
from trials.measurements import measure_capture


def recorded(engine: str, drive: DriveFaults, clamp: bool = True, dead: int | None = None) -> Recording:
    known = pool_engine(engine)
    probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in known.cams)]
    probes += [Probe("starter_current")] if clamp else []
    cylinders = {} if dead is None else {dead: CylinderFault(plug="out")}
    return run_recording(engine, probes, 311, faults=EngineFaults(drive, cylinders=cylinders))[0]


def measured(engine: str, drive: DriveFaults, clamp: bool = True, dead: int | None = None) -> CaptureMeasurement:
    return measure_capture(recorded(engine, drive, clamp, dead), pool_engine(engine))


WHEELS = [0.0, 14.0, -12.0]


@pytest.mark.parametrize("wheel_deg", WHEELS)
@pytest.mark.parametrize("engine", [FOUR, SIX, "corvane-2.2-diesel", "haverel-2.4-five", "pellowe-1.0-triple"])
def test_the_wheel_is_found_wherever_it_stands(engine: str, wheel_deg: float) -> None:
    index = measured(engine, DriveFaults(crank_wheel_deg=wheel_deg)).index
    assert index is not None
    assert index.source == "speed"
    assert index.offset_deg == pytest.approx(wheel_deg, abs=2.0)
    assert abs(index.offset_deg - wheel_deg) <= 1.3 * index.u95_deg
    assert index.u95_deg <= 3.5


@pytest.mark.parametrize(
    "drive", [DriveFaults(jumped_at_crank=1), DriveFaults(jumped_at_crank=-2), DriveFaults(cam_wheel_deg={"B1I": 20.0})]
)
def test_cams_and_their_signals_do_not_move_it(drive: DriveFaults) -> None:
    index = measured(FOUR, drive).index
    assert index is not None
    assert index.offset_deg == pytest.approx(0.0, abs=1.5)
    assert index.confirms


def test_a_hub_takes_the_wheel_along() -> None:
    index = measured(FOUR, DriveFaults(crank_hub_deg=12.0)).index
    assert index is not None
    assert index.offset_deg == pytest.approx(12.0, abs=1.5)
    assert not index.confirms


def test_without_a_clamp_the_motor_s_own_law_stands_in_and_less_is_known() -> None:
    seen, unseen = (measured(FOUR, DriveFaults(crank_wheel_deg=9.0), clamp).index for clamp in (True, False))
    assert seen is not None
    assert unseen is not None
    assert unseen.u95_deg > seen.u95_deg
    assert unseen.offset_deg == pytest.approx(9.0, abs=2.0)


def test_a_cylinder_without_its_plug_counts_as_it_presses() -> None:
    index = measured(FOUR, DriveFaults(crank_wheel_deg=-8.0), True, 3).index
    assert index is not None
    assert index.offset_deg == pytest.approx(-8.0, abs=2.5)


def test_a_speed_that_swings_otherwise_tells_no_piston() -> None:
    """Waves that no torque of this engine makes; and a crank that turns evenly."""
    engine = pool_engine(FOUR)
    angle = np.radians(np.arange(STEPS) * 720.0 / STEPS)
    edges = np.cumsum(np.full((3, STEPS + 1), 1e-3), axis=1)
    for wave in (np.sin(angle), np.random.default_rng(1).standard_normal(STEPS)):
        cycles = CrankingCycles((), edges, np.tile(21.0 + 2.0 * wave, (3, 1)), 0)
        assert tdc_by_speed(Cranked(cycles, engine, None, 330.0), None) is None


def test_the_result_says_where_it_comes_from_and_the_cams_against_the_pistons() -> None:
    recording = recorded(FOUR, DriveFaults(crank_wheel_deg=14.0))
    result = analyse_job([HashedCapture(recording, "0" * 64)], pool_engine(FOUR), "0" * 64).captures[0]
    assert result.crank is not None
    assert result.crank.index_offset_source == "speed"
    assert result.crank.index_offset_deg == pytest.approx(14.0, abs=1.5)
    cam = result.cams[0]
    assert cam.offset_deg is not None
    assert cam.offset_from_tdc_deg == pytest.approx(cam.offset_deg + result.crank.index_offset_deg)
    assert cam.offset_from_tdc_deg == pytest.approx(0.0, abs=2.0)
    assert cam.offset_from_tdc_u95_deg is not None
    assert cam.total_u95_deg is not None
    assert cam.offset_from_tdc_u95_deg > cam.total_u95_deg
    assert result.finding is not None
    assert "by the crank's own speed the crank wheel stands" in result.finding.detail
    assert "late ±" in result.finding.detail


def test_tdc_lines_are_confirmed_and_stand_where_the_pistons_are() -> None:
    moved, true = (measured(FOUR, DriveFaults(crank_wheel_deg=d)) for d in (14.0, 0.0))
    lines = {line.cylinder: line.deg for line in turn_strip(moved, {}).tdc}
    plain = {line.cylinder: line.deg for line in turn_strip(true, {}).tdc}
    assert turn_strip(true, {}).tdc_confirmed
    assert (lines[3] - plain[3]) % 720.0 == pytest.approx(720.0 - 14.0, abs=1.5)


@pytest.mark.parametrize("wheel_deg", [0.0, 11.0])
def test_a_wheel_of_few_teeth_is_placed_by_the_starters_current(wheel_deg: float) -> None:
    """Three waves per firing of the current, where five teeth a turn do not carry one and a half."""
    known = pool_engine(FOUR)
    few = known.crank.model_copy(update={"wheel": Wheel(teeth_deg=[0.0, 60.0, 90.0, 180.0, 270.0])})
    engine = known.model_copy(update={"crank": few})
    probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in engine.cams), Probe("starter_current")]
    recording, _ = run_recording(engine, probes, 312, faults=EngineFaults(DriveFaults(crank_wheel_deg=wheel_deg)))
    index = measure_capture(recording, engine).index
    assert index is not None
    assert index.source == "current"
    assert abs(index.offset_deg - wheel_deg) <= index.u95_deg
    assert 5.0 < index.u95_deg < 14.0, "a winding's time is not known well, and that is said"


def test_speed_and_current_that_contradict_each_other_are_said() -> None:
    speed, current = IndexOffset(0.5, 2.0, "speed"), IndexOffset(-14.0, 7.0, "current")
    found = joined_index(None, speed, current)
    assert found.value is speed
    assert [problem.code for problem in found.problems] == ["pistons_disagree"]
    assert not joined_index(None, speed, IndexOffset(4.0, 7.0, "current")).problems


def test_a_speed_that_gas_would_have_to_brake_tells_no_piston() -> None:
    assert not TurnFit(turn_deg=3.0, misfit=0.01, gas_share=-2.0, drive_share=0.1).tells
    assert not TurnFit(turn_deg=3.0, misfit=0.5, gas_share=2.0, drive_share=0.1).tells
    assert not TurnFit(turn_deg=60.0, misfit=0.01, gas_share=2.0, drive_share=0.1, at_border=True).tells
    assert TurnFit(turn_deg=3.0, misfit=0.01, gas_share=2.0, drive_share=0.1).tells
