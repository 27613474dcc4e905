"""Valve corners in the call: what parts a moved signal wheel from moved valves, and when they open the gate."""

from __future__ import annotations

from dataclasses import replace
from functools import cache
from statistics import NormalDist

import pytest

from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.core import numbers
from phasko.core.call.gate import contradicts_from
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.engine.state import EngineState
from phasko.core.engine.state_table import StateTable
from phasko.core.evidence import NUMBER_KINDS, Observable
from tests.builders import FOUR, called, chances, pool_engine, run_recording
from trials.measurements import measure_capture

PITCH = 360.0 / 21
BOTH = (("B1I", PITCH), ("B1E", PITCH))


@cache
def felt(
    slipped: tuple[tuple[str, float], ...] = (),
    wheels: tuple[tuple[str, float], ...] = (),
    crank_deg: float = 0.0,
    hub_deg: float = 0.0,
    cylinders: tuple[int, ...] = (3,),
    lobe: float = 1.0,
) -> CaptureMeasurement:
    drive = DriveFaults(
        slipped_deg=dict(slipped), cam_wheel_deg=dict(wheels), crank_wheel_deg=crank_deg, crank_hub_deg=hub_deg
    )
    faults = EngineFaults(drive, cylinders={3: CylinderFault(exhaust_lobe_share=lobe)})
    probes = [Probe("crank"), Probe("cam", cam="B1I"), Probe("cam", cam="B1E"), Probe("starter_current")]
    probes += [Probe("cylinder_pressure", cylinder=c, range_v=20.0) for c in cylinders]
    recording, _ = run_recording(FOUR, probes, 31, faults=faults, settings=ScopeSettings(rate_hz=25_000.0, bits=12))
    return measure_capture(recording, pool_engine(FOUR))


def test_valves_that_follow_their_signals_open_the_covers() -> None:
    verdict = called(felt(BOTH))
    assert verdict.faults[0].fault in ("chain_jumped", "crank_sprocket_slipped")
    assert verdict.teardown == "go"
    assert "valve corners" in verdict.teardown_because


def test_valves_that_stand_right_accuse_the_signal_wheel() -> None:
    verdict = called(felt((), (("B1I", 15.0),)))
    assert verdict.faults[0].fault == "cam_signal_shifted"
    assert verdict.faults[0].probability > 0.95
    assert verdict.teardown == "no"


def test_a_moved_crank_wheel_leaves_the_corners_alone() -> None:
    verdict = called(felt((), (), 11.0))
    assert verdict.faults[0].fault == "crank_signal_shifted"
    assert verdict.teardown == "no"


def test_a_slipped_hub_moves_pistons_against_wheel_and_valves_alike() -> None:
    verdict = called(felt((), (), 0.0, 13.0))
    assert verdict.faults[0].fault == "crank_hub_slipped"
    assert verdict.faults[0].amount.crank_deg == pytest.approx(13.0, abs=1.5)
    assert verdict.teardown == "go"


def test_one_odd_corner_beside_a_true_signal_is_that_cylinders_own() -> None:
    """A collapsed lobe: the exhaust opens late in one cylinder, its cam's signal is true, the other cylinder too."""
    capture = felt(lobe=0.35, cylinders=(3, 1))
    odd = next(f for f in capture.felt if f.cylinder == 3).exhaust_open
    other = next(f for f in capture.felt if f.cylinder == 1).exhaust_open
    assert odd is not None
    assert other is not None
    assert odd.angle_deg - other.angle_deg > 8.0
    verdict = called(capture)
    assert verdict.faults[0].fault == "valve_train"
    assert verdict.faults[0].where.cylinders == [3]
    assert chances(verdict)["cam_slipped"] < 0.01
    assert verdict.teardown != "go"


def test_one_corner_alone_is_not_enough() -> None:
    """Where only one of a cylinder's corners can be told, it may be that cylinder's own valve train."""
    capture = felt(BOTH)
    alone = replace(capture, felt=(replace(capture.felt[0], exhaust_open=None),))
    verdict = called(alone)
    assert verdict.teardown == "confirm_first"
    assert "One valve corner alone" in verdict.teardown_because


@pytest.mark.parametrize(
    ("state", "late_deg"),
    [
        (EngineState(), 0.0),
        (EngineState(valves_deg={"B1I": 17.0}), 17.0),
        (EngineState(hub_deg=9.0), 9.0),
        (EngineState(sprocket_deg=-12.0), -12.0),
        (EngineState(crank_wheel_deg=9.0), 0.0),
        (EngineState(cam_signals_deg={"B1I": 15.0}), 0.0),
        (EngineState(readings_deg=3.0), 0.0),
        (EngineState(worn_lobes={3: "intake"}), -numbers.WORN_LOBE_DEG.value),
    ],
)
def test_what_each_state_predicts_of_an_intake_that_closes(state: EngineState, late_deg: float) -> None:
    kind = next(k for k in NUMBER_KINDS if k.name == "corners")
    one = Observable("corners", "0:cranking:3:intake", 0.0, 1.0, {}, "", "B1I", cylinder=3)
    assert kind.predict([one], StateTable(pool_engine(FOUR), (state,))).means[0, 0] == late_deg


def test_the_next_test_of_an_odd_corner_watches_that_valve() -> None:
    verdict = called(felt(lobe=0.35, cylinders=(3, 1)))
    assert verdict.teardown == "confirm_first"
    assert verdict.next_test is not None
    assert verdict.next_test.test in ("valve_moves", "borescope")
    assert not verdict.next_test.cranks


def test_the_worst_of_many_values_must_be_further_off_before_it_contradicts() -> None:
    """One value alone from three standard deviations on; fifteen, so that all of them together err as seldom."""
    one, many = contradicts_from(1), contradicts_from(15)
    assert one == pytest.approx(numbers.GATE_CONTRADICTION.value)
    assert 15 * NormalDist().cdf(-many) == pytest.approx(NormalDist().cdf(-one))
    assert 3.5 < many < 4.0
