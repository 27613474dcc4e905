"""Cases in which a call was once wrong in ways that a technician would laugh at, each as facts about the engine."""

from __future__ import annotations

from functools import cache

import numpy as np
import pytest

from phasko.bench import Shift
from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults
from phasko.bench.probe import Probe
from phasko.bench.scenario import clear_flood_cranking, starting
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents import EngineProfile
from phasko.core.documents.analysis import Verdict
from phasko.core.evidence import JobEvidence, observe_all
from phasko.core.signals.recording import Channel, Recording
from tests.builders import FOUR, SIX, bench_recording, called, chances, pool_engine, run_recording, saw
from trials.measurements import measure_capture

PITCH = 360.0 / 21
SIX_PITCH = 360.0 / 23


def captured(shift: Shift, engine: str | EngineProfile = FOUR, seed: int = 140, **about: object) -> CaptureMeasurement:
    known = pool_engine(engine) if isinstance(engine, str) else engine
    return measure_capture(bench_recording(known, seed, shift, **about), known)  # type: ignore[arg-type]


def replaced(recording: Recording, **signals: np.ndarray) -> Recording:
    """The same recording with the samples of some cams replaced."""
    channels = tuple(
        Channel(c.description, signals.get(c.description.cam or c.description.role, c.samples))
        for c in recording.channels
    )
    return Recording(recording.file, recording.description, 0.0, recording.interval_s, channels)


@cache
def seven_pitches() -> Verdict:
    """A vee six whose bank 2 intake cam stands seven pitches late: that bank hardly compresses."""
    probes = [Probe("crank"), *(Probe("cam", cam=c) for c in ("B1I", "B1E", "B2I", "B2E")), Probe("starter_current")]
    faults = EngineFaults(DriveFaults(slipped_deg={"B2I": 7 * SIX_PITCH}))
    recording, _ = run_recording(SIX, probes, 11, clear_flood_cranking(4.0), faults)
    return called(measure_capture(recording, pool_engine(SIX)), engine=SIX)


def test_a_cam_seven_pitches_late_on_a_bank_that_hardly_compresses_is_its_drive() -> None:
    verdict = seven_pitches()
    leader = verdict.faults[0]
    assert leader.fault in ("chain_jumped", "cam_slipped")
    assert "B2I" in leader.where.cams
    assert verdict.teardown == "confirm_first"
    assert chances(verdict)["something_else"] < 0.05
    assert "stop_cranking" in verdict.cautions
    assert not any(f.fault == "weak_cylinder" and f.besides for f in verdict.faults)


@cache
def broken_belt() -> CaptureMeasurement:
    """Flat cams on a belt engine whose crank turns, some cylinders without compression, the spark as it should be."""
    engine = pool_engine("pellowe-1.0-triple")
    probes = [
        Probe("crank"),
        Probe("cam", cam="B1I"),
        Probe("cam", cam="B1E"),
        Probe("starter_current"),
        Probe("coil", cylinder=1),
    ]
    faults = EngineFaults(cylinders={c: CylinderFault(intake_held_mm=4.0) for c in (2, 3)})
    recording, _ = run_recording(engine, probes, 12, clear_flood_cranking(4.0), faults)
    size = recording.channels[0].samples.size
    flat = (4.9 + 0.01 * np.random.default_rng(3).standard_normal(size)).astype(np.float32)
    return measure_capture(replaced(recording, B1I=flat, B1E=flat), engine)


def test_a_belt_that_broke_is_no_cam_sensor() -> None:
    verdict = called(broken_belt(), engine="pellowe-1.0-triple")
    assert verdict.faults[0].fault == "drive_broken"
    assert "stop_cranking" in verdict.cautions
    assert verdict.next_test is not None
    assert verdict.next_test.test != "wiggle"
    assert not verdict.next_test.cranks


def test_one_flat_cam_of_two_is_its_sensor() -> None:
    recording = bench_recording(FOUR, 141, Shift())
    flat = np.full(recording.channels[0].samples.size, 4.9, dtype=np.float32)
    verdict = called(measure_capture(replaced(recording, B1I=flat), pool_engine(FOUR)))
    assert verdict.faults[0].fault == "cam_sensor_fault"
    assert verdict.faults[0].where.cams == ["B1I"]
    assert verdict.teardown == "no"


