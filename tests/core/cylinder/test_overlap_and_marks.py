"""Corners about the overlap, corners set by hand, why a low peak is low, and what open valves say of the ways."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cache

import numpy as np
import pytest

from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.cylinder import FeltCylinder
from phasko.core.cylinder.cranked_torque import OWN_DEG, cranked_torque
from phasko.core.cylinder.least_squares import Known, fitted
from phasko.core.cylinder.pressure_trace import trace_between
from phasko.core.documents.capture import HandCorner
from phasko.core.evidence.breathing_words import ManifoldPressure
from phasko.core.evidence.observable import JobEvidence
from phasko.core.signals.recording import Recording
from tests.builders import FOUR, analysed, pool_engine, run_recording
from trials.measurements import measure_capture

pytestmark = pytest.mark.exhaustive

TIMING = pool_engine(FOUR).valve_timing
assert TIMING is not None
DIESEL = "corvane-2.2-diesel"


@dataclass(frozen=True)
class Case:
    """What is wrong with the engine whose cylinder 3 is felt."""

    slipped: tuple[tuple[str, float], ...] = ()
    leak_mm2: float = 0.0
    compression: float = 1.0
    exhaust_blocked: float = 0.0
    name: str = FOUR


@cache
def recorded(case: Case) -> Recording:
    faults = EngineFaults(
        DriveFaults(slipped_deg=dict(case.slipped)),
        cylinders={3: CylinderFault(ring_leak_mm2=case.leak_mm2, compression_share=case.compression)},
        exhaust_blocked_share=case.exhaust_blocked,
    )
    cams = [Probe("cam", cam=cam.id) for cam in pool_engine(case.name).cams]
    high = 20.0 if case.name == FOUR else 60.0
    probes = [Probe("crank"), *cams, Probe("cylinder_pressure", cylinder=3, range_v=high)]
    settings = ScopeSettings(rate_hz=25_000.0, bits=14)
    return run_recording(case.name, probes, 77, faults=faults, settings=settings)[0]


@cache
def measured(case: Case = Case()) -> CaptureMeasurement:
    return measure_capture(recorded(case), pool_engine(case.name))


def one_felt(capture: CaptureMeasurement) -> FeltCylinder:
    assert len(capture.felt) == 1
    return capture.felt[0]


def test_valves_that_are_both_shut_between_the_strokes_show_where_the_exhaust_closes() -> None:
    one = one_felt(measured(Case((("B1E", -30.0), ("B1I", 25.0)))))
    assert one.squeezed_bar is not None
    assert one.squeezed_bar > 0.1
    closes = one.exhaust_close
    assert closes is not None
    assert closes.angle_deg == pytest.approx(TIMING.exhaust_close_deg - 30.0, abs=2.0)
    assert abs(closes.angle_deg - TIMING.exhaust_close_deg + 30.0) < closes.u95_deg < 6.0


def test_valves_in_time_overlap_and_show_neither_end() -> None:
    one = one_felt(measured())
    assert one.exhaust_open is not None
    assert (one.exhaust_close, one.intake_open) == (None, None)
    assert (one.squeezed_bar or 0.0) < 0.03


def test_an_intake_that_closes_before_bottom_dead_centre_is_still_seen() -> None:
    engine = pool_engine(DIESEL)
    timing = engine.valve_timing
    assert timing is not None
    one = one_felt(measured(Case((("B1E", -34.0),), name=DIESEL)))
    assert one.intake_close is not None
    off = one.intake_close.angle_deg - timing.intake_close_deg
    assert off + one.intake_close.u95_deg < -10.0
    assert abs(off + 34.0) <= one.intake_close.u95_deg


def test_a_leak_is_told_from_a_cylinder_that_is_tight_and_squeezes_less() -> None:
    cases = Case(), Case(leak_mm2=3.0), Case(compression=0.7)
    sound, leaks, short = (one_felt(measured(case)) for case in cases)
    assert sound.lost_by is None
    assert leaks.lost_by == "leak"
    assert short.lost_by == "clearance"
    assert leaks.line is not None
    assert sound.line is not None
    assert leaks.line.leak_mm2 - sound.line.leak_mm2 == pytest.approx(3.0, abs=0.4)
    assert short.line is not None
    assert short.line.leak_mm2 < 2.0 * sound.line.leak_mm2


def marked(*marks: HandCorner) -> CaptureMeasurement:
    recording = recorded(Case((("B1I", 17.0),)))
    about = recording.description.model_copy(update={"hand_corners": list(marks)})
    return measure_capture(replace(recording, description=about), pool_engine(FOUR))


def test_a_corner_set_by_hand_counts_instead_of_the_found_one_and_says_so() -> None:
    mark = HandCorner(cylinder=3, valve="intake", end="closes", angle_deg=612.5)
    one = one_felt(marked(mark))
    assert one.intake_close is not None
    assert one.intake_close.by_hand
    assert one.intake_close.angle_deg == 612.5
    assert one.intake_close.u95_deg > 5.0, "an eye sets it less well"
    assert one.exhaust_open is not None
    assert not one.exhaust_open.by_hand
    result = analysed(marked(mark).recording).captures[0].cylinder_pressure[0]
    assert result.by_hand == ["intake_close"]
    assert result.intake_close_deg == 612.5


def test_a_mark_of_another_cylinder_or_state_changes_nothing() -> None:
    here = HandCorner(cylinder=3, valve="intake", end="closes", angle_deg=612.5)
    others = [here.model_copy(update={"cylinder": 1}), here.model_copy(update={"segment": "running"})]
    one = one_felt(marked(*others))
    assert one.intake_close is not None
    assert not one.intake_close.by_hand


def test_pulses_in_a_blocked_exhaust_lift_the_exhaust_stroke() -> None:
    blocked_capture = measured(Case(exhaust_blocked=0.97))
    free, blocked = one_felt(measured()), one_felt(blocked_capture)
    assert free.exhaust_top_bar is not None
    assert blocked.exhaust_top_bar is not None
    assert free.exhaust_top_bar < 0.01
    assert blocked.exhaust_top_bar > free.exhaust_top_bar + 0.03
    told = ManifoldPressure().observe(JobEvidence(profile=blocked_capture.engine, captures=(blocked_capture,))).words
    assert any(word.answer == "back_pressure" and "felt in cylinder 3" in word.words for word in told)


def test_gas_takes_more_work_than_it_gives_back_the_more_it_leaks() -> None:
    """A leak takes work on the way up that nothing gives back: the torque's mean falls below zero with the leak."""
    torque = cranked_torque(pool_engine(FOUR), np.full(OWN_DEG.size, 200.0), 330.0, (0.0, 0.0))
    assert torque.left[0] == pytest.approx(1.0)
    assert np.all(np.diff(torque.left) < 0.0)
    work = np.array([torque.at(share).mean() for share in (1.0, 0.7, 0.4)])
    assert np.all(np.diff(work) < 0.0)
    assert work[0] < 0.0


