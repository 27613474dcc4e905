"""Disturbed signals in the call: alone they lead, beside a jumped chain they are a further fault."""

import pytest

from phasko.bench import pool_engine
from phasko.bench.faults import DriveFaults, EngineFaults, Spread
from phasko.bench.probe import Probe
from phasko.bench.scenario import clear_flood_cranking
from phasko.bench.sensors.hall import HallFault, HallPickup
from phasko.core.analyse import HashedCapture
from phasko.core.documents import Analysis
from phasko.core.signals.recording import Recording
from tests.builders import FOUR, analysed, probabilities, run_recording
from trials.analyses import analyse_job
from trials.measurements import measure_capture

LOSES = HallPickup(fault=HallFault(dropped_share=0.02))
GAINS = HallPickup(fault=HallFault(added_per_s=4.0))


def recorded(
    crank: HallPickup | None = None, cam: HallPickup | None = None, jumped: int = 0, seed: int = 31
) -> Recording:
    probes = [Probe("crank", hall=crank or HallPickup()), Probe("cam", cam="B1I", hall=cam or HallPickup())]
    probes.append(Probe("cam", cam="B1E"))
    faults = EngineFaults(drive=DriveFaults(jumped_at_crank=jumped))
    return run_recording(FOUR, probes, seed, clear_flood_cranking(5.0), faults)[0]


def call(recording: Recording) -> Analysis:
    return analyse_job([HashedCapture(recording, "0" * 64)], pool_engine(FOUR), "1" * 64)


def test_a_sound_capture_names_no_signal_fault() -> None:
    chances = probabilities(call(recorded()))
    for fault in ("crank_sensor_fault", "cam_sensor_fault", "induced_pulses"):
        assert chances[fault] < 0.04


@pytest.mark.parametrize(
    ("crank", "cam", "fault", "cams"),
    [
        (LOSES, None, "crank_sensor_fault", []),
        (GAINS, None, "induced_pulses", []),
        (None, HallPickup(fault=HallFault(dead_from_s=2.0, dead_to_s=3.2)), "cam_sensor_fault", ["B1I"]),
        (None, HallPickup(fault=HallFault(dead_from_s=0.0)), "cam_sensor_fault", ["B1I"]),
    ],
)
def test_a_disturbed_signal_leads_when_the_timing_is_right(
    crank: HallPickup | None, cam: HallPickup | None, fault: str, cams: list[str]
) -> None:
    verdict = call(recorded(crank, cam)).verdict
    leader = verdict.faults[0]
    assert (leader.fault, leader.where.cams) == (fault, cams)
    assert leader.probability > 0.7
    assert leader.for_
    assert verdict.teardown == "no"
    assert sum(f.probability for f in verdict.faults if not f.besides) == pytest.approx(1.0)


def test_beside_a_jumped_chain_a_losing_sensor_is_a_further_fault() -> None:
    verdict = call(recorded(LOSES, jumped=1)).verdict
    exclusive = [f for f in verdict.faults if not f.besides]
    assert exclusive[0].fault == "chain_jumped"
    assert sum(f.probability for f in exclusive) == pytest.approx(1.0)
    assert [f.fault for f in verdict.faults if f.besides] == ["crank_sensor_fault"]
    assert verdict.teardown == "confirm_first"


def test_a_flat_crank_beside_a_turning_cam_stays_undecided_and_says_why() -> None:
    analysis = call(recorded(HallPickup(fault=HallFault(dead_from_s=0.0))))
    assert not analysis.captures[0].usable
    assert analysis.verdict.undecided
    assert analysis.verdict.faults[0].fault == "crank_sensor_fault"
    assert analysis.verdict.teardown == "no"


def test_a_losing_sensor_does_not_move_the_offset() -> None:
    sound = measure_capture(recorded(), pool_engine(FOUR)).cams
    losing = measure_capture(recorded(LOSES), pool_engine(FOUR)).cams
    for a, b in zip(sound, losing, strict=True):
        assert a.offset is not None
        assert b.offset is not None
        assert b.offset.offset.value == pytest.approx(a.offset.offset.value, abs=max(0.05, b.offset.offset.u95))


@pytest.mark.parametrize(
    ("engine", "seed", "share"), [("quayle-5.0-eight", 2033, 0.87), ("corvane-2.2-diesel", 2063, 0.64)]
)
def test_an_empty_battery_is_no_sensor_fault(engine: str, seed: int, share: float) -> None:
    """At 40 to 60 rpm the crank nearly stands at every compression, and its teeth are miscounted for a while."""
    probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in pool_engine(engine).cams[:3])]
    faults = EngineFaults(battery_weak_share=share)
    recording = run_recording(engine, probes, seed, clear_flood_cranking(4.0), faults, Spread())[0]
    found = analysed(recording, engine=engine)
    assert any(problem.code == "slow_cranking" for problem in found.captures[0].problems)
    assert not {"crank_sensor_fault", "cam_sensor_fault", "induced_pulses"} & {
        fault.fault for fault in found.verdict.faults if fault.probability > 0.2
    }


def test_a_flat_sensor_counts_at_any_speed() -> None:
    flat = HallPickup(fault=HallFault(dead_from_s=-1.0))
    probes = [Probe("crank"), Probe("cam", cam="B1E", hall=flat)]
    faults = EngineFaults(battery_weak_share=0.64)
    recording = run_recording("corvane-2.2-diesel", probes, 2063, clear_flood_cranking(4.0), faults, Spread())[0]
    assert analysed(recording, engine="corvane-2.2-diesel").verdict.faults[0].fault == "cam_sensor_fault"