def test_marks_seen_out_are_not_waved_away() -> None:
    verdict = called(looks=[saw("marks", "out")])
    behind = sum(
        f.probability
        for f in verdict.faults
        if f.fault in ("chain_jumped", "cam_slipped", "crank_sprocket_slipped", "drive_broken", "chain_stretched")
    )
    assert behind > 0.6
    assert verdict.teardown == "confirm_first"


def test_a_cam_late_against_the_other_bank_is_a_measurement() -> None:
    """Without an index nothing but bank against bank is known, and that is never “nothing has been measured”."""
    known = pool_engine(SIX)
    crank = known.crank.model_copy(update={"index_deg": None})
    adrift = known.model_copy(update={"crank": crank})
    capture = captured(Shift({"B2I": 16.0, "B2E": 16.0}), adrift)
    verdict = called(capture, engine=adrift)
    assert verdict.measured
    assert chances(verdict)["none"] < 0.1
    assert verdict.teardown == "confirm_first"
    assert any("against the" in line for line in verdict.faults[0].for_)


def test_an_offset_known_only_modulo_a_pitch_is_evidence() -> None:
    """A distributor engine with eight even teeth: the cam's edge stands 17 degrees off between teeth 45 apart."""
    known = pool_engine("ostrin-1.6-distributor").model_dump(by_alias=True, exclude_none=True)
    known["crank"] = {**known["crank"], "wheel": {"slots": 8, "missing": []}, "tooth_deg": 20.0}
    even = EngineProfile.model_validate(known)
    late, right = (called(captured(Shift({"CAM": by}), even), engine=even) for by in (17.0, 0.0))
    assert chances(late)["none"] < 0.05
    assert late.faults[0].fault in ("sync_misadjusted", "cam_slipped", "crank_signal_shifted")
    assert chances(late)["sync_misadjusted"] > 0.2
    assert right.faults[0].fault == "none"


def test_two_captures_half_a_repeat_off_do_not_contradict_each_other() -> None:
    """Eight even teeth: a cam 22.5 degrees off is read 22.4 late in one capture and 22.4 early in the next."""
    known = pool_engine("ostrin-1.6-distributor").model_dump(by_alias=True, exclude_none=True)
    known["crank"] = {**known["crank"], "wheel": {"slots": 8, "missing": []}, "tooth_deg": 20.0}
    even = EngineProfile.model_validate(known)
    captures = [captured(Shift({"CAM": by}), even, seed) for by, seed in ((22.4, 140), (22.6, 141))]
    told = [reading.offset.offset.value for capture in captures for reading in capture.cams if reading.offset]
    assert told[0] * told[1] < 0
    phases = [one for one in observe_all(JobEvidence(even, captures)).numbers if one.kind == "cam_phase"]
    assert phases[0].value == pytest.approx(phases[1].value, abs=0.5)
    assert "contradicts" not in called(*captures, engine=even, looks=[saw("marks", "out")]).teardown_because


def test_a_cam_moved_by_a_pitch_has_lost_and_gained_no_pulse() -> None:
    for by in (PITCH, -PITCH, 2 * PITCH):
        verdict = called(captured(Shift({"B1I": by, "B1E": by})))
        for sensor in ("cam_sensor_fault", "crank_sensor_fault", "induced_pulses"):
            assert chances(verdict)[sensor] < 0.01
        assert not any(f.besides for f in verdict.faults)


@pytest.mark.parametrize(("intake", "exhaust"), [(2.8, 2.0), (3.0, 2.2), (2.4, 1.7)])
def test_wear_within_the_limit_is_no_fault(intake: float, exhaust: float) -> None:
    verdict = called(captured(Shift({"B1I": intake, "B1E": exhaust})))
    assert verdict.faults[0].fault == "none"
    assert verdict.teardown == "no"
    maker = next(school for school in verdict.schools if school.school == "maker")
    assert maker.beyond is False
    assert "within it" in maker.words
    mark = next(school for school in verdict.schools if school.school == "mark")
    assert "at the mark" in mark.words


def test_only_a_code_about_timing_counts_for_the_school_of_codes() -> None:
    def told(code: str) -> bool | None:
        codes = [{"code": code, "status": "stored"}]
        return next(s for s in called(captured(Shift()), codes=codes).schools if s.school == "codes").beyond

    assert told("P0016") is True
    assert told("P0303") is None


