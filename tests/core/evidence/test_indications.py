"""Faults that leave the timing as it is, in the call: weak cylinders, a whole bank, spark, breathing, drive."""

from __future__ import annotations

from functools import cache

import pytest

from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults, Spread
from phasko.bench.pool import pool_engine
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings, record_run
from phasko.bench.run import run_engine
from phasko.bench.scenario import clear_flood_cranking
from phasko.core.call import call
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.capture.steps import measure_capture
from phasko.core.documents import EngineProfile
from phasko.core.documents.analysis import FaultName, Verdict
from phasko.core.evidence.indications import Disturbance, could_show, disturbances, explains, log_chance
from phasko.core.explanations import FAULTS_IN_TIME, Branch, EngineState, Place
from phasko.core.looks import Look
from phasko.core.signals.recording import Channel, Recording

FOUR, SIX, EIGHT = "corvane-2.1-four", "brimholt-3.2-six", "quayle-5.0-eight"


@cache
def measured(
    name: str, seed: int, cylinders: tuple[tuple[int, CylinderFault], ...] = (), drive: str = "", coil: int = 1
) -> CaptureMeasurement:
    """Crank, two cams of every bank, the clamp and a coil over four and a half seconds of cranking."""
    engine = pool_engine(name)
    drives = {
        "": DriveFaults(),
        "dead bank": DriveFaults(jumped_at_idler={2: 3}),
        "late bank": DriveFaults(slipped_deg={"B2I": 12.0}),
        "jumped": DriveFaults(jumped_at_crank=1),
    }
    faults = EngineFaults(drives[drive], dict(cylinders))
    run = run_engine(engine, clear_flood_cranking(4.5), seed, faults=faults, spread=Spread())
    cams = [Probe("cam", cam=cam.id) for cam in engine.cams][:4]
    probes = [Probe("crank"), *cams, Probe("starter_current"), Probe("coil", cylinder=coil)]
    made = record_run(run, probes, ScopeSettings(rate_hz=50_000.0))
    channels = tuple(Channel(d, made.columns[d.column]) for d in made.description.channels)
    return measure_capture(Recording("bench", made.description, 0.0, made.interval_s, channels), engine)


def called(capture: CaptureMeasurement, profile: EngineProfile | None = None) -> Verdict:
    return call([capture], profile or capture.engine)


@pytest.mark.parametrize(("engine", "cylinder"), [(FOUR, 2), (SIX, 5), (EIGHT, 7)])
def test_one_plug_out_is_called_by_its_cylinder(engine: str, cylinder: int) -> None:
    verdict = called(measured(engine, 501, ((cylinder, CylinderFault(plug="out")),)))
    assert verdict.faults[0].fault == "weak_cylinder"
    assert verdict.faults[0].where.cylinders == [cylinder]
    assert verdict.teardown == "confirm_first"
    assert verdict.next_test is not None
    assert verdict.next_test.test == "leak_down"


def test_one_plug_loose_is_slightly_low_and_named() -> None:
    """A leak of a little over a square millimetre: the cylinder presses, but less than its fellows."""
    capture = measured(FOUR, 502, ((3, CylinderFault(plug="loose")),))
    assert capture.compression is not None
    assert capture.compression.events_per_cycle == 4
    (weak,) = [c for c in capture.compression.cylinders if c.state == "weak"]
    assert weak.cylinder == 3
    assert weak.relative is not None
    assert 0.5 < weak.relative < 0.9
    verdict = called(capture)
    assert verdict.faults[0].fault == "weak_cylinder"
    assert verdict.faults[0].where.cylinders == [3]
    assert "Plug tight" in (verdict.faults[0].hint or "")


def test_a_bank_that_hardly_presses_points_to_its_cams_and_is_never_healthy() -> None:
    capture = measured(SIX, 503, drive="dead bank")
    assert capture.compression is not None
    low = {*capture.compression.dead, *capture.compression.weak}
    assert low == set(capture.engine.whole_bank(2))
    leader = called(capture).faults[0]
    assert leader.fault == "chain_jumped"
    assert leader.where.bank == 2
    assert any("Cylinder" in line and "compression" in line for line in leader.for_)
    assert not any(f.fault == "weak_cylinder" and f.besides for f in called(capture).faults)


def test_a_bank_that_presses_a_little_less_beside_its_late_cam_is_no_further_fault() -> None:
    verdict = called(measured(SIX, 504, drive="late bank"))
    assert not any(f.fault == "weak_cylinder" for f in verdict.faults[:1])
    assert not any(f.fault == "weak_cylinder" and f.besides for f in verdict.faults)


def test_a_dead_cylinder_stands_besides_a_jumped_chain() -> None:
    verdict = called(measured(FOUR, 505, ((4, CylinderFault(plug="out")),), "jumped"))
    assert verdict.faults[0].fault == "chain_jumped"
    (beside,) = [f for f in verdict.faults if f.besides]
    assert beside.fault == "weak_cylinder"
    assert beside.where.cylinders == [4]