def test_the_folded_torque_changes_its_sign_a_loss_angle_before_the_piston_turns() -> None:
    found = measured().speed_tdc
    assert found is not None
    changes = found.torque.changes_deg
    assert changes is not None
    assert -4.0 < changes + found.index_offset_deg < -0.3, "one to three degrees (common practice, no source)"
    inner = np.abs(found.torque.about_deg) < 60.0
    assert np.corrcoef(found.torque.measured_nm[inner], found.torque.model_nm[inner])[0, 1] > 0.99


@pytest.mark.parametrize("late", [0.0, 17.0])
@pytest.mark.parametrize("name", ["brimholt-3.2-six", "pellowe-1.0-triple"])
def test_without_a_crank_signal_peaks_pace_the_corners(name: str, late: float) -> None:
    engine = pool_engine(name)
    timing = engine.valve_timing
    assert timing is not None
    drive = DriveFaults(slipped_deg={cam.id: late for cam in engine.cams})
    probe = Probe("cylinder_pressure", cylinder=3, range_v=20.0)
    settings = ScopeSettings(rate_hz=25_000.0, bits=12)
    recording, _ = run_recording(name, [probe], 5, faults=EngineFaults(drive), settings=settings)
    capture = measure_capture(recording, engine)
    assert "no_crank_channel" in {problem.code for problem in capture.problems}
    assert capture.index is None, "of the crank wheel nothing is said"
    one = one_felt(capture)
    for corner, usual in (
        (one.exhaust_open, timing.exhaust_open_deg),
        (one.intake_close, timing.intake_close_deg),
    ):
        assert corner is not None
        assert abs(corner.angle_deg - usual - late) <= corner.u95_deg
        assert corner.u95_deg > 4.5, "a pace by peaks is worse than teeth"


def test_a_model_that_leads_to_no_numbers_fits_nothing_and_raises_nothing() -> None:
    known = Known(np.zeros(1), np.ones(1), np.ones(1), np.ones(1), np.full(1, -np.inf))
    found = fitted(lambda sets: np.full((3, len(sets)), np.nan), np.zeros(3), np.ones(3), known)
    assert found.misfit == np.inf
    assert found.sd(0) == np.inf


def test_a_cycle_that_reaches_beyond_the_counted_teeth_is_left_out() -> None:
    recording = recorded(Case())
    channel = recording.with_role("cylinder_pressure")[0]
    whole = 1.0 + np.linspace(0.0, 0.6, 721)
    stands = np.minimum(whole + 0.6, 2.0)
    made = trace_between(channel, recording, np.array([whole, stands]), 0.0)
    assert made is not None
    assert made.at_s.tolist() == pytest.approx([1.3])
    assert np.isfinite(made.cycle_rpm).all()