def test_a_tighter_limit_of_the_job_makes_the_same_wear_a_fault() -> None:
    worn = captured(Shift({"B1I": 4.4, "B1E": 3.1}))
    own, tighter = called(worn), called(worn, limit={"school": "maker", "cam_deg": 2.0})
    assert chances(tighter)["chain_stretched"] > 2 * chances(own)["chain_stretched"]


def test_a_healthy_pushrod_six_with_eighteen_even_teeth_is_left_alone() -> None:
    """Little evidence: the gate follows what was measured and what is usual, not what is conceivable."""
    known = pool_engine("brimholt-3.8-odd-six").model_dump(by_alias=True, exclude_none=True)
    known["crank"] = {**known["crank"], "wheel": {"slots": 18, "missing": []}, "tooth_deg": 8.0}
    even = EngineProfile.model_validate(known)
    verdict = called(captured(Shift(), even), engine=even)
    assert verdict.faults[0].fault == "none"
    assert verdict.teardown == "no"


def test_a_capture_of_cranking_start_and_idle_with_active_phasers_is_healthy_by_its_cranking() -> None:
    probes = [Probe("crank"), Probe("cam", cam="B1I"), Probe("cam", cam="B1E")]
    recording, _ = run_recording(FOUR, probes, 14, starting(4.0))
    about = recording.description.model_copy(update={"phasers": "active", "condition": "mixed"})
    whole = Recording(recording.file, about, 0.0, recording.interval_s, recording.channels)
    verdict = called(measure_capture(whole, pool_engine(FOUR)))
    assert verdict.faults[0].fault == "none"
    assert verdict.teardown == "no"


def test_late_hot_and_right_cold_is_a_tensioner_and_no_stretch() -> None:
    """No phaser could do it: the exhaust cam has none, and both are late."""
    late = captured(Shift({"B1I": 11.0, "B1E": 7.8}), temperature="cold")
    right = captured(Shift(), seed=141, temperature="hot")
    verdict = called(late, right)
    assert verdict.faults[0].fault == "tensioner_slack"
    assert chances(verdict)["chain_stretched"] < 0.05
    assert verdict.teardown != "go"


def test_what_stays_in_every_condition_is_elongation() -> None:
    each = [
        captured(Shift({"B1I": 9.6, "B1E": 6.8}), seed=142 + i, temperature=temperature)
        for i, temperature in enumerate(("cold", "hot"))
    ]
    verdict = called(*each)
    assert verdict.faults[0].fault == "chain_stretched"


def test_a_cam_moved_only_while_its_phaser_is_connected_is_its_phaser() -> None:
    known = pool_engine(FOUR)
    driven = captured(Shift({"B1I": -20.0}), phasers="active")
    parked = captured(Shift(), seed=143, phasers="unplugged")
    verdict = called(driven, parked, engine=known)
    assert verdict.faults[0].fault == "phaser_off_park"
    assert verdict.teardown == "no"


def test_a_car_that_behaved_clears_nothing() -> None:
    probes = [Probe("crank"), Probe("cam", cam="B1I"), Probe("cam", cam="B1E")]
    recording, _ = run_recording(FOUR, probes, 15)
    absent = recording.description.model_copy(update={"symptom": "absent"})
    quiet = Recording(recording.file, absent, 0.0, recording.interval_s, recording.channels)
    verdict = called(measure_capture(quiet, pool_engine(FOUR)))
    nothing = called()
    for fault in ("cam_sensor_fault", "crank_sensor_fault"):
        assert chances(verdict)[fault] > 0.6 * chances(nothing)[fault]
    assert any("symptom was absent" in n.reason for n in verdict.not_counted)


def test_a_code_and_the_trace_of_the_same_sensors_are_one_piece_of_evidence() -> None:
    capture = captured(Shift({"B1I": PITCH, "B1E": PITCH}))
    without, beside = called(capture), called(capture, codes=[{"code": "P0016"}, {"code": "P0340"}])
    assert chances(without) == pytest.approx(chances(beside))
    assert {n.text for n in beside.not_counted} >= {"Code P0016", "Code P0340"}
    alone = called(codes=[{"code": "P0016"}])
    assert chances(alone)["chain_jumped"] > 2 * chances(called())["chain_jumped"]


def test_a_reading_of_nine_tenths_of_a_pitch_is_not_headlined_as_one() -> None:
    from phasko.core.capture.headline import phase_finding

    known = pool_engine(FOUR)
    finding = phase_finding(captured(Shift({"B1I": 0.8 * PITCH, "B1E": 0.8 * PITCH})), known)
    assert finding is not None
    assert "one chain pitch" not in finding.text