def test_spark_outside_its_window_with_cams_in_time() -> None:
    capture = measured(FOUR, 506)
    engine = capture.engine
    assert engine.ignition is not None
    early = engine.ignition.model_copy(update={"cranking_spark_deg": (-40.0, -25.0)})
    again = measure_capture(capture.recording, engine.model_copy(update={"ignition": early}))
    assert again.firings[0].state == "late"
    verdict = called(again)
    assert verdict.faults[0].fault == "ignition_mistimed"
    assert any("too late for the profile's window" in line for line in verdict.faults[0].for_)
    assert verdict.teardown == "no"
    assert verdict.next_test is not None
    assert verdict.next_test.test == "spark_turned"
    assert called(capture).faults[0].fault == "none"


def test_a_wrong_cylinder_named_at_the_coil_is_said_and_names_nobody_wrongly() -> None:
    """The lead hangs on cylinder 1's coil but is said to be cylinder 3's; cams are there, so the dead one is right."""
    honest = measured(FOUR, 507, ((2, CylinderFault(plug="out")),))
    wrong = tuple(
        Channel(c.description.model_copy(update={"cylinder": 3}), c.samples) if c.description.role == "coil" else c
        for c in honest.recording.channels
    )
    description = honest.recording.description.model_copy(update={"channels": [c.description for c in wrong]})
    again = measure_capture(Recording("bench", description, 0.0, honest.recording.interval_s, wrong), honest.engine)
    assert any(p.code == "coil_cylinder" for p in again.problems)
    assert again.compression is not None
    assert again.compression.dead == (2,)


WEAK_3 = Disturbance("weak_cylinder", None, "Cylinder 3 low", (3,), 0.001, intake_cams=("B1I",), lowest=0.85)
ROAD = Disturbance("exhaust_restricted", None, "poor breathing", (), 0.02, ("intake_restricted",), 10.0, "road")
MOVED = Branch(1.0, EngineState(valves_deg={"B1I": 17.0, "B1E": 17.0}), Place("Chain"))
STILL = Branch(1.0, EngineState(), Place(""))


def at(cylinder: int) -> Branch:
    return Branch(1.0, EngineState(), Place(f"Cylinder {cylinder}", None, (), (cylinder,)))


@pytest.mark.parametrize(
    ("fault", "branch", "one", "does"),
    [
        ("weak_cylinder", at(3), WEAK_3, True),
        ("weak_cylinder", at(2), WEAK_3, False),
        ("chain_jumped", MOVED, WEAK_3, True),
        ("none", STILL, WEAK_3, False),
        ("exhaust_restricted", STILL, ROAD, True),
        ("intake_restricted", STILL, ROAD, True),
        ("chain_jumped", MOVED, ROAD, True),
        ("chain_stretched", Branch(1.0, EngineState(valves_deg={"B1I": 4.0}), Place("")), ROAD, False),
        ("valve_train", at(3), Disturbance("valve_train", None, "odd", (3,)), True),
        ("valve_train", at(2), Disturbance("valve_train", None, "odd", (3,)), False),
    ],
)
def test_what_accounts_for_what(fault: FaultName, branch: Branch, one: Disturbance, does: bool) -> None:
    assert explains(fault, branch, one) is does


def test_late_cams_account_for_a_little_less_and_not_for_a_dead_cylinder() -> None:
    dead = Disturbance("weak_cylinder", None, "Cylinder 3 dead", (3,), 0.001, intake_cams=("B1I",), lowest=0.05)
    assert not explains("chain_jumped", MOVED, dead)


def test_what_is_left_unexplained_costs_and_what_should_have_shown_costs_a_little() -> None:
    unexplained = log_chance("none", STILL, [WEAK_3], frozenset())
    explained = log_chance("weak_cylinder", at(3), [WEAK_3], frozenset({"weak_cylinder"}))
    unseen = log_chance("weak_cylinder", at(3), [], frozenset({"weak_cylinder"}))
    assert unexplained < unseen < explained == 0.0
    assert log_chance("weak_cylinder", at(3), [], frozenset()) == 0.0


def test_only_what_was_hooked_up_could_have_shown() -> None:
    capture = measured(FOUR, 506)
    shown = could_show([capture], [])
    assert {"weak_cylinder", "ignition_mistimed", "cam_sensor_fault"} <= shown
    assert "valve_train" not in shown
    assert "exhaust_restricted" not in shown
    assert could_show([], []) == frozenset()


def test_two_captures_of_one_weakness_are_one_witness() -> None:
    capture = measured(FOUR, 501, ((2, CylinderFault(plug="out")),))
    assert len(disturbances([capture, capture], capture.engine)) == 1


def test_every_fault_in_time_has_branches_a_title_and_a_hint() -> None:
    engine = pool_engine(SIX)
    for explanation in FAULTS_IN_TIME:
        branches = explanation.branches(engine)
        assert sum(branch.share for branch in branches) == pytest.approx(1.0)
        assert all(not branch.state.valves_deg for branch in branches)
        assert explanation.title(branches[0].place, None, None)
        assert explanation.hint
        assert not explanation.needs_covers_off


def test_a_diesel_has_no_spark_to_be_mistimed() -> None:
    diesel = pool_engine("corvane-2.2-diesel")
    looks = [Look(question="exhaust_opened", answer="better")]
    verdict = call([], diesel, looks)
    mistimed = [f for f in verdict.faults if f.fault == "ignition_mistimed"]
    assert not mistimed or mistimed[0].probability < 1e-4
