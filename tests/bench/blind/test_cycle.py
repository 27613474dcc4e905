"""The quick picture of a car made by hand: as the whole bench has it, and showing what was turned."""

import numpy as np
import pytest

from phasko.bench.blind import ByHand, Nuisances, Sized, cycle_by_hand
from phasko.bench.blind.cycle import Cycle
from phasko.bench.faults import CylinderFault, EngineFaults
from phasko.bench.machine import AMBIENT_PA
from phasko.bench.pool import pool_engine, pool_engines
from phasko.bench.run import run_engine
from phasko.bench.scenario import clear_flood_cranking

EVEN = Nuisances(build_deg=0.0, cylinder_percent=0.0, tooth_deg=0.0, run_out_deg=0.0)


def lane(cycle: Cycle, role: str, cam: str | None = None) -> np.ndarray:
    return next(one.values for one in cycle.lanes if one.role == role and one.cam == cam)


@pytest.mark.parametrize("engine", sorted(pool_engines()))
def test_peaks_agree_with_the_finely_stepped_bench(engine: str) -> None:
    """The bench itself, with a third of the step and from standstill, is the reference: within 2 %."""
    wish = ByHand(engine=engine, fault="weak_cylinder", sized=Sized(size=4.0, cylinder=2), nuisances=EVEN)
    cycle = cycle_by_hand(wish, "cranking")
    faults = EngineFaults(cylinders={2: CylinderFault(ring_leak_mm2=4.0)})
    run = run_engine(pool_engine(engine), clear_flood_cranking(2.6), 1, faults=faults, spread=EVEN.spread)
    late = (run.times_s > 1.2) & (run.times_s < 2.2)
    for cylinder, bar in cycle.peaks_bar.items():
        fine = (float(run.cylinders_pa[cylinder][late].max()) - AMBIENT_PA) / 1e5
        assert bar == pytest.approx(fine, rel=0.02, abs=0.1)


def test_a_cam_that_is_turned_moves_in_its_lane_and_in_its_number() -> None:
    still = cycle_by_hand(ByHand(engine="ostrin-1.4-four", nuisances=EVEN), "cranking")
    cam = pool_engine("ostrin-1.4-four").cams[0].id
    moved = {}
    for size in (-20.0, 20.0):
        wish = ByHand(
            engine="ostrin-1.4-four", fault="cam_slipped", sized=Sized(size=size, cams=(cam,)), nuisances=EVEN
        )
        cycle = cycle_by_hand(wish, "cranking")
        assert cycle.offsets_deg[cam] - still.offsets_deg[cam] == pytest.approx(size, abs=0.2)
        moved[size] = _shift_deg(lane(still, "cam", cam), lane(cycle, "cam", cam))
    assert moved[20.0] == pytest.approx(20.0, abs=2.0)
    assert moved[-20.0] == pytest.approx(-20.0, abs=2.0)


def _shift_deg(before: np.ndarray, after: np.ndarray) -> float:
    """By how much one lane lies later than the other: the best agreement round the cycle."""
    a, b = before[:-1] - before.mean(), after[:-1] - after.mean()
    agreement = np.fft.irfft(np.conj(np.fft.rfft(a)) * np.fft.rfft(b), a.size)
    best = int(np.argmax(agreement))
    step = 720.0 / a.size
    return (best if best < a.size / 2 else best - a.size) * step


def test_a_wheel_that_is_turned_moves_the_crank_lane_and_no_valve() -> None:
    engine = "ostrin-1.4-four"
    still = cycle_by_hand(ByHand(engine=engine, nuisances=EVEN), "cranking")
    wish = ByHand(engine=engine, fault="crank_signal_shifted", sized=Sized(size=18.0), nuisances=EVEN)
    cycle = cycle_by_hand(wish, "cranking")
    assert _shift_deg(lane(still, "crank"), lane(cycle, "crank")) % 360.0 == pytest.approx(18.0, abs=1.0)
    assert cycle.valves_deg == pytest.approx(still.valves_deg, abs=0.2)
    assert all(cycle.offsets_deg[cam] - deg == pytest.approx(-18.0, abs=0.2) for cam, deg in still.offsets_deg.items())


def test_noise_comes_over_the_same_run() -> None:
    quiet = cycle_by_hand(ByHand(engine="ostrin-1.4-four", nuisances=EVEN), "cranking")
    loud = cycle_by_hand(
        ByHand(engine="ostrin-1.4-four", nuisances=EVEN.model_copy(update={"noise_v": 0.4, "hum_v": 1.5})), "cranking"
    )
    assert loud.peaks_bar == quiet.peaks_bar
    assert np.std(lane(loud, "crank") - lane(quiet, "crank")) > 0.8
    assert np.array_equal(lane(loud, "speed"), lane(quiet, "speed"))


@pytest.mark.parametrize(
    "engine",
    ["pellowe-1.0-triple", "ostrin-1.4-four", "haverel-2.4-five", "tarrant-3.0-straight-six", "quayle-5.0-eight"],
)
def test_a_cycle_has_a_hump_of_current_for_every_cylinder(engine: str) -> None:
    """Common practice, no source."""
    current = lane(cycle_by_hand(ByHand(engine=engine, nuisances=EVEN), "cranking"), "starter_current")
    assert _humps(current) == pool_engine(engine).cylinders


def _humps(current: np.ndarray) -> int:
    """Its strongest whole number of waves over the cycle."""
    return int(np.argmax(np.abs(np.fft.rfft(current[:-1] - current.mean()))[1:16])) + 1


@pytest.mark.parametrize("engine", ["ostrin-1.4-four", "corvane-2.2-diesel", "quayle-5.0-eight"])
def test_at_idle_it_runs_and_an_engine_out_of_step_does_not(engine: str) -> None:
    idle = cycle_by_hand(ByHand(engine=engine), "idle")
    assert idle.turns
    assert 700.0 < idle.rpm < 950.0
    cams = tuple(cam.id for cam in pool_engine(engine).cams)
    out = ByHand(engine=engine, fault="chain_jumped", sized=Sized(size=4, cams=cams))
    stalled = cycle_by_hand(out, "idle")
    assert not stalled.turns
    assert stalled.lanes == ()


def test_a_lost_signal_rests() -> None:
    cam = pool_engine("ostrin-1.4-four").cams[0].id
    wish = ByHand(engine="ostrin-1.4-four", fault="cam_sensor_fault", sized=Sized(cams=(cam,), signal="lost"))
    assert np.ptp(lane(cycle_by_hand(wish, "cranking"), "cam", cam)) < 0.2
