"""From profile and faults to the machine that is integrated: every fault lands where it belongs."""

from __future__ import annotations

import math

import numpy as np
import pytest

from phasko.bench.faults import CylinderFault, EngineFaults, Spread
from phasko.bench.machine import build_machine, intake_and_exhaust_cams, is_diesel, throttle_area_m2
from phasko.bench.physics.inputs import CYLINDER_COLUMNS, Machine
from phasko.bench.pool import pool_engines
from phasko.bench.scenario import Scenario
from tests.bench.test_physics import EXACT
from tests.builders import FOUR, SIX, pool_engine, profile


def built(
    fault: CylinderFault | None = None, engine: str = FOUR, scenario: Scenario | None = None, **faults: float
) -> Machine:
    cylinders = {} if fault is None else {3: fault}
    return build_machine(
        pool_engine(engine),
        EngineFaults(cylinders=cylinders, **faults),  # type: ignore[arg-type]
        scenario or Scenario(3.0),
        EXACT,
        np.random.default_rng(1),
    )


def column(machine: Machine, name: str) -> dict[int, float]:
    """One property by cylinder; rows stand in firing order."""
    values = machine.cylinders[:, CYLINDER_COLUMNS.index(name)].tolist()
    return dict(zip(pool_engine(FOUR).firing_tdc_deg, values, strict=True))


@pytest.mark.parametrize(
    ("fault", "name", "grows"),
    [
        (CylinderFault(ring_leak_mm2=4.0), "ring_leak_m2", True),
        (CylinderFault(intake_leak_mm2=4.0), "intake_leak_m2", True),
        (CylinderFault(exhaust_leak_mm2=4.0), "exhaust_leak_m2", True),
        (CylinderFault(intake_held_mm=0.4), "intake_leak_m2", True),
        (CylinderFault(exhaust_held_mm=0.4), "exhaust_leak_m2", True),
        (CylinderFault(plug="loose"), "plug_leak_m2", True),
        (CylinderFault(intake_lobe_share=0.5), "intake_peak_mm", False),
        (CylinderFault(exhaust_lobe_share=0.5), "exhaust_peak_mm", False),
        (CylinderFault(intake_clearance_mm=0.5), "intake_clearance_mm", True),
        (CylinderFault(exhaust_clearance_mm=0.5), "exhaust_clearance_mm", True),
        (CylinderFault(compression_share=0.8), "clearance_m3", True),
        (CylinderFault(compression_share=1.2), "clearance_m3", False),
        (CylinderFault(intake_blocked_share=0.5), "intake_port", False),
        (CylinderFault(no_fuel=True), "fires", False),
    ],
)
def test_a_cylinder_fault_changes_its_own_property_and_no_other(fault: CylinderFault, name: str, grows: bool) -> None:
    healthy, faulty = column(built(), name), column(built(fault), name)
    assert (faulty[3] > healthy[3]) == grows
    assert faulty[3] != healthy[3]
    assert {c: v for c, v in faulty.items() if c != 3} == {c: v for c, v in healthy.items() if c != 3}
    changed = np.argwhere(built().cylinders != built(fault).cylinders)
    assert len({int(c) for _, c in changed}) == 1


def test_a_plug_out_is_larger_than_a_loose_one() -> None:
    loose, out = (column(built(CylinderFault(plug=p)), "plug_leak_m2")[3] for p in ("loose", "out"))
    assert out > 20 * loose


def test_the_swept_volume_is_the_displacement() -> None:
    machine = built()
    swept = 4 * machine.bore_area * 2 * machine.radius
    assert swept == pytest.approx(pool_engine(FOUR).displacement_l / 1000, rel=0.01)


def test_cold_is_stiffer_and_its_walls_are_cold() -> None:
    hot, cold = built(), built(scenario=Scenario(3.0, temperature="cold"))
    assert cold.friction_nm > 1.3 * hot.friction_nm
    assert cold.wall_k < hot.wall_k


def test_a_blocked_exhaust_narrows_the_tailpipe() -> None:
    assert built(exhaust_blocked_share=0.9).tailpipe_m2 == pytest.approx(0.1 * built().tailpipe_m2)


def test_a_weak_battery_gives_less_through_more() -> None:
    weak = built(battery_weak_share=1.0)
    assert weak.battery_v < built().battery_v
    assert weak.battery_ohm > built().battery_ohm


def test_cylinders_of_a_bank_hang_on_its_cams() -> None:
    intake, exhaust = intake_and_exhaust_cams(pool_engine(SIX))
    bank_of = {c: bank.bank for bank in pool_engine(SIX).banks for c in bank.cylinders}
    assert all(intake[c] == f"B{b}I" and exhaust[c] == f"B{b}E" for c, b in bank_of.items())


def test_a_single_cam_moves_both() -> None:
    intake, exhaust = intake_and_exhaust_cams(pool_engine("brimholt-3.8-odd-six"))
    assert set(intake.values()) == set(exhaust.values()) == {"CAM"}


@pytest.mark.parametrize("name", pool_engines())
def test_only_the_diesel_needs_no_spark(name: str) -> None:
    assert is_diesel(pool_engine(name)) == ("diesel" in name)


def test_the_throttle_opens_steadily() -> None:
    areas = [throttle_area_m2(pool_engine(FOUR), share) for share in (0.0, 0.1, 0.5, 1.0)]
    assert areas == sorted(areas)
    assert areas[0] > 0.0
    assert throttle_area_m2(pool_engine(FOUR), 1.0, blocked_share=0.5) == pytest.approx(areas[-1] / 2)


def test_an_engine_of_which_little_is_known_gets_usual_sizes() -> None:
    machine = build_machine(profile(), EngineFaults(), Scenario(3.0), EXACT, np.random.default_rng(1))
    assert 4 * machine.bore_area * 2 * machine.radius == pytest.approx(2.0e-3, rel=0.02)
    assert math.isfinite(machine.inertia)


def test_healthy_cylinders_differ_by_their_spread_only() -> None:
    spread = Spread(cylinder_share=0.02)
    machine = build_machine(pool_engine(FOUR), EngineFaults(), Scenario(3.0), spread, np.random.default_rng(2))
    clearances = machine.cylinders[:, CYLINDER_COLUMNS.index("clearance_m3")]
    assert 0.0 < np.ptp(clearances) / clearances.mean() < 0.2