def test_cams_against_each_other_are_evidence_where_the_index_is_not_known() -> None:
    known = pool_engine(FOUR)
    adrift = known.model_copy(update={"crank": known.crank.model_copy(update={"index_deg": None})})
    verdict = called(captured(Shift({"B1E": 14.0}), adrift), engine=adrift)
    assert verdict.measured
    assert chances(verdict)["none"] < 0.1
    assert any("against the intake cam" in line for fault in verdict.faults for line in [*fault.for_, *fault.against])
    together = called(captured(Shift({"B1I": 14.0, "B1E": 14.0}), adrift), engine=adrift)
    assert together.faults[0].fault == "none", "what is common to all cams cancels"


def test_spark_withheld_accuses_no_sensor_whose_signal_was_measured_whole() -> None:
    verdict = called(captured(Shift()), looks=[saw("spark", "absent"), saw("injector", "absent")])
    assert chances(verdict)["cam_sensor_fault"] < 0.35
    assert verdict.faults[0].fault not in ("cam_sensor_fault", "crank_sensor_fault")


def test_pushing_back_also_fits_a_blocked_exhaust_and_an_intake_valve_that_leaks() -> None:
    before, pushed = (
        called(looks=[saw("oil", "good")]),
        called(looks=[saw("oil", "good"), saw("throttle_hand", "pushes_back")]),
    )
    for fault in ("exhaust_restricted", "weak_cylinder"):
        assert chances(pushed)[fault] > 0.5 * chances(before)[fault], fault
    assert chances(pushed)["cam_signal_shifted"] < 0.2 * chances(before)["cam_signal_shifted"]


def test_an_intake_cam_a_pitch_late_does_not_call_for_a_stop_an_exhaust_cam_does() -> None:
    assert "stop_cranking" not in called(captured(Shift({"B1I": PITCH}))).cautions
    assert "stop_cranking" in called(captured(Shift({"B1E": PITCH}))).cautions
    assert "stop_cranking" in called(captured(Shift({"B1I": -1.3 * PITCH}), phasers="parked")).cautions


def test_the_profile_s_own_clearance_counts() -> None:
    known = pool_engine(FOUR).model_dump(by_alias=True, exclude_none=True)
    roomy = EngineProfile.model_validate({**known, "valve_clearance_deg": {"exhaust_late": 40, "intake_early": 40}})
    assert called(captured(Shift({"B1E": PITCH}), roomy), engine=roomy).cautions == []


def test_a_coil_whose_lead_sits_on_another_one_tells_no_spark_timing() -> None:
    probes = [Probe("crank"), Probe("cam", cam="B1I"), Probe("coil", cylinder=1)]
    recording = run_recording(FOUR, probes, 33)[0]
    named = [
        Channel(
            c.description.model_copy(update={"cylinder": 3}) if c.description.role == "coil" else c.description,
            c.samples,
        )
        for c in recording.channels
    ]
    moved = Recording(recording.file, recording.description, 0.0, recording.interval_s, tuple(named))
    verdict = called(measure_capture(moved, pool_engine(FOUR)))
    assert verdict.faults[0].fault == "none"
    assert any("another coil" in one.reason for one in verdict.not_counted)


def test_an_engine_that_locks_is_not_cranked() -> None:
    assert "stop_cranking" in called(captured(Shift()), looks=[saw("turns_by_hand", "locks")]).cautions


def test_a_second_fault_that_holds_stands_besides() -> None:
    probes = [Probe("crank"), Probe("cam", cam="B1I"), Probe("cam", cam="B1E"), Probe("starter_current")]
    faults = EngineFaults(DriveFaults(jumped_at_crank=1), {4: CylinderFault(plug="out")})
    verdict = called(measure_capture(run_recording(FOUR, probes, 505, faults=faults)[0], pool_engine(FOUR)))
    assert verdict.faults[0].fault == "chain_jumped"
    (beside,) = [f for f in verdict.faults if f.besides]
    assert beside.fault in ("weak_cylinder", "valve_train")
    assert beside.where.cylinders == [4]
    assert beside.probability > 0.5
    assert sum(f.probability for f in verdict.faults if not f.besides) == pytest.approx(1.0)
